<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { keyed } from '../../lib/ui/keyed';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import CompareTable from './CompareTable.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import { MOST_COMPARED, type Planner, type Wishes } from './planner.svelte';
  import WithoutKit from './WithoutKit.svelte';

  type Props = { bench: OpenShot; planner: Planner; record: SavedRecord<Plate> };
  let { bench, planner, record }: Props = $props();
  const sliders: { key: 'quality' | 'changes' | 'light'; name: string }[] = [
    { key: 'quality', name: 'Picture quality' },
    { key: 'changes', name: 'Fewest changes' },
    { key: 'light', name: 'Least light' },
  ];
  const weights = ['not at all', 'some', 'more', 'most'];
  function wish(change: Partial<Wishes>) {
    planner.wishes = { ...planner.wishes, ...change };
    void planner.search();
  }
  // A drag asks again only when the number rests.
  $effect(() => {
    if (bench.dragging) return;
    bench.question();
    const later = setTimeout(() => {
      void planner.search();
      void planner.compare();
      void planner.without();
    }, 150);
    return () => clearTimeout(later);
  });
  const found = $derived(planner.found);
  const holds = $derived(found?.ways.some((way) => way.verdict !== 'breaks') ?? true);
</script>

<div class="p-3">
  <div class="flex flex-wrap items-end gap-x-5 gap-y-1" role="group" aria-label="What counts">
    {#each sliders as slider (slider.key)}
      <label class="text-sm">
        <span class="text-soft">{slider.name}:</span>
        {weights[planner.wishes[slider.key]]}
        <input
          class="block w-32"
          type="range"
          min="0"
          max="3"
          step="1"
          value={planner.wishes[slider.key]}
          aria-valuetext={weights[planner.wishes[slider.key]]}
          onchange={(event) => wish({ [slider.key]: Number(event.currentTarget.value) })}
        />
      </label>
    {/each}
    <label class="flex min-h-7 items-center gap-1.5 text-sm">
      <input
        type="checkbox"
        checked={planner.wishes.own_only}
        onchange={(event) => wish({ own_only: event.currentTarget.checked })}
      />
      own kit only
    </label>
    <label class="flex min-h-7 items-center gap-1.5 text-sm">
      <input
        type="checkbox"
        checked={planner.wishes.keep_scale}
        onchange={(event) => wish({ keep_scale: event.currentTarget.checked })}
      />
      keep the scale
    </label>
  </div>
  {#if planner.problem}<p role="alert" class="mt-2 font-semibold">{planner.problem}</p>{/if}
  {#if found}
    <p class="text-soft mt-1 text-sm" role="status" data-testid="planner-count">
      {found.candidates.toLocaleString('en')} ways tried against {found.rules.length} rules{#if planner.searching},
        searching again{/if}.
      {#if planner.compared.length === 0 && found.ways.length > 1}Tick “compare” to lay up to
        {MOST_COMPARED} side by side, and over the Frame.{/if}
      {#if found.candidates === 0}Add a body with a recording mode and a lens to the kit.{/if}
    </p>
    {#if planner.compared.length > 0}<CompareTable {bench} {planner} {record} />{/if}
    <div class="mt-2 grid gap-4 2xl:grid-cols-2">
      <ol class="grid gap-2" aria-label="Ways to film it, best first">
        {#each keyed( found.ways, (one) => JSON.stringify(one.changes) ) as { key, one: way }, i (key)}
          {@const now = Object.keys(way.changes).length === 0}
          <li class="border-line border-t pt-1" data-way={i + 1} data-verdict={way.verdict}>
            <div class="flex items-start gap-2">
              <span class="pt-1"><VerdictMark verdict={way.verdict} /></span>
              <div class="min-w-0 grow">
                <b>{way.lens}</b> on {way.body}, {way.mode}
                <p class="text-sm">{way.reasons.join(' ')}</p>
              </div>
              <div class="flex shrink-0 flex-col items-end gap-1">
                {#if bench.editable && !now}
                  <button
                    class="btn tape min-h-7! py-0!"
                    onclick={() => bench.decide(record, way.changes, 'Planner')}>Do this</button
                  >
                {:else if now}
                  <span class="text-soft text-sm">as planned</span>
                {/if}
                <label class="flex items-center gap-1 text-sm">
                  <input
                    type="checkbox"
                    checked={planner.isCompared(way)}
                    onchange={() => void planner.toggle(way)}
                  />
                  compare
                </label>
              </div>
            </div>
          </li>
        {/each}
      </ol>
      <div>
        {#if !holds && found.misses.length > 0}
          <h3>Nothing owned will do as it is. What it would take</h3>
          <ul class="grid gap-1.5" data-testid="misses">
            {#each found.misses as miss, i (i)}
              <li class="border-line border-t pt-1">
                <b>{miss.takes}</b>
                <span class="text-soft text-sm">
                  {miss.by}{miss.by ? '; ' : ''}with {miss.setup}{#if miss.also.length}; and also {miss.also.join(
                      ', ',
                    )}{/if}.</span
                >
                {#if bench.editable && Object.keys(miss.changes).length > 0}
                  <button
                    class="text-sm underline"
                    onclick={() => bench.decide(record, miss.changes, 'Planner')}
                    >Plan the rest so</button
                  >
                {/if}
              </li>
            {/each}
          </ul>
        {/if}
        <WithoutKit {bench} {planner} />
      </div>
    </div>
  {:else if !planner.problem}
    <p class="text-soft mt-2">Searching</p>
  {/if}
</div>
