<script lang="ts" module>
  /** The share of a picture kept around the delivered one on the paper, as a part of its width. */
  const MARGIN = 0.035;

  type Delivered = {
    delivery_width_px?: number;
    delivery_height_px?: number;
    padding?: number;
  };
  /** The shape of the paper that a shot's Frame is drawn on: the picture with its margins. */
  export function paperAspect(shot: Delivered) {
    const { delivery_width_px: w = 1920, delivery_height_px: h = 1080, padding = 0 } = shot;
    const margin = w * Math.max(MARGIN, padding + 0.015);
    return `${w + 2 * margin} / ${h + 2 * margin}`;
  }
</script>

<script lang="ts">
  import type { Schemas } from '../api/client';
  import { roundBelow } from '../quantities';
  import type { Snippet } from 'svelte';
  import FrameGrips from './FrameGrips.svelte';
  import FramePlate, { type Shown } from './FramePlate.svelte';
  import FrameTone, { type Tone } from './FrameTone.svelte';
  import { pathOf } from './geometry';
  import PictureMarks from './PictureMarks.svelte';
  import { closer, moved, WHOLE, type Look } from './zoom';
  import { zoomable } from './zoomable';

  type Props = {
    widthPx: number;
    heightPx: number;
    world: Schemas['Picture'];
    plates: Shown[];
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
    /** What is laid over for comparing. Default nothing. */
    overlays?: Shown[];
    /** Picture kept around the delivered frame, as a part of it. Default 0. */
    padding?: number;
    /** The story's key light. */
    keyLight?: Schemas['Key'] | null;
    /** Shadows that the chosen plate's own key throws on its stage. */
    shadows?: Schemas['Outline'][];
    /** How much of each stand-in the air between has taken, 0..1, by id. */
    air?: Record<string, number>;
    layers?: { world: boolean; thirds: boolean; whiskers: boolean; shadows: boolean };
    look?: Look;
    onlook?: (look: Look) => void;
    /** Whether a magnifier at one delivered pixel per screen pixel follows the pointer. */
    loupe?: boolean;
    /** The plates in tone, under their outlines. Default none. */
    tones?: readonly Tone[];
    /** Dividers, cuts, flights and so on. Default nothing. */
    marks?: Schemas['PictureMark'][];
    /** Handles of one's own over it all, told how many picture pixels a screen pixel is. */
    over?: Snippet<[number]>;
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
    overlays = [],
    padding = 0,
    keyLight = null,
    shadows = [],
    air = {},
    layers = { world: true, thirds: false, whiskers: true, shadows: true },
    look = WHOLE,
    onlook,
    loupe = false,
    marks = [],
    tones = [],
    over,
  }: Props = $props();

  const id = $props.id();
  let shownWidth = $state(740);
  let shownHeight = $state(300);
  const margin = $derived(Math.round(widthPx * Math.max(MARGIN, padding + 0.015)));
  const box = $derived({ w: widthPx + 2 * margin, h: heightPx + 2 * margin });
  /** Picture pixels per screen pixel: keeps handles and letters one size. */
  const k = $derived(
    Math.max(box.w / Math.max(shownWidth, 1), box.h / Math.max(shownHeight, 1)) / look.k,
  );
  /** What the drawing takes of its box, in screen pixels: it is centred there. */
  const picture = $derived({ w: box.w / look.k / k, h: box.h / look.k / k });
  const bar = $derived(roundBelow(widthPx / 8));
  const outside = $derived(
    `M${-margin} ${-margin}h${box.w}v${box.h}h${-box.w}zM0 0v${heightPx}h${widthPx}v${-heightPx}z`,
  );
  const dashes = ['9 3', '3 3', '12 3 3 3'];
  const shownPlates = $derived(
    layers.whiskers ? plates : plates.map((plate) => ({ ...plate, whiskers: [] })),
  );

  let pointer = $state<{ x: number; y: number } | null>(null);
  const LOUPE = 190;
  let frame = $state<SVGSVGElement>();
  function follow(event: PointerEvent) {
    if (!loupe || !frame) return;
    const box = frame.getBoundingClientRect();
    pointer = { x: event.clientX - box.left, y: event.clientY - box.top };
  }
  /** What lies under the pointer, in picture pixels; the picture is centred in its box. */
  const under = $derived.by(() => {
    if (!pointer) return { x: widthPx / 2, y: heightPx / 2 };
    return {
      x: -margin + look.x * box.w + box.w / look.k / 2 + (pointer.x - shownWidth / 2) * k,
      y: -margin + look.y * box.h + box.h / look.k / 2 + (pointer.y - shownHeight / 2) * k,
    };
  });
  const hands = zoomable({
    zoom: (factor, at) =>
      onlook?.(
        closer(look, factor, {
          x: 0.5 + ((at.x - 0.5) * shownWidth) / picture.w,
          y: 0.5 + ((at.y - 0.5) * shownHeight) / picture.h,
        }),
      ),
    pan: (dx, dy) =>
      onlook?.(moved(look, (dx * shownWidth) / picture.w, (dy * shownHeight) / picture.h)),
  });
</script>

<div
  class="relative h-full"
  role="presentation"
  onpointermove={follow}
  onpointerleave={() => (pointer = null)}
>
  <svg
    bind:this={frame}
    bind:clientWidth={shownWidth}
    bind:clientHeight={shownHeight}
    viewBox="{-margin + look.x * box.w} {-margin + look.y * box.h} {box.w / look.k} {box.h /
      look.k}"
    class={['bg-card block h-full w-full', look.k > 1 ? 'touch-none' : 'touch-pan-y']}
    role="group"
    aria-label="Frame: outlines of every plate through its own camera"
    data-testid="frame"
    {@attach hands}
  >
    <g id="{id}-ink">
      <rect x="0" y="0" width={widthPx} height={heightPx} fill="var(--card)" />
      {#if tones.length}
        <clipPath id="{id}-paper"
          ><path d="M{-margin} {-margin}h{box.w}v{box.h}h{-box.w}z" /></clipPath
        >
        <g clip-path="url(#{id}-paper)"><FrameTone {tones} /></g>
      {/if}
      {#if layers.shadows && shadows.length}
        <g
          fill="none"
          stroke="var(--ink)"
          stroke-opacity="0.55"
          stroke-dasharray="3 4"
          class="thin"
          data-layer="stage-shadows"
        >
          {#each shadows as shadow (shadow.stand_in_id)}
            {#each shadow.paths as path, i (i)}<path d={pathOf(path)} />{/each}
          {/each}
        </g>
      {/if}
      {#if layers.shadows && keyLight && !tones.length}
        <g fill="var(--ink)" fill-opacity="0.13" data-layer="shadows">
          {#each keyLight.shadows as shadow (shadow.stand_in_id)}
            {#each shadow.paths as path, i (i)}<path d={pathOf(path)} />{/each}
          {/each}
        </g>
      {/if}
      <g fill="none" stroke="var(--soft)" stroke-dasharray="2 4" class="thin" data-layer="world">
        {#if world.horizon}
          <path d="M0 {world.horizon[0]}L{widthPx} {world.horizon[1]}" stroke-dasharray="10 5" />
        {/if}
        {#if layers.world}
          {#each world.outlines as outline (outline.stand_in_id)}
            {#each outline.paths as path, i (i)}<path d={pathOf(path)} />{/each}
          {/each}
        {/if}
      </g>
      {#if world.horizon}
        <text
          x={widthPx - 6 * k}
          y={(world.horizon[1] ?? 0) - 4 * k}
          text-anchor="end"
          font-size={11 * k}
          stroke={tones.length ? 'var(--card)' : 'none'}
          style:stroke-width="3px"
          paint-order="stroke"
          fill="var(--soft)">horizon</text
        >
      {/if}
      {#each shownPlates as plate (plate.id)}
        <FramePlate
          {plate}
          on={plate.id === selectedPlate}
          inked={plate.id === selectedPlate || selectedPlate === null}
          {selectedStandIn}
          {widthPx}
          {heightPx}
          worldHorizon={world.horizon}
          {k}
          {air}
          quiet={tones.length > 0}
        />
      {/each}
      {#each overlays as plate, i (plate.id)}
        <g data-overlay={i + 1}>
          <FramePlate
            {plate}
            on={false}
            inked
            selectedStandIn={null}
            {widthPx}
            {heightPx}
            worldHorizon={world.horizon}
            {k}
            said={1}
            dash={dashes[i]}
          />
        </g>
      {/each}
      <PictureMarks {marks} {k} />
      {#if layers.thirds}
        <g stroke="var(--soft)" class="thin" data-layer="thirds">
          {#each [1 / 3, 2 / 3] as part (part)}
            <path d="M{part * widthPx} 0v{heightPx}M0 {part * heightPx}h{widthPx}" />
          {/each}
          <path
            d="M{widthPx / 2 - 10 * k} {heightPx / 2}h{20 * k}M{widthPx / 2} {heightPx / 2 -
              10 * k}v{20 * k}"
          />
        </g>
      {/if}
    </g>
    {#if keyLight?.at_px && layers.shadows}
      {@const [x = 0, y = 0] = keyLight.at_px}
      {#if x > -margin && x < widthPx + margin && y > -margin && y < heightPx + margin}
        <g transform="translate({x} {y}) scale({k})" stroke="var(--ink)" fill="none">
          <circle r="6" /><path
            d="M0 -10v-4M0 10v4M-10 0h-4M10 0h4M7 -7l3 -3M-7 7l-3 3M7 7l3 3M-7 -7l-3 -3"
          />
          <title>the key light</title>
        </g>
      {/if}
    {/if}
    <path d={outside} fill="var(--well)" fill-opacity="0.82" fill-rule="evenodd" />
    {#if padding > 0}
      <rect
        x={-padding * widthPx}
        y={-padding * heightPx}
        width={widthPx * (1 + 2 * padding)}
        height={heightPx * (1 + 2 * padding)}
        fill="none"
        stroke="var(--ink)"
        stroke-dasharray="6 4"
        class="thin"
        data-layer="padding"
      />
      <text
        x={widthPx * (1 + padding) - 4 * k}
        y={-padding * heightPx + 11 * k}
        text-anchor="end"
        font-size={10 * k}
        fill="var(--ink)">padding</text
      >
    {/if}
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
      <text
        x={bar + 11 * k}
        y={heightPx - 7 * k}
        font-size={11 * k}
        stroke={tones.length ? 'var(--card)' : 'none'}
        style:stroke-width="3px"
        paint-order="stroke"
        fill="var(--ink)">{bar} px of {widthPx} × {heightPx}</text
      >
    </g>
    <FrameGrips
      {grips}
      {names}
      {selectedStandIn}
      {editable}
      {k}
      {margin}
      {widthPx}
      {heightPx}
      {onselect}
      {onmove}
      {ondrop}
    />
    {@render over?.(k)}
  </svg>
  {#if loupe && pointer}
    <svg
      class="border-ink pointer-events-none absolute rounded-full border-2"
      style:left="{Math.min(Math.max(pointer.x - LOUPE / 2, 0), shownWidth - LOUPE)}px"
      style:top="{pointer.y > LOUPE + 20 ? pointer.y - LOUPE - 14 : pointer.y + 14}px"
      width={LOUPE}
      height={LOUPE}
      viewBox="{under.x - LOUPE / 2} {under.y - LOUPE / 2} {LOUPE} {LOUPE}"
      aria-hidden="true"
      data-testid="loupe"
    >
      <rect
        x={under.x - LOUPE}
        y={under.y - LOUPE}
        width={2 * LOUPE}
        height={2 * LOUPE}
        fill="var(--card)"
      />
      <use href="#{id}-ink" />
      <path d="M{under.x - 5} {under.y}h10M{under.x} {under.y - 5}v10" stroke="var(--ochre-ink)" />
    </svg>
  {/if}
</div>

<style>
  .thin,
  .thin :global(*) {
    stroke-width: 1px;
    vector-effect: non-scaling-stroke;
  }
  .middling {
    stroke-width: 1.3px;
    vector-effect: non-scaling-stroke;
  }
</style>
