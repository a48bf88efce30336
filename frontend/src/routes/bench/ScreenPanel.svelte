<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import ScreenMap from '../../lib/drawings/ScreenMap.svelte';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length } from '../../lib/quantities';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import ColourChooser from './ColourChooser.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import RecordingTable from './RecordingTable.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    study: Schemas['Study'] | null;
  };
  let { bench, record, study }: Props = $props();
  /** The panel is made anew for another plate; what it asks may come back after it is gone. */
  // svelte-ignore state_referenced_locally
  const plateId = record.id;
  const screen = $derived(study?.screen ?? null);
  const part = (value: number) => `${(value * 100).toFixed(0)} %`;
  const findings = $derived(
    (bench.answer?.findings ?? []).filter((f) =>
      ['evenness', 'screen-level', 'spill', 'screen-shadow', 'sweep', 'backing', 'cloth'].includes(
        f.key,
      ),
    ),
  );
  let costs = $state.raw<Schemas['Backdrop'][]>([]);
  let problem = $state('');
  $effect(() => {
    if (bench.dragging) return;
    const body = { ...bench.plan(), plate_id: plateId };
    let stale = false;
    ask(() => api.POST('/api/calc/backdrops', { body }))
      .then((found) => {
        if (!stale) costs = found;
      })
      .catch((error: unknown) => {
        if (!(error instanceof Failure)) throw error;
        problem = error.message;
      });
    return () => void (stale = true);
  });
  const most = $derived(Math.max(...costs.map((c) => c.set.high + c.post.high), 1));
  const hours = (h: Schemas['Hours']) => `${h.likely.toFixed(1)} h`;
</script>

<div class="grid gap-4 p-3 lg:grid-cols-2">
  <section aria-label="Light on the screen" class="min-w-0">
    <h3>Light on the screen</h3>
    {#if record.draft.kind !== 'screen'}
      <p class="text-soft text-sm">
        This plate has no screen behind it. Its colours and what a key would cost can be weighed
        here all the same.
      </p>
    {:else if !screen}
      <p class="text-soft text-sm">
        Nothing plays before the screen yet, or its kit is not chosen.
      </p>
    {:else}
      <ScreenMap {screen} />
      <p class="mt-1 text-sm">
        {#if screen.lit}
          Even to <b
            >{screen.lit.spread_stops === null ? '∞' : screen.lit.spread_stops.toFixed(1)}</b
          > stops behind the action.
        {:else}
          No lamp is placed: place two and aim them at the screen.
        {/if}
        Its texture blurs over <b>{screen.blur_px.toFixed(1)} px</b>{screen.blur_px > 6
          ? ': creases vanish.'
          : ': iron it, or open the stop.'}
        It fills {part(screen.covered)} of the frame; the action needs {part(screen.action)}, a
        garbage matte takes the other {part(screen.garbage)}.
      </p>
      <ul class="mt-1 text-sm">
        {#each findings as finding (finding.key)}
          <li class="border-line border-t py-0.5"><b>{finding.title}:</b> {finding.sentence}</li>
        {/each}
      </ul>
    {/if}
  </section>
  <ColourChooser {bench} {record} choices={screen?.choices ?? []} />
  <RecordingTable {record} {screen} />
  <section aria-label="What each way costs" class="min-w-0">
    <h3>Key, roto, or a backdrop that is there</h3>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <table class="w-full text-sm">
      <thead class="text-soft text-xs">
        <tr>
          <th class="text-left font-normal">Way</th>
          <th class="pl-2 text-right font-normal">On set</th>
          <th class="pl-2 text-right font-normal">In post</th>
          <th class="pl-2 text-left font-normal">Both</th>
        </tr>
      </thead>
      <tbody>
        {#each costs as cost (cost.key)}
          {@const all = cost.set.likely + cost.post.likely}
          <tr class="border-line border-t align-top">
            <th scope="row" class="text-left font-normal"
              >{cost.name}<span class="text-soft block text-xs">{cost.remark}</span></th
            >
            <td class="pl-2 text-right whitespace-nowrap">{hours(cost.set)}</td>
            <td class="pl-2 text-right whitespace-nowrap">{hours(cost.post)}</td>
            <td class="w-28 pl-2">
              <span class="flex items-center gap-1.5"
                ><span
                  class="bg-ink block h-2 opacity-60"
                  style:width="{(all / most) * 100}%"
                  title={`${(cost.set.low + cost.post.low).toFixed(1)} to ${(cost.set.high + cost.post.high).toFixed(1)} h`}
                ></span><b class="whitespace-nowrap">{all.toFixed(1)} h</b></span
              >
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="text-soft text-xs">
      For {record.draft.shapes ?? 1} shape{(record.draft.shapes ?? 1) === 1 ? '' : 's'} over the screen
      time, takes included; judgement, see Hours for this production's own pace. Screen {length(
        record.draft.screen_width_m ?? 0,
      )} × {length(record.draft.screen_height_m ?? 0)}.
    </p>
  </section>
</div>
