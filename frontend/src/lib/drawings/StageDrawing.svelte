<script lang="ts">
  import type { Schemas } from '../api/client';
  import { length, roundBelow } from '../quantities';
  import { fitAt, lookedAt, type Fit } from './geometry';
  import LightBands from './LightBands.svelte';
  import { closer, moved, WHOLE, type Look } from './zoom';
  import { alongLevel, around, besideUpright, laid, onPaper, type Place } from './words';
  import { zoomable } from './zoomable';

  type Drawing = Schemas['Drawing'];
  type Props = {
    drawing: Drawing;
    /** What the drawing shows, in words. */
    title: string;
    /** The same in short, as it stands on the paper. Default: the whole title. */
    caption?: string;
    selectedStandIn?: string | null;
    editable?: boolean;
    /** Width and height in pixels, and pixels per metre: set by the pair it belongs to. */
    width: number;
    height: number;
    scale: number;
    /** Whether to draw a scale bar. Default off: a pair needs only one. */
    scaleBar?: boolean;
    onselect?: (standIn: string) => void;
    /** A stand-in is dragged by (du, dv) stage metres. */
    onmove?: (standIn: string, du: number, dv: number) => void;
    ondrop?: (standIn: string) => void;
    /** The lens axis is dragged by dv stage metres. */
    onaxis?: (dv: number) => void;
    onaxisdrop?: () => void;
    /** A lamp, by its number, is dragged by (du, dv) stage metres. */
    onlamp?: (lamp: number, du: number, dv: number) => void;
    onlampdrop?: () => void;
    /** How closely it is looked at, in parts of the paper. Default all of it. */
    look?: Look;
    onlook?: (look: Look) => void;
    /** Whether to show the whole room. Default off. */
    room?: boolean;
    /** How the light lies over it. */
    map?: Schemas['LightMap'] | null;
    /** How wide what lies over its upper right corner is, pixels. Default nothing. */
    covered?: number;
    /** Which of the things can be dragged, where they can be at all. Default all. */
    movable?: (standIn: string) => boolean;
  };
  let {
    drawing,
    title,
    caption = title,
    selectedStandIn = null,
    editable = false,
    width,
    height,
    scale,
    scaleBar = false,
    onselect,
    onmove,
    ondrop,
    onaxis,
    onaxisdrop,
    onlamp,
    onlampdrop,
    look = WHOLE,
    onlook,
    room = false,
    map = null,
    covered = 0,
    movable = () => true,
  }: Props = $props();

  /** While something is dragged the fit stands still; else the paper would slide under the hand. */
  let held = $state.raw<Fit | null>(null);
  const f = $derived(
    held ??
      lookedAt(
        fitAt(room ? (drawing.room ?? drawing.bounds) : drawing.bounds, scale, height),
        look,
        width,
        height,
      ),
  );
  const hands = zoomable({
    zoom: (factor, at) => onlook?.(closer(look, factor, at)),
    pan: (dx, dy) => onlook?.(moved(look, dx, dy)),
  });
  const bar = $derived(roundBelow((width * 0.2) / f.scale));
  const place = ([u = 0, v = 0]: readonly number[]) => `${f.x(u).toFixed(2)},${f.y(v).toFixed(2)}`;
  const looks: Record<string, string> = {
    ground: 'stroke:var(--soft);stroke-width:1.5',
    camera: 'fill:var(--ink)',
    lens: 'fill:var(--soft)',
    mark: 'stroke:var(--card);stroke-width:1.5',
    support: 'stroke:var(--ink);stroke-width:2',
    ray: 'stroke:var(--soft);stroke-width:.8',
    axis: 'stroke:var(--soft);stroke-width:.8;stroke-dasharray:8 3 2 3',
    focus: 'stroke:var(--ink);stroke-width:1.2;stroke-dasharray:3 3',
    screen: 'stroke:var(--ink);stroke-width:4',
    wall: 'stroke:var(--soft);stroke-width:3',
    table: 'stroke:var(--soft);stroke-width:1;fill:var(--well);fill-opacity:.35',
    lamp: 'fill:var(--ochre);stroke:var(--ink);stroke-width:1',
    beam: 'stroke:var(--ochre-ink);stroke-width:.8;stroke-dasharray:2 4',
    way: 'stroke:var(--ochre-ink);stroke-width:1.4',
    path: 'stroke:var(--ochre-ink);stroke-width:2.5;stroke-dasharray:7 4',
    fixed: 'stroke:var(--ink);stroke-width:1.5',
    tape: 'stroke:var(--ochre-ink);stroke-width:.8;stroke-dasharray:9 3',
    eyeline: 'stroke:var(--ink);stroke-width:.8;stroke-dasharray:1 4',
    sun: 'stroke:var(--ochre);stroke-width:3;stroke-opacity:.8',
    shadow: 'fill:var(--ink);fill-opacity:.16',
    penumbra: 'fill:var(--ink);fill-opacity:.07',
    sweep: 'fill:var(--ink);fill-opacity:.06;stroke:var(--ink);stroke-width:1;stroke-dasharray:5 3',
    keepout: 'fill:var(--ochre);fill-opacity:.16;stroke:none',
    tapeline: 'stroke:var(--ochre-ink);stroke-width:2',
    armspan: 'stroke:var(--ink);stroke-width:1.2;stroke-dasharray:4 3',
    crowd0: 'fill:var(--card);stroke:var(--ink);stroke-width:1',
    crowd1: 'fill:var(--well);stroke:var(--ink);stroke-width:1',
    crowd2: 'fill:var(--line);stroke:var(--ink);stroke-width:1',
    crowd3: 'fill:var(--soft);stroke:var(--ink);stroke-width:1',
    lacking: 'stroke:var(--breaks);stroke-width:5;stroke-dasharray:3 2',
    beyond: 'fill:var(--breaks);fill-opacity:.16',
    stand: 'stroke:var(--ink);stroke-width:3.5',
    pose: 'fill:var(--ochre);stroke:var(--ink);stroke-width:.5',
    box: 'fill:none;stroke:var(--soft);stroke-width:1.2',
    piece: '',
    'piece-rolls': 'stroke-dasharray:9 3',
    'piece-trap': 'stroke-dasharray:2 3',
  };

  const dims = $derived(
    drawing.dimensions.map((dim) => {
      let [x0, y0] = [f.x(dim.start[0] ?? 0), f.y(dim.start[1] ?? 0)];
      let [x1, y1] = [f.x(dim.end[0] ?? 0), f.y(dim.end[1] ?? 0)];
      const upright = Math.abs(x1 - x0) < Math.abs(y1 - y0);
      const shift = -13 * dim.lift;
      if (upright) {
        x0 += shift;
        x1 += shift;
      } else {
        y0 += shift;
        y1 += shift;
      }
      const value = length(dim.value_m);
      const short = value.length * 7.4 + 2;
      const all = short + (dim.label ? dim.label.length * 6.4 + 4 : 0);
      // Words go to the side with more room, so that none leave the paper.
      const right = width - x0 > all || x0 < all;
      const grip: Place[] = ['end' as const, 'start' as const].flatMap((anchor) =>
        [-12, -26, 16].map((row) => ({ x: x0 + (anchor === 'end' ? -8 : 8), y: y1 + row, anchor })),
      );
      // What is measured may reach out of the paper: its words stand where it is seen.
      const part = upright ? onPaper(y0, y1, height) : onPaper(x0, x1, width);
      const beside = upright ? onPaper(x0, x0, width) : onPaper(y0, y0, height);
      const along =
        !part || !beside
          ? []
          : upright
            ? besideUpright(x0, ...part, right)
            : alongLevel(...part, y0, dim.lift >= 0);
      return {
        ...dim,
        value,
        x0,
        y0,
        x1,
        y1,
        upright,
        width: all,
        short,
        keep: true,
        places: dim.editable ? [...(right ? grip.toReversed() : grip), ...along] : along,
      };
    }),
  );

  /** What lies over the paper besides: its caption, its scale bar, and what is covered. */
  const taken = $derived([
    { left: 0, right: caption.length * 6 + 12, top: 0, bottom: 15 },
    { left: width - covered, right: width, top: 0, bottom: covered ? 28 : 0 },
    {
      left: 0,
      right: scaleBar ? bar * f.scale + 16 + length(bar).length * 6.5 : 0,
      top: height - 18,
      bottom: height,
    },
  ]);

  /** Small things, which words should not cover: those larger have room for both. */
  const things = $derived(
    drawing.shapes.flatMap((shape) => {
      if (!shape.stand_in_id && !['lamp', 'camera', 'lens'].includes(shape.role)) return [];
      const xs = shape.points.map(([u = 0]) => f.x(u));
      const ys = shape.points.map(([, v = 0]) => f.y(v));
      const [left, right] = [Math.min(...xs), Math.max(...xs)];
      const [top, bottom] = [Math.min(...ys), Math.max(...ys)];
      const small = (right - left) * (bottom - top) < (width * height) / 20;
      return small ? [{ left, right, top, bottom }] : [];
    }),
  );

  /** Measures first: they are what is read off. Names that find no room are left out. */
  const words = $derived(
    laid(
      [
        ...dims,
        ...drawing.notes.map((note) => ({
          text: note.text,
          width: note.text.length * 5.9,
          places: around(f.x(note.at[0] ?? 0), f.y(note.at[1] ?? 0) - 4, 12),
        })),
      ],
      { width, height },
      taken,
      things,
    ),
  );

  type Drag = { kind: 'stand-in'; id: string } | { kind: 'axis' } | { kind: 'lamp'; index: number };
  let drag: (Drag & { x: number; y: number }) | null = null;
  function hold(event: PointerEvent & { currentTarget: SVGElement }, what: Drag) {
    if (what.kind === 'stand-in') onselect?.(what.id);
    if (!editable) return;
    held = f;
    drag = { ...what, x: event.clientX, y: event.clientY };
    event.currentTarget.setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function pull(event: PointerEvent) {
    if (!drag) return;
    const du = (event.clientX - drag.x) / f.scale;
    const dv = -(event.clientY - drag.y) / f.scale;
    drag.x = event.clientX;
    drag.y = event.clientY;
    if (drag.kind === 'axis') onaxis?.(dv);
    else if (drag.kind === 'lamp') onlamp?.(drag.index, du, dv);
    else onmove?.(drag.id, du, dv);
  }
  function release() {
    if (!drag) return;
    if (drag.kind === 'axis') onaxisdrop?.();
    else if (drag.kind === 'lamp') onlampdrop?.();
    else ondrop?.(drag.id);
    drag = null;
    held = null;
  }
  const lampArrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  };
  function lampKey(event: KeyboardEvent, index: number) {
    const arrow = lampArrows[event.key];
    if (!arrow) return;
    event.preventDefault();
    const step = event.shiftKey ? 0.1 : 0.01;
    onlamp?.(index, arrow[0] * step, arrow[1] * step);
    onlampdrop?.();
  }
  function axisKey(event: KeyboardEvent) {
    if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    onaxis?.((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 0.01 : 0.001));
    onaxisdrop?.();
  }
</script>

<figure class="relative" data-testid={`drawing-${drawing.view}`}>
  <figcaption class="text-soft absolute top-0.5 left-2 text-xs">{caption}</figcaption>
  <svg
    {width}
    {height}
    role="group"
    aria-label={title}
    class={['block', look.k > 1 ? 'touch-none' : 'touch-pan-y']}
    {@attach onlook ? hands : undefined}
  >
    {#if map}<LightBands {map} {place} />{/if}
    {#each drawing.shapes as shape, i (i)}
      {@const id = shape.stand_in_id}
      {@const style = id
        ? `stroke:${id === selectedStandIn ? 'var(--ochre-ink)' : 'var(--ink)'};stroke-width:${id === selectedStandIn ? 2 : 1.2};fill:var(--well);fill-opacity:.55;${shape.role.startsWith('piece') ? looks[shape.role] : ''}`
        : looks[shape.role]}
      {#if shape.closed}
        <polygon points={shape.points.map(place).join(' ')} {style} />
      {:else}
        <polyline points={shape.points.map(place).join(' ')} style="{style};fill:none" />
      {/if}
    {/each}
    {#each dims as dim, i (i)}
      <g stroke="var(--ochre-ink)" stroke-width="1">
        <title>{dim.value} {dim.label}</title>
        <path
          d={dim.upright
            ? `M${dim.x0} ${dim.y0}V${dim.y1}M${dim.x0 - 4} ${dim.y0}h8M${dim.x0 - 4} ${dim.y1}h8`
            : `M${dim.x0} ${dim.y0}H${dim.x1}M${dim.x0} ${dim.y0 - 4}v8M${dim.x1} ${dim.y0 - 4}v8`}
        />
      </g>
      {#if dim.editable && editable && onaxis}
        <g
          role="button"
          tabindex="0"
          aria-label={`${dim.label}: drag or use the arrow keys to raise or lower it`}
          class="cursor-ns-resize touch-none"
          data-grip="axis"
          onpointerdown={(event) => hold(event, { kind: 'axis' })}
          onpointermove={pull}
          onpointerup={release}
          onpointercancel={release}
          onkeydown={axisKey}
        >
          <circle cx={dim.x1} cy={dim.y1} r="12" fill="transparent" />
          <circle cx={dim.x1} cy={dim.y1} r="5" fill="var(--ochre)" stroke="var(--card)" />
        </g>
      {/if}
    {/each}
    {#each words as one, i (i)}
      <text
        x={one.at.x}
        y={one.at.y}
        text-anchor={one.at.anchor}
        class="haloed pointer-events-none"
        font-size={'text' in one ? 11 : 12}
        fill={'text' in one ? 'var(--soft)' : 'var(--ink)'}
      >
        {#if 'text' in one}{one.text}{:else}<tspan font-weight="700">{one.value}</tspan
          >{#if !one.at.short && one.label}<tspan fill="var(--soft)" dx="4">{one.label}</tspan
            >{/if}{/if}
      </text>
    {/each}
    {#if editable && onmove}
      {#each drawing.shapes.filter((s) => s.stand_in_id && movable(s.stand_in_id)) as shape, i (i)}
        {@const us = shape.points.map((p) => p[0] ?? 0)}
        {@const vs = shape.points.map((p) => p[1] ?? 0)}
        {@const u = (Math.min(...us) + Math.max(...us)) / 2}
        {@const v = Math.min(...vs)}
        <g
          role="button"
          tabindex="-1"
          aria-label="Drag to move"
          class="cursor-move touch-none"
          data-grip={shape.stand_in_id}
          onpointerdown={(event) => hold(event, { kind: 'stand-in', id: shape.stand_in_id ?? '' })}
          onpointermove={pull}
          onpointerup={release}
          onpointercancel={release}
        >
          <circle cx={f.x(u)} cy={f.y(v)} r="11" fill="transparent" />
          <circle cx={f.x(u)} cy={f.y(v)} r="3.5" fill="var(--ochre)" stroke="var(--card)" />
        </g>
      {/each}
    {/if}
    {#if editable && onlamp}
      {#each drawing.shapes.filter((s) => s.lamp != null) as shape (shape.lamp)}
        {@const us = shape.points.map((p) => p[0] ?? 0)}
        {@const vs = shape.points.map((p) => p[1] ?? 0)}
        {@const index = shape.lamp ?? 0}
        <g
          role="button"
          tabindex="0"
          aria-label={`Lamp ${index + 1}: drag or use the arrow keys to move it`}
          class="cursor-move touch-none"
          data-grip={`lamp-${index}`}
          onpointerdown={(event) => hold(event, { kind: 'lamp', index })}
          onpointermove={pull}
          onpointerup={release}
          onpointercancel={release}
          onkeydown={(event) => lampKey(event, index)}
        >
          <circle
            cx={f.x((Math.min(...us) + Math.max(...us)) / 2)}
            cy={f.y((Math.min(...vs) + Math.max(...vs)) / 2)}
            r="13"
            fill="transparent"
          />
        </g>
      {/each}
    {/if}
    {#if scaleBar}
      <g stroke="var(--ink)" fill="none">
        <path d="M10 {height - 8}v-5v5h{bar * f.scale}v-5" />
        <text x={bar * f.scale + 16} y={height - 6} font-size="11" stroke="none" fill="var(--ink)"
          >{length(bar)}</text
        >
      </g>
    {/if}
  </svg>
</figure>
