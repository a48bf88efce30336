<script lang="ts">
  import SkylineDrawing from '../../lib/drawings/SkylineDrawing.svelte';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import { MAINS, PLACE } from './fields';
  import type { Room } from './kit.svelte';
  import SpecNumbers from './SpecNumbers.svelte';

  type Props = { record: SavedRecord<Room>; disabled: boolean };
  let { record, disabled }: Props = $props();
  const draft = $derived(record.draft);
  const horizon = $derived(draft.horizon ?? []);
  const open = $derived((draft.height_m ?? null) === null);
  type Point = { azimuth_deg: number; elevation_deg: number };
  let typed = $state('');
  let problem = $state('');

  function put(points: Point[]) {
    const sorted = [...points].sort((a, b) => a.azimuth_deg - b.azimuth_deg);
    record.set('horizon', sorted);
    void record.commit();
  }
  /** `235 9, 250 24`: azimuth and height, as a compass and a clinometer tell them. */
  function add() {
    const pairs = typed
      .split(/[,;\n]/)
      .map((pair) => pair.trim())
      .filter(Boolean)
      .map((pair) => pair.split(/[\s:]+/).map((n) => Number(n.replace('°', ''))));
    if (
      pairs.length === 0 ||
      pairs.some((p) => p.length !== 2 || !p.every(Number.isFinite) || p[0]! < 0 || p[0]! > 360)
    ) {
      problem = `“${typed}” cannot be read. Write azimuth and height, as in 235 9, 250 24.`;
      return;
    }
    problem = '';
    typed = '';
    put([
      ...horizon,
      ...pairs.map(([azimuth_deg = 0, elevation_deg = 0]) => ({ azimuth_deg, elevation_deg })),
    ]);
  }
</script>

{#if (draft.mains_hz ?? null) !== null}
  <SpecNumbers {record} specs={MAINS} {disabled} />
{/if}
{#if open}
  <SpecNumbers {record} specs={PLACE} {disabled} />
  <TextField
    label="Its clock"
    value={draft.time_zone ?? 'UTC'}
    problem={record.problems['time_zone']}
    {disabled}
    onlive={(value) => record.set('time_zone', value)}
    oncommit={() => void record.commit()}
  />
  <details class="border-line mt-1 border-t pt-1">
    <summary>
      Skyline <span class="text-soft"
        >{horizon.length
          ? `${horizon.length} points, up to ${Math.max(...horizon.map((p) => p.elevation_deg))}°`
          : 'level all round'}</span
      >
    </summary>
    <p class="text-soft text-sm">
      Stand where the stage will be, turn round with a compass and a clinometer, and trace what
      rises: click in the drawing, drag a point, or type the pairs.
    </p>
    <SkylineDrawing points={horizon} editable={!disabled} onchange={put} />
    {#if !disabled}
      <div class="flex items-end gap-2">
        <div class="grow">
          <TextField
            label="Azimuth and height"
            value={typed}
            {problem}
            {disabled}
            onlive={(value) => (typed = value)}
            oncommit={() => {}}
          />
        </div>
        <button class="btn" onclick={add}>Add</button>
        {#if horizon.length}<button class="btn" onclick={() => put([])}>Level again</button>{/if}
      </div>
    {/if}
    {#if record.problems['horizon']}
      <p role="alert" class="font-semibold">{record.problems['horizon']}</p>
    {/if}
  </details>
{/if}
