<script lang="ts">
  import { say } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import WalkPlan from './WalkPlan.svelte';
  import type { Lapse, SheetDesk } from './desk.svelte';

  let { desk }: { desk: SheetDesk } = $props();
  const bench = $derived(desk.bench);
  const editable = $derived(bench.editable);
  const lapse = $derived(desk.record.draft.lapse ?? null);
  const told = $derived(desk.answer?.lapse ?? null);
  const things = $derived(
    bench.standIns.map((thing) => ({ value: thing.id, name: thing.draft.name })),
  );
  const HELD = [
    { value: 'hand', name: 'by hand' },
    { value: 'marks', name: 'by hand over marks' },
    { value: 'tripod', name: 'on a tripod over marks' },
  ];
  const change = (fields: Partial<Lapse>, rests = true) =>
    desk.lapse({ ...(lapse ?? {}), ...fields } as Lapse, 'Time-lapse', rests);

  function long(value: number) {
    if (value < 90) return say(value, 'seconds');
    const minutes = Math.round(value / 60);
    return minutes < 90 ? `${minutes} min` : `${(value / 3600).toFixed(1)} h`;
  }
  const part = (value: number) => `${(value * 100).toFixed(0)} %`;
</script>

{#snippet number(
  label: string,
  field: keyof Lapse,
  kind: 'seconds' | 'length' | 'plain' | 'shutter',
  hint: string,
)}
  <NumberField
    {label}
    {hint}
    {kind}
    value={(lapse?.[field] as number) ?? null}
    disabled={!editable}
    onlive={(value) => value !== null && change({ [field]: value }, false)}
    oncommit={() => desk.rest()}
  />
{/snippet}

<section class="border-line border-b px-3 py-2" aria-label="Time-lapse">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Time-lapse</h2>
    {#if lapse && editable}<button
        class="text-soft text-sm underline"
        onclick={() => desk.lapse(null, 'No time-lapse')}>Not at intervals</button
      >{/if}
  </div>
  {#if !lapse}
    <p class="text-soft text-sm">
      A plate that is photographed at intervals, from one place or step by step along a path.
    </p>
    {#if editable}<button
        class="btn mt-1"
        onclick={() => desk.lapse(desk.firstLapse(), 'Time-lapse')}
        >Photograph it at intervals</button
      >{/if}
  {:else}
    {@render number('One photograph every', 'interval_s', 'seconds', '')}
    {@render number('Open for', 'exposure_s', 'seconds', 'the exposure')}
    {@render number('Path to the right', 'path_right_m', 'length', 'from the first to the last')}
    {@render number('Path ahead', 'path_ahead_m', 'length', '')}
    <ChoiceField
      label="Aimed at"
      value={lapse.aim_id ?? null}
      options={things}
      empty="as it stands"
      disabled={!editable}
      onchange={(value) => change({ aim_id: value })}
    />
    <ChoiceField
      label="Held"
      value={lapse.held ?? 'tripod'}
      options={HELD}
      disabled={!editable}
      onchange={(value) => change({ held: (value ?? 'tripod') as Lapse['held'] })}
    />
    {@render number('Megabytes a photograph', 'photo_mb', 'plain', '')}
    {@render number('Gigabytes a card', 'card_gb', 'plain', '')}
    {#if told}
      <p class="mt-1">
        <b>{told.photos}</b> photographs in <b>{long(told.lasts_s)}</b>; life runs
        {told.faster.toFixed(0)} times faster. {told.storage_gb.toFixed(1)} GB, {told.cards}
        {told.cards === 1 ? 'card' : 'cards'}.
      </p>
      {#if told.path_m > 0}
        <p>
          Steps of <b>{say(told.step_m, 'length')}</b>, {told.pace_m_min.toFixed(1)} m a minute; the camera
          turns {told.turn_deg.toFixed(2)}° at most from one to the next{#if told.glides_m}; steps
            of up to {say(told.glides_m, 'length')} glide{/if}.
        </p>
        <WalkPlan {desk} {lapse} />
      {/if}
      {#if told.guide.length === 2}
        <p>
          Keep the aim {part(told.guide[0]![0])} from the left and {part(told.guide[0]![1])} from the
          top of the finder, the horizon level.
        </p>
      {/if}
      <p>
        After steadying {part(told.left)} of the picture is left, {told.left_px.toFixed(0)} px across.
      </p>
      {#if told.gone.some((gone) => gone.step_px > 0.005)}
        <table class="mt-1 w-full text-sm">
          <caption class="text-soft text-left text-xs">How far things step, nearest first</caption>
          <tbody>
            {#each told.gone as gone (gone.stand_in_id)}
              <tr class="border-line border-t"
                ><td>{gone.name}</td><td class="text-right">{say(gone.away_m, 'length')}</td><td
                  class="text-right font-semibold">{gone.step_px.toFixed(1)} px</td
                ><td class="text-right">at {gone.photo}</td></tr
              >
            {/each}
          </tbody>
        </table>
      {/if}
      <FindingList findings={told.findings} />
      {#if told.path_m > 0}
        <p class="text-sm">
          <a
            class="underline"
            href="/api/productions/{bench.productionId}/shots/{bench.shotId}/plates/{desk.plateId}/lapse.csv"
            >Marks along the path as CSV</a
          >
        </p>
      {/if}
    {/if}
  {/if}
</section>
