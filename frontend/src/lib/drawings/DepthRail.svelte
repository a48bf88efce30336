<script lang="ts" module>
  import type { Schemas } from '../api/client';

  export type Thing = {
    id: string;
    name: string;
    /** The plate it is filmed in; null is scenery. */
    plate: string | null;
    nearM: number;
    farM: number;
    /** How much of a metre away counts along the lens axis. */
    perM: number;
    /** It is filmed from elsewhere than the story has it: nothing to drag. */
    fixed?: boolean;
  };
  export type RailPlate = { id: string; name: string };
  export type RailData = Schemas['Rail'];
</script>

<script lang="ts">
  import { length } from '../quantities';
  import { snap } from './geometry';
  import RailBands from './RailBands.svelte';
  import {
    along,
    closerSpan,
    distanceAt,
    EVERYTHING,
    RAIL,
    roundStep,
    rowsOf,
    slid,
    snapped,
    type Span,
  } from './rail';
  import { zoomable } from './zoomable';

  type Props = {
    rail: RailData | null;
    things: Thing[];
    plates: RailPlate[];
    selectedPlate: string | null;
    selectedStandIn: string | null;
    editable: boolean;
    span: Span;
    onspan: (span: Span) => void;
    onselect: (standIn: string) => void;
    /** A stand-in is moved by metres away from the camera. */
    onmove: (standIn: string, away: number) => void;
    ondrop: (standIn: string) => void;
    /** All things of a plate are moved by metres away. */
    onshift: (plate: string, away: number) => void;
    onshifted: (plate: string) => void;
    /** The focus is moved to a distance in the world; null gives it back to the core. */
    onfocus: (metres: number) => void;
    onfocused: () => void;
    onfocusback: () => void;
  };
  let {
    rail,
    things,
    plates,
    selectedPlate,
    selectedStandIn,
    editable,
    span,
    onspan,
    onselect,
    onmove,
    ondrop,
    onshift,
    onshifted,
    onfocus,
    onfocused,
    onfocusback,
  }: Props = $props();

  let boxWidth = $state(720);
  /** A box that is not laid out yet has no width. */
  const width = $derived(Math.max(boxWidth, 240));
  const { pad: PAD, end: END, axis, curves, things: top, row, rows: ROWS, height: HEIGHT } = RAIL;

  const x = (metres: number) => PAD + along(metres, span) * (width - PAD - END);
  const clamped = (metres: number) => Math.min(Math.max(x(metres), PAD), width - END);
  const inView = (metres: number) => x(metres) >= PAD - 1 && x(metres) <= width - END + 1;
  const metresAt = (px: number) => distanceAt((px - PAD) / (width - PAD - END), span);
  const own = $derived(things.filter((t) => selectedPlate === null || t.plate === selectedPlate));
  const others = $derived(
    things.filter((t) => selectedPlate !== null && t.plate !== selectedPlate),
  );
  const rows = $derived(
    rowsOf(
      own.map((t) => ({
        at: clamped(t.nearM) - t.name.length * 6.3 - 10,
        width: t.name.length * 6.3 + 18 + Math.max(clamped(t.farM) - clamped(t.nearM), 8),
      })),
      ROWS,
    ),
  );
  const bars = $derived(
    plates.flatMap((plate) => {
      const its = things.filter((t) => t.plate === plate.id);
      if (its.length === 0) return [];
      return [
        {
          ...plate,
          nearM: Math.min(...its.map((t) => t.nearM)),
          farM: Math.max(...its.map((t) => t.farM)),
          perM: its[0]!.perM,
          fixed: its[0]!.fixed,
        },
      ];
    }),
  );
  const single = $derived(rail?.passes.length === 1 ? rail.passes[0] : null);
  const focusAt = $derived(single?.focus_m ?? null);
  const places = $derived(own.flatMap((t) => [t.nearM, (t.nearM + t.farM) / 2, t.farM]));

  type Drag =
    | {
        kind: 'thing' | 'plate';
        id: string;
        perM: number;
        from: number;
        away: number;
        fixed: boolean;
      }
    | { kind: 'focus' };
  let drag: (Drag & { start: number }) | null = null;
  function hold(event: PointerEvent & { currentTarget: SVGElement }, what: Drag) {
    event.preventDefault();
    if (what.kind === 'thing') onselect(what.id);
    event.currentTarget.focus();
    if (!editable || (what.kind !== 'focus' && what.fixed)) return;
    drag = { ...what, start: event.clientX };
    event.currentTarget.setPointerCapture(event.pointerId);
  }
  function pull(event: PointerEvent) {
    if (!drag) return;
    const free = event.altKey;
    if (drag.kind === 'focus') {
      const box = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
      const at = metresAt(event.clientX - (box?.left ?? 0));
      onfocus(free ? at : snapped(at, places, span, 8 / width));
      return;
    }
    // A log axis: the same way of the hand is the same ratio of distance.
    const wanted = metresAt(x(drag.from) + event.clientX - drag.start);
    const target = free ? wanted : snap(wanted, roundStep(wanted));
    const away = (target - drag.from) / (drag.perM || 1);
    const step = away - drag.away;
    drag.away = away;
    if (drag.kind === 'thing') onmove(drag.id, step);
    else onshift(drag.id, step);
  }
  function release() {
    if (drag?.kind === 'thing') ondrop(drag.id);
    else if (drag?.kind === 'plate') onshifted(drag.id);
    else if (drag) onfocused();
    drag = null;
  }
  function nudge(event: KeyboardEvent, what: Drag) {
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (!editable || (what.kind !== 'focus' && what.fixed)) return;
    if (what.kind === 'focus' && event.key === 'Home') {
      event.preventDefault();
      onfocusback();
    }
    if (way === undefined) return;
    event.preventDefault();
    const now = what.kind === 'focus' ? (focusAt ?? 1) : what.from;
    const step = way * roundStep(now) * (event.shiftKey ? 10 : 1);
    if (what.kind === 'focus') {
      onfocus(Math.max(snap(now + step, roundStep(now)), 0.02));
      onfocused();
    } else if (what.kind === 'thing') {
      onmove(what.id, step);
      ondrop(what.id);
    } else {
      onshift(what.id, step);
      onshifted(what.id);
    }
  }
  type Held = { id: string; nearM: number; perM: number; fixed?: boolean };
  const held = (t: Held, kind: 'thing' | 'plate'): Drag => ({
    kind,
    id: t.id,
    perM: t.perM,
    from: t.nearM,
    away: 0,
    fixed: t.fixed ?? false,
  });
  const hands = zoomable({
    zoom: (factor, at) => onspan(closerSpan(span, factor, at.x)),
    pan: (dx) => onspan(slid(span, dx)),
  });
  function zoomKey(event: KeyboardEvent) {
    if (event.target !== event.currentTarget) return;
    if (event.key === '+' || event.key === '=') onspan(closerSpan(span, 1.5, 0.5));
    else if (event.key === '-') onspan(closerSpan(span, 1 / 1.5, 0.5));
    else if (event.key === '0') onspan(EVERYTHING);
    else if (event.key === 'ArrowLeft') onspan(slid(span, 0.1));
    else if (event.key === 'ArrowRight') onspan(slid(span, -0.1));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div bind:clientWidth={boxWidth} class="overflow-hidden">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    {width}
    height={HEIGHT}
    class="block touch-pan-y"
    role="group"
    tabindex="0"
    aria-label="Depth rail: distances from the lens. Plus and minus zoom, arrows move along, 0 shows all."
    data-testid="rail"
    ondblclick={() => onspan(EVERYTHING)}
    onkeydown={zoomKey}
    {@attach hands}
  >
    <RailBands {rail} {span} {width} />

    {#each bars as bar (bar.id)}
      {#if clamped(bar.farM) > clamped(bar.nearM) - 1}
        {@const on = bar.id === selectedPlate}
        <g
          role="button"
          tabindex="0"
          aria-label={`All things of ${bar.name}: drag or use the arrow keys to move them nearer or farther`}
          class={['touch-none', editable && !bar.fixed ? 'cursor-ew-resize' : '']}
          data-grip={`plate-${bar.id}`}
          onpointerdown={(event) => hold(event, held(bar, 'plate'))}
          onpointermove={pull}
          onpointerup={release}
          onpointercancel={release}
          onkeydown={(event) => nudge(event, held(bar, 'plate'))}
        >
          <rect
            x={clamped(bar.nearM) - 4}
            y="0"
            width={Math.max(clamped(bar.farM) - clamped(bar.nearM), 2) + 8}
            height="18"
            fill="transparent"
          />
          <rect
            x={clamped(bar.nearM) - 1}
            y={RAIL.plates - (on ? 3 : 1.5)}
            width={Math.max(clamped(bar.farM) - clamped(bar.nearM), 2) + 2}
            height={on ? 6 : 3}
            rx="1"
            fill={on ? 'var(--ochre)' : 'var(--soft)'}
            fill-opacity={on ? 1 : 0.55}
          />
          <title>{bar.name}</title>
        </g>
      {/if}
    {/each}
    {#each others as thing (thing.id)}
      {#if inView(thing.nearM)}
        <path d="M{x(thing.nearM)} {curves}v-6" stroke="var(--soft)">
          <title>{thing.name}, {length(thing.nearM)}</title>
        </path>
      {/if}
    {/each}
    {#each own as thing, i (thing.id)}
      {#if inView(thing.nearM) || inView(thing.farM)}
        {@const y = top + (rows[i] ?? 0) * row}
        {@const on = thing.id === selectedStandIn}
        {@const end = Math.max(clamped(thing.farM), clamped(thing.nearM) + 3)}
        <g
          role="button"
          tabindex="0"
          aria-label={`${thing.name} at ${length(thing.nearM)}${thing.fixed ? ', as it is filmed' : ': drag or use the arrow keys to move it nearer or farther'}`}
          class={['touch-none', editable && !thing.fixed ? 'cursor-ew-resize' : 'cursor-pointer']}
          data-grip={`rail-${thing.id}`}
          onpointerdown={(event) => hold(event, held(thing, 'thing'))}
          onpointermove={pull}
          onpointerup={release}
          onpointercancel={release}
          onfocus={() => onselect(thing.id)}
          onkeydown={(event) => nudge(event, held(thing, 'thing'))}
        >
          <rect
            x={clamped(thing.nearM) - 7}
            y={y - 7}
            width={end - clamped(thing.nearM) + 14}
            height="14"
            fill="transparent"
          />
          <rect
            x={clamped(thing.nearM)}
            y={y - 3}
            width={end - clamped(thing.nearM)}
            height="6"
            fill={on ? 'var(--ochre)' : 'var(--ink)'}
            fill-opacity={on ? 1 : 0.75}
          />
          <circle
            cx={clamped(thing.nearM)}
            cy={y}
            r={on ? 5 : 4}
            fill="var(--ochre)"
            stroke="var(--card)"
          />
          <text
            x={clamped(thing.nearM) - 8}
            y={y + 4}
            text-anchor="end"
            font-size="11"
            font-weight={on ? 650 : 400}
            class="haloed"
            fill="var(--ink)">{thing.name}</text
          >
        </g>
      {/if}
    {/each}
    {#if rail}
      {#each rail.passes as pass, i (i)}
        {#if pass.focus_m !== null && inView(pass.focus_m)}
          <line
            x1={x(pass.focus_m)}
            x2={x(pass.focus_m)}
            y1="18"
            y2={axis}
            stroke="var(--ink)"
            stroke-dasharray="3 3"
          />
        {/if}
      {/each}
      {#if single && focusAt !== null && inView(focusAt)}
        <g
          role="slider"
          tabindex="0"
          aria-label="Focus, in the world"
          aria-valuenow={focusAt}
          aria-valuetext={length(focusAt)}
          aria-valuemin={0.02}
          aria-valuemax={EVERYTHING.to}
          class={['touch-none', editable ? 'cursor-ew-resize' : '']}
          data-grip="focus"
          onpointerdown={(event) => hold(event, { kind: 'focus' })}
          onpointermove={pull}
          onpointerup={release}
          onpointercancel={release}
          onkeydown={(event) => nudge(event, { kind: 'focus' })}
        >
          <circle cx={x(focusAt)} cy={axis} r="12" fill="transparent" />
          <path
            d="M{x(focusAt)} {axis - 7}l6 7l-6 7l-6 -7z"
            fill="var(--ochre)"
            stroke="var(--card)"
          />
          <title>focus at {length(focusAt)}</title>
        </g>
      {/if}
    {/if}
  </svg>
</div>
