<script lang="ts">
  import type { Schemas, Verdict } from '../api/client';
  import { pathOf, placedBy } from './geometry';

  export type Shown = {
    id: string;
    name: string;
    picture: Schemas['Picture'];
    whiskers: Schemas['Whisker'][];
    screen: Schemas['PlateAnswer']['screen'];
    match: Verdict;
    /** The best reframe in post; with it the plate is drawn as the compositor would place it. */
    fit?: Schemas['Similarity'] | null;
  };
  type Props = {
    plate: Shown;
    /** Whether it is the plate at hand. */
    on: boolean;
    /** Whether it is drawn in full ink. */
    inked: boolean;
    selectedStandIn: string | null;
    widthPx: number;
    heightPx: number;
    worldHorizon: Schemas['Picture']['horizon'];
    /** Picture pixels per screen pixel. */
    k: number;
    /** How many whiskers say their length. */
    said?: number;
    /** How much of each stand-in the air between has taken, 0..1, by id. Default clear air. */
    air?: Record<string, number>;
    /** Whether its tones tell it already: its lines stand back. */
    quiet?: boolean;
    /** A stroke of its own: for what is laid over for comparing. */
    dash?: string;
  };
  let {
    plate,
    on,
    inked,
    selectedStandIn,
    widthPx,
    heightPx,
    worldHorizon,
    k,
    said = 3,
    air = {},
    quiet = false,
    dash,
  }: Props = $props();
  const colours: Record<Verdict, string> = {
    holds: 'var(--holds)',
    strains: 'var(--strains)',
    breaks: 'var(--breaks)',
  };
  const length = (w: Schemas['Whisker']) =>
    Math.hypot(w.to_x_px - w.from_x_px, w.to_y_px - w.from_y_px);
  const whiskers = $derived(
    plate.fit
      ? plate.whiskers.map((w) => {
          const [x, y] = placedBy(plate.fit!, w.to_x_px, w.to_y_px);
          return { ...w, to_x_px: x, to_y_px: y };
        })
      : plate.whiskers,
  );
  /** The longest departures say how long they are, apart from one another. */
  const longest = $derived.by(() => {
    const chosen: Schemas['Whisker'][] = [];
    for (const w of [...whiskers].sort((a, b) => length(b) - length(a))) {
      if (chosen.length === said || length(w) < 1) break;
      // Beside the picture nobody reads it.
      if (w.to_x_px < 0 || w.to_x_px > widthPx || w.to_y_px < 0 || w.to_y_px > heightPx) continue;
      const clear = chosen.every(
        (c) => Math.abs(c.to_x_px - w.to_x_px) > 60 * k || Math.abs(c.to_y_px - w.to_y_px) > 16 * k,
      );
      if (clear) chosen.push(w);
    }
    return chosen;
  });
  const turn = $derived(
    plate.fit
      ? `translate(${plate.fit.shift_x_px} ${plate.fit.shift_y_px}) rotate(${plate.fit.rotation_deg}) scale(${plate.fit.scale})`
      : undefined,
  );
</script>

<g
  fill="none"
  stroke={inked ? 'var(--ink)' : 'var(--soft)'}
  stroke-dasharray={dash}
  stroke-opacity={quiet ? 0.3 : undefined}
  class={on ? 'thick' : 'middling'}
  transform={turn}
  data-plate={plate.id}
>
  {#each plate.screen as path, i (i)}
    <path d={pathOf(path)} stroke-dasharray="14 6" class="thin" />
  {/each}
  {#each plate.picture.outlines as outline (outline.stand_in_id)}
    <g
      fill={outline.stand_in_id === selectedStandIn ? 'var(--ochre)' : 'var(--ink)'}
      fill-opacity={outline.stand_in_id === selectedStandIn ? 0.22 : quiet ? 0 : 0.035}
      opacity={air[outline.stand_in_id] ? 1 - 0.85 * (air[outline.stand_in_id] ?? 0) : undefined}
    >
      {#each outline.paths as path, i (i)}<path d={pathOf(path)} />{/each}
    </g>
  {/each}
  {#if plate.picture.horizon && worldHorizon && Math.abs((plate.picture.horizon[0] ?? 0) - (worldHorizon[0] ?? 0)) > 1}
    <path
      d="M0 {plate.picture.horizon[0]}L{widthPx} {plate.picture.horizon[1]}"
      stroke-dasharray="10 5"
    />
  {/if}
</g>
<g stroke={colours[plate.match]} fill={colours[plate.match]} class="middling" data-layer="whiskers">
  {#each whiskers as w, i (i)}
    <path d="M{w.from_x_px} {w.from_y_px}L{w.to_x_px} {w.to_y_px}">
      <title>{w.name}: {length(w).toFixed(1)} px</title>
    </path>
    <circle cx={w.to_x_px} cy={w.to_y_px} r={1.8 * k} stroke="none" />
  {/each}
  {#each longest as w (w.name)}
    <text
      x={w.to_x_px + 4 * k}
      y={w.to_y_px - 3 * k}
      font-size={11 * k}
      font-weight="650"
      stroke="var(--card)"
      stroke-width={3 * k}
      paint-order="stroke">{length(w).toFixed(1)} px</text
    >
  {/each}
</g>

<style>
  .thin {
    stroke-width: 1px;
    vector-effect: non-scaling-stroke;
  }
  .middling,
  .middling :global(path) {
    stroke-width: 1.3px;
    vector-effect: non-scaling-stroke;
  }
  .thick :global(path) {
    stroke-width: 2px;
    vector-effect: non-scaling-stroke;
  }
</style>
