<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import Part from './Part.svelte';
  import type { Tricks } from './tricks.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate>; answer: Tricks | null };
  let { bench, record, answer }: Props = $props();
  const roto = $derived(answer?.roto ?? null);
  const plan = $derived(answer?.markers ?? null);
  const markers = $derived(record.draft.markers ?? null);
  const CUTS = [
    { value: 'none', name: 'not at all' },
    { value: 'split', name: 'along a line' },
    { value: 'key', name: 'by a key' },
    { value: 'luma', name: 'by brightness' },
    { value: 'roto', name: 'by hand' },
  ];
  const EDGES = [
    { value: 'hard', name: 'hard' },
    { value: 'soft', name: 'soft or blurred' },
    { value: 'hair', name: 'hair, fur, leaves' },
  ];
  const surfaces = $derived(
    bench.standIns
      .filter((s) => s.draft.kind !== 'figure')
      .map((s) => ({ value: s.id, name: s.draft.name })),
  );
  const change = (part: string, value: unknown, label: string) =>
    bench.change(record, 'markers', { ...(markers ?? FRESH), [part]: value }, label);
  const hex = (rgb: readonly number[] | undefined) =>
    '#' + (rgb ?? [0, 0, 0]).map((v) => v.toString(16).padStart(2, '0')).join('');
  const rgb = (value: string) => [1, 3, 5].map((i) => parseInt(value.slice(i, i + 2), 16));
  const FRESH = {
    surface_id: null,
    insert: false,
    size_mm: 20,
    spacing_m: 0.5,
    colour: [230, 120, 30],
    surface: [128, 128, 128],
  };
</script>

<section class="px-3 py-2" aria-label="Cut out by hand">
  <h2 class="text-lg">Cut out</h2>
  <ChoiceField
    label="It is cut out"
    value={record.draft.cut ?? 'none'}
    options={CUTS}
    disabled={!bench.editable}
    onchange={(value) => bench.change(record, 'cut', value as Plate['cut'], 'How it is cut')}
  />
  {#if record.draft.cut === 'roto'}
    <RecordNumber
      {bench}
      {record}
      field="shapes"
      label="Shapes"
      hint="by what is cut out, unless typed"
      kind="plain"
      nullable
      derived={roto?.shapes}
    />
    <RecordNumber {bench} {record} field="key_every" label="Frames between keys" kind="plain" />
    <ChoiceField
      label="Its edge"
      value={record.draft.edge ?? 'hard'}
      options={EDGES}
      disabled={!bench.editable}
      onchange={(value) => bench.change(record, 'edge', value as Plate['edge'], 'Edge')}
    />
  {/if}
  {#if roto}
    <table class="mt-1 w-full text-sm" data-testid="roto">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Keys</th><th class="text-right font-normal">drawn</th
          ><th class="text-right font-normal">hours</th></tr
        ></thead
      >
      <tbody>
        <tr class="border-line border-t"
          ><td>every {roto.every} frames</td><td class="text-right"
            >{roto.nth_keys * roto.shapes}</td
          ><td class="text-right"
            >{roto.nth.likely.toFixed(1)} h ({roto.nth.low.toFixed(1)} to {roto.nth.high.toFixed(
              1,
            )})</td
          ></tr
        >
        <tr class="border-line border-t"
          ><td>by halving, down to {roto.every}</td><td class="text-right"
            >{roto.bisect_keys * roto.shapes}</td
          ><td class="text-right"
            >{roto.bisect.likely.toFixed(1)} h ({roto.bisect.low.toFixed(1)} to {roto.bisect.high.toFixed(
              1,
            )})</td
          ></tr
        >
        <tr class="border-line border-t"
          ><td>as planned, every {roto.planned_every}</td><td></td><td class="text-right"
            >{roto.planned.likely.toFixed(1)} h ({roto.planned.low.toFixed(1)} to {roto.planned.high.toFixed(
              1,
            )})</td
          ></tr
        >
      </tbody>
    </table>
    <p class="text-soft text-xs">
      {roto.frames} frames; the fastest moves {roto.fastest_px.toFixed(1)} px a frame and blurs over
      {roto.blur_px.toFixed(1)} px; straight ways between keys stay within {roto.allowed_px.toFixed(
        1,
      )} px.
    </p>
  {/if}
</section>

<section class="border-line border-t px-3 py-2" aria-label="Markers">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Markers and cards</h2>
    {#if bench.editable}
      {#if markers}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(record, 'markers', null, 'No markers')}>No markers</button
        >{:else}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(record, 'markers', FRESH, 'Markers')}>Plan markers</button
        >{/if}
    {/if}
  </div>
  <label class="flex items-center gap-2">
    <input
      type="checkbox"
      checked={record.draft.tracked ?? false}
      disabled={!bench.editable}
      onchange={(event) => bench.change(record, 'tracked', event.currentTarget.checked, 'Tracked')}
    />
    Post tracks this plate
  </label>
  {#if markers}
    <ChoiceField
      label="On"
      empty="its largest thing"
      value={markers.surface_id ?? null}
      options={surfaces}
      disabled={!bench.editable}
      onchange={(id) => change('surface_id', id, 'Where the markers are')}
    />
    <label class="flex items-center gap-2">
      <input
        type="checkbox"
        checked={markers.insert ?? false}
        disabled={!bench.editable}
        onchange={(event) => change('insert', event.currentTarget.checked, 'Card to be replaced')}
      />
      A card whose picture is replaced: markers along its edge
    </label>
    <Part {bench} {record} field="markers" part="size_mm" label="Size" kind="mm" />
    {#if !markers.insert}
      <Part {bench} {record} field="markers" part="spacing_m" label="Apart" kind="length" />
    {/if}
    <div class="flex gap-4 py-1">
      {#each [['colour', 'Marker'], ['surface', 'Surface']] as const as [part, label] (part)}
        <label class="flex items-center gap-2"
          >{label}
          <input
            type="color"
            value={hex(markers[part])}
            disabled={!bench.editable}
            onchange={(event) => change(part, rgb(event.currentTarget.value), `${label} colour`)}
          /></label
        >
      {/each}
    </div>
    {#if record.problems.markers}<p role="alert" class="font-semibold">
        {record.problems.markers}
      </p>{/if}
  {:else}
    <p class="text-soft text-sm">
      Markers have to stay 8 pixels or more, and six of them in the picture, through the whole move.
    </p>
  {/if}
  {#if plan}
    <p class="mt-1 text-sm" data-testid="markers">
      <b>{plan.count}</b> on {plan.surface}: {plan.smallest_px.toFixed(1)} to
      {plan.largest_px.toFixed(1)} px; fewest at frame {plan.worst_frame}: {plan.fewest}. Off the
      surface by {plan.apart_lab.toFixed(0)} (best: {plan.best_colour}).
      {#if plan.need_spacing_m}Six are always seen up to {length(plan.need_spacing_m)} apart.{/if}
    </p>
    <ul class="mt-1 list-disc pl-5 text-sm">
      {#each plan.advice as line, i (i)}<li>{line}</li>{/each}
    </ul>
  {/if}
</section>
