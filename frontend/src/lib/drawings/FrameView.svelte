<script lang="ts">
  import type { Schemas, Verdict } from '../api/client';
  import { roundBelow } from '../quantities';
  import { groundMove, pathOf } from './geometry';

  export type FramePlate = {
    id: string;
    name: string;
    picture: Schemas['Picture'];
    whiskers: Schemas['Whisker'][];
    screen: Schemas['PlateAnswer']['screen'];
    match: Verdict;
  };
  type Props = {
    widthPx: number;
    heightPx: number;
    world: Schemas['Picture'];
    plates: FramePlate[];
    grips: Schemas['Grip'][];
    /** Names of stand-ins by id. */
    names: Record<string, string>;
    selectedPlate: string | null;
    selectedStandIn: string | null;
    editable: boolean;
    onselect: (standIn: string) => void;
    /** A stand-in is dragged: metres to the right and away. */
    onmove: (standIn: string, right: number, away: number) => void;
    /** The drag has ended: save. */
    ondrop: (standIn: string) => void;
  };
  let {
    widthPx,
    heightPx,
    world,
    plates,
    grips,
    names,
    selectedPlate,
    selectedStandIn,
    editable,
    onselect,
    onmove,
    ondrop,
  }: Props = $props();

  let shownWidth = $state(740);
  const margin = $derived(Math.round(widthPx * 0.035));
  const box = $derived({ w: widthPx + 2 * margin, h: heightPx + 2 * margin });
  /** Picture pixels per screen pixel: keeps handles and letters one size. */
  const k = $derived(box.w / Math.max(shownWidth, 1));
  const bar = $derived(roundBelow(widthPx / 8));
  const outside = $derived(
    `M${-margin} ${-margin}h${box.w}v${box.h}h${-box.w}zM0 0v${heightPx}h${widthPx}v${-heightPx}z`,
  );
  const whiskerColour: Record<Verdict, string> = {
    holds: 'var(--holds)',
    strains: 'var(--strains)',
    breaks: 'var(--breaks)',
  };

  let drag: { id: string; x: number; y: number } | null = null;
  function hold(event: PointerEvent & { currentTarget: SVGElement }, id: string) {
    onselect(id);
    if (!editable) return;
    drag = { id, x: event.clientX, y: event.clientY };
    event.currentTarget.setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function pull(event: PointerEvent) {
    const grip = drag && grips.find((g) => g.stand_in_id === drag?.id);
    if (!drag || !grip) return;
    const { right, away } = groundMove(
      grip,
      (event.clientX - drag.x) * k,
      (event.clientY - drag.y) * k,
    );
    drag = { id: drag.id, x: event.clientX, y: event.clientY };
    onmove(drag.id, right, away);
  }
  function release() {
    if (drag) ondrop(drag.id);
    drag = null;
  }
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  };
  function key(event: KeyboardEvent, id: string) {
    const arrow = arrows[event.key];
    if (!arrow || !editable) return;
    event.preventDefault();
    const step = event.shiftKey ? 0.5 : 0.05;
    onmove(id, arrow[0] * step, arrow[1] * step);
    ondrop(id);
  }
</script>

<svg
  bind:clientWidth={shownWidth}
  viewBox="{-margin} {-margin} {box.w} {box.h}"
  class="bg-card block h-full w-full"
  role="group"
  aria-label="Frame: outlines of every plate through its own camera"
  data-testid="frame"
>
  <rect x="0" y="0" width={widthPx} height={heightPx} fill="var(--card)" />
  <g fill="none" stroke="var(--soft)" stroke-dasharray="2 4" class="thin" data-layer="world">
    {#if world.horizon}
      <path d="M0 {world.horizon[0]}L{widthPx} {world.horizon[1]}" stroke-dasharray="10 5" />
    {/if}
    {#each world.outlines as outline (outline.stand_in_id)}
      {#each outline.paths as path, i (i)}<path d={pathOf(path)} />{/each}
    {/each}
  </g>
  {#if world.horizon}
    <text
      x={widthPx - 6 * k}
      y={(world.horizon[1] ?? 0) - 4 * k}
      text-anchor="end"
      font-size={11 * k}
      fill="var(--soft)">horizon</text
    >
  {/if}
  {#each plates as plate (plate.id)}
    {@const on = plate.id === selectedPlate}
    <g
      fill="none"
      stroke={on || selectedPlate === null ? 'var(--ink)' : 'var(--soft)'}
      class={on ? 'thick' : 'middling'}
      data-plate={plate.id}
    >
      {#each plate.screen as path, i (i)}
        <path d={pathOf(path)} stroke-dasharray="14 6" class="thin" />
      {/each}
      {#each plate.picture.outlines as outline (outline.stand_in_id)}
        <g
          fill={outline.stand_in_id === selectedStandIn ? 'var(--ochre)' : 'var(--ink)'}
          fill-opacity={outline.stand_in_id === selectedStandIn ? 0.22 : 0.035}
        >
          {#each outline.paths as path, i (i)}<path d={pathOf(path)} />{/each}
        </g>
      {/each}
      {#if plate.picture.horizon && world.horizon && Math.abs((plate.picture.horizon[0] ?? 0) - (world.horizon[0] ?? 0)) > 1}
        <path
          d="M0 {plate.picture.horizon[0]}L{widthPx} {plate.picture.horizon[1]}"
          stroke-dasharray="10 5"
        />
      {/if}
    </g>
  {/each}
  {#each plates as plate (plate.id)}
    <g stroke={whiskerColour[plate.match]} fill={whiskerColour[plate.match]} class="middling">
      {#each plate.whiskers as w, i (i)}
        <path d="M{w.from_x_px} {w.from_y_px}L{w.to_x_px} {w.to_y_px}">
          <title
            >{w.name}: {Math.hypot(w.to_x_px - w.from_x_px, w.to_y_px - w.from_y_px).toFixed(1)} px</title
          >
        </path>
        <circle cx={w.to_x_px} cy={w.to_y_px} r={1.8 * k} stroke="none" />
      {/each}
    </g>
  {/each}
  <path d={outside} fill="var(--well)" fill-opacity="0.82" fill-rule="evenodd" />
  <rect
    x="0"
    y="0"
    width={widthPx}
    height={heightPx}
    fill="none"
    stroke="var(--ink)"
    class="middling"
  />
  <g stroke="var(--ink)" class="thin">
    <path d="M{6 * k} {heightPx - 8 * k}v{-5 * k}v{5 * k}h{bar}v{-5 * k}" fill="none" />
    <text x={bar + 11 * k} y={heightPx - 7 * k} font-size={11 * k} stroke="none" fill="var(--ink)"
      >{bar} px of {widthPx} × {heightPx}</text
    >
  </g>
  {#each grips as grip (grip.stand_in_id)}
    {@const on = grip.stand_in_id === selectedStandIn}
    {#if grip.x_px > -margin && grip.x_px < widthPx + margin && grip.y_px > -margin && grip.y_px < heightPx + margin * 6}
      <g
        role="button"
        tabindex="0"
        aria-label={`${names[grip.stand_in_id] ?? 'Stand-in'}: drag or use the arrow keys to move it on the ground`}
        class={['touch-none', editable ? 'cursor-move' : 'cursor-pointer']}
        data-grip={grip.stand_in_id}
        onpointerdown={(event) => hold(event, grip.stand_in_id)}
        onpointermove={pull}
        onpointerup={release}
        onpointercancel={release}
        onfocus={() => onselect(grip.stand_in_id)}
        onkeydown={(event) => key(event, grip.stand_in_id)}
      >
        <circle
          cx={grip.x_px}
          cy={Math.min(grip.y_px, heightPx + margin * 0.5)}
          r={12 * k}
          fill="transparent"
        />
        <circle
          cx={grip.x_px}
          cy={Math.min(grip.y_px, heightPx + margin * 0.5)}
          r={(on ? 5.5 : 4) * k}
          fill="var(--ochre)"
          stroke="var(--card)"
          class="thin"
        />
        {#if on}
          <text
            x={grip.x_px}
            y={Math.min(grip.y_px, heightPx + margin * 0.5) - 9 * k}
            text-anchor="middle"
            font-size={12 * k}
            font-weight="650"
            fill="var(--ink)"
            stroke="var(--card)"
            stroke-width={3 * k}
            paint-order="stroke">{names[grip.stand_in_id]}</text
          >
        {/if}
      </g>
    {/if}
  {/each}
</svg>

<style>
  .thin,
  .thin :global(*) {
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
