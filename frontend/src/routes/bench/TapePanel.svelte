<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { length } from '../../lib/quantities';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';

  type Props = { study: Schemas['Study']; workings: Record<string, Schemas['Working']> };
  let { study, workings }: Props = $props();
  type Row = Schemas['Sensitivity'];
  const groups: { advice: Row['advice']; title: string; why: string }[] = [
    {
      advice: 'tape',
      title: 'Tape these',
      why: 'a usual slip uses up half of the tolerance or more',
    },
    { advice: 'care', title: 'Set with care', why: 'a usual slip shows a little' },
    { advice: 'ignore', title: 'Not worth a tape', why: 'a usual slip is not seen' },
  ];
  const longest = $derived(
    Math.max(1e-6, ...study.sensitivities.map((s) => s.fitted_px_per_unit * s.slip)),
  );
  const figure = (value: number) => (value >= 100 ? value.toFixed(0) : value.toPrecision(2));
  const off = (s: Row) =>
    s.allowed === null || !Number.isFinite(s.allowed)
      ? 'any'
      : s.unit === 'cm'
        ? length(s.allowed / 100)
        : `${figure(s.allowed)} ${s.unit}`;
</script>

<div class="p-3">
  <p class="text-soft text-sm">
    What each number does to the picture at this framing, after the best reframe in post.
    <WorkingCard workings={[workings['sensitivities']!]} />
  </p>
  <table class="mt-1 w-full text-sm">
    <thead class="text-soft text-xs">
      <tr>
        <th class="text-left font-normal">Number</th>
        <th class="text-right font-normal">Moves the picture</th>
        <th class="pl-3 text-right font-normal">After the reframe</th>
        <th class="pl-3 text-right font-normal">May be off by</th>
        <th class="w-1/4 pl-3 text-left font-normal">A usual slip costs</th>
      </tr>
    </thead>
    {#each groups as group (group.advice)}
      {@const rows = study.sensitivities.filter((s) => s.advice === group.advice)}
      {#if rows.length > 0}
        <tbody data-advice={group.advice}>
          <tr>
            <th colspan="5" scope="colgroup" class="border-ink border-b pt-2 text-left">
              {group.title} <span class="text-soft font-normal">{group.why}</span>
            </th>
          </tr>
          {#each rows as s (s.key)}
            <tr class="border-line border-b">
              <th scope="row" class="text-left font-normal">{s.name}</th>
              <td class="text-right">{figure(s.px_per_unit)} px/{s.unit}</td>
              <td class="pl-3 text-right">{figure(s.fitted_px_per_unit)} px/{s.unit}</td>
              <td class="pl-3 text-right font-semibold">{off(s)}</td>
              <td class="pl-3">
                <span class="flex items-center gap-1.5">
                  <span
                    class="bg-ink h-2"
                    style:width="{(70 * s.fitted_px_per_unit * s.slip) / longest}%"
                  ></span>
                  <span class="text-xs whitespace-nowrap"
                    >{figure(s.fitted_px_per_unit * s.slip)} px</span
                  >
                </span>
              </td>
            </tr>
          {/each}
        </tbody>
      {/if}
    {/each}
  </table>
</div>
