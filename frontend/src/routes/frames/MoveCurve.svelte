<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { dragged, gripsOf, placeAt, pointed, type Grip } from './curve';
  import type { Leg } from './marks';

  type Props = {
    name: string;
    chart: Schemas['ChartAnswer'];
    legs: Leg[];
    editable: boolean;
    /** The frame in hand. */
    frame: number | null;
    onlive: (legs: Leg[]) => void;
    oncommit: () => void;
  };
  let { name, chart, legs, editable, frame, onlive, oncommit }: Props = $props();

  const [WIDE, HIGH, LEFT, RIGHT, TOP, FOOT] = [400, 170, 6, 348, 10, 152];
  const count = $derived(Math.max(chart.wanted.length, 2));
  /** While a grip is held the scale stays, so that the curve does not run from the hand. */
  let still = $state.raw<{ low: number; high: number } | null>(null);
  const range = $derived.by(() => {
    if (still) return still;
    const places = [0, ...chart.wanted, ...chart.reached];
    const [low, high] = [Math.min(...places), Math.max(...places)];
    const room = (high - low || 1) * 0.12;
    return { low: low - room, high: high + room };
  });
  const x = (at: number) => LEFT + ((at - 1) / (count - 1)) * (RIGHT - LEFT);
  const y = (place: number) =>
    FOOT - ((place - range.low) / (range.high - range.low)) * (FOOT - TOP);
  const line = (places: number[]) =>
    places.map((v, i) => `${i ? 'L' : 'M'}${x(i + 1).toFixed(1)} ${y(v).toFixed(1)}`).join('');
  const stairs = $derived(
    chart.reached
      .map((v, i) => (i ? `H${x(i + 1).toFixed(1)}V${y(v).toFixed(1)}` : `M${x(1)} ${y(v)}`))
      .join(''),
  );
  /** As an animator draws it: where it stands at each frame, along its way. */
  const spacing = $derived([...new Set([0, ...chart.reached].map((v) => y(v).toFixed(1)))]);
  const unit = $derived(chart.unit === 'deg' ? '°' : ' mm');
  const grips = $derived(chart.follows ? [] : gripsOf(legs, chart.wanted));
  const said = (value: number) => `${Number(value.toFixed(1))}${unit}`;

  let box: SVGSVGElement;
  let held = $state.raw<{ grip: Grip; legs: Leg[]; wanted: number[] } | null>(null);
  let went = false;

  function spot(event: PointerEvent | MouseEvent) {
    const { left, top, width, height } = box.getBoundingClientRect();
    const px = ((event.clientX - left) / width) * WIDE;
    const py = ((event.clientY - top) / height) * HIGH;
    return {
      at: 1 + ((px - LEFT) / (RIGHT - LEFT)) * (count - 1),
      place: range.low + ((FOOT - py) / (FOOT - TOP)) * (range.high - range.low),
    };
  }
  function hold(event: PointerEvent, grip: Grip) {
    if (!editable) return;
    event.stopPropagation();
    held = { grip, legs, wanted: chart.wanted };
    still = range;
    went = false;
    box.setPointerCapture(event.pointerId);
  }
  function drag(event: PointerEvent) {
    if (!held) return;
    went = true;
    const { at, place } = spot(event);
    onlive(dragged(held.legs, held.wanted, held.grip, at, place));
  }
  function release() {
    if (!held) return;
    held = null;
    still = null;
    if (went) oncommit();
  }
  function add(event: MouseEvent) {
    if (!editable || event.target !== event.currentTarget) return;
    const { at, place } = spot(event);
    const made = pointed(legs, chart.wanted, at, place);
    if (!made) return;
    onlive(made);
    oncommit();
  }
  function keyed(event: KeyboardEvent, grip: Grip) {
    if (!editable) return;
    const far = event.shiftKey ? 10 : 1;
    const part = (range.high - range.low) / 200;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-far, 0],
      ArrowRight: [far, 0],
      ArrowUp: [0, far * part],
      ArrowDown: [0, -far * part],
    };
    const step = steps[event.key];
    if (step) {
      onlive(dragged(legs, chart.wanted, grip, grip.frame + step[0], grip.place + step[1]));
    } else if (
      (event.key === 'Delete' || event.key === 'Backspace') &&
      typeof grip.what === 'number'
    ) {
      const point = grip.what;
      onlive(
        legs.map((leg, i) =>
          i === grip.leg ? { ...leg, curve: (leg.curve ?? []).filter((_, n) => n !== point) } : leg,
        ),
      );
    } else return;
    event.preventDefault();
    event.stopPropagation();
    oncommit();
  }
  const called = (grip: Grip) =>
    typeof grip.what === 'number'
      ? `Point ${grip.what + 1}`
      : grip.what === 'begin'
        ? 'Begin'
        : 'End';
</script>

<svg
  bind:this={box}
  viewBox="0 0 {WIDE} {HIGH}"
  class={['border-line bg-card w-full border', editable && grips.length ? 'cursor-copy' : '']}
  style:touch-action={grips.length ? 'none' : undefined}
  role="group"
  aria-label="{name}: from {said(0)} to {said(placeAt(chart.wanted, count))} in {count} frames"
  data-testid="move-curve"
  onpointermove={drag}
  onpointerup={release}
  onpointercancel={release}
  ondblclick={add}
>
  <g style:pointer-events="none" font-size="11.5" fill="var(--soft)">
    <path d="M{LEFT} {y(0)}H{RIGHT}" stroke="var(--line)" />
    {#if frame !== null}<path d="M{x(frame)} {TOP}V{FOOT}" stroke="var(--ochre)" />{/if}
    <path d={line(chart.wanted)} fill="none" stroke="var(--soft)" stroke-dasharray="3 3" />
    <path
      d={chart.rig ? stairs : line(chart.reached)}
      fill="none"
      stroke="var(--ochre-ink)"
      stroke-width="1.6"
    />
    <path d="M{RIGHT + 22} {TOP}V{FOOT}" stroke="var(--line)" />
    <path
      d={spacing.map((at) => `M${RIGHT + 17} ${at}h10`).join('')}
      stroke="var(--ink)"
      stroke-width=".7"
    />
    <text x={LEFT} y={HIGH - 4}>frame 1</text>
    <text x={RIGHT} y={HIGH - 4} text-anchor="end">frame {count}</text>
    <text x={WIDE - 2} y={HIGH - 4} text-anchor="end">spacing</text>
    {#each chart.turns_round as at (at)}
      <path d="M{x(at)} {FOOT - 4}l3 4h-6z" fill="var(--soft)" />
    {/each}
  </g>
  {#each grips as grip (`${grip.leg}-${grip.what}`)}
    <circle
      cx={x(Math.max(grip.frame, 1))}
      cy={y(grip.place)}
      r={typeof grip.what === 'number' ? 4 : 5.5}
      fill={held?.grip.leg === grip.leg && held.grip.what === grip.what
        ? 'var(--ink)'
        : 'var(--ochre)'}
      stroke="var(--card)"
      class="cursor-grab"
      role="slider"
      tabindex={editable ? 0 : -1}
      aria-label="{called(grip)} of stretch {grip.leg + 1}"
      aria-valuenow={grip.frame}
      aria-valuetext="frame {Math.round(grip.frame)}, {said(grip.place)}"
      onpointerdown={(event) => hold(event, grip)}
      onkeydown={(event) => keyed(event, grip)}
    />
  {/each}
</svg>
