<script lang="ts">
  import { moveInOrder } from './divider';

  type Point = readonly [number, number];
  type Props = {
    /** The line's points, parts of the picture. */
    points: Point[];
    widthPx: number;
    heightPx: number;
    /** Picture pixels per screen pixel. */
    k: number;
    /** What the line is called. */
    name: string;
    /** The line is being changed. */
    onlive: (points: Point[]) => void;
    /** The change is complete. */
    oncommit: () => void;
  };
  let { points, widthPx, heightPx, k, name, onlive, oncommit }: Props = $props();

  let drag: { index: number; x: number; y: number } | null = null;
  function hold(event: PointerEvent & { currentTarget: SVGElement }, index: number) {
    event.preventDefault();
    event.currentTarget.focus();
    drag = { index, x: event.clientX, y: event.clientY };
    event.currentTarget.setPointerCapture(event.pointerId);
  }
  function pull(event: PointerEvent) {
    if (!drag) return;
    const [dx, dy] = [(event.clientX - drag.x) * k, (event.clientY - drag.y) * k];
    onlive(moveInOrder(points, drag.index, dx / widthPx, dy / heightPx));
    drag = { ...drag, x: event.clientX, y: event.clientY };
  }
  function release() {
    if (drag) oncommit();
    drag = null;
  }
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  };
  function key(event: KeyboardEvent, index: number) {
    const arrow = arrows[event.key];
    if (!arrow) return;
    event.preventDefault();
    const step = event.shiftKey ? 20 : 2;
    onlive(moveInOrder(points, index, (arrow[0] * step) / widthPx, (arrow[1] * step) / heightPx));
    oncommit();
  }
</script>

{#each points as [x, y], i (i)}
  <g
    role="button"
    tabindex="0"
    aria-label={`${name}, point ${i + 1} of ${points.length}: drag or use the arrow keys to move it`}
    class="cursor-move touch-none"
    data-grip={`divider-${i}`}
    onpointerdown={(event) => hold(event, i)}
    onpointermove={pull}
    onpointerup={release}
    onpointercancel={release}
    onkeydown={(event) => key(event, i)}
  >
    <circle cx={x * widthPx} cy={y * heightPx} r={13 * k} fill="transparent" />
    <rect
      x={x * widthPx - 5 * k}
      y={y * heightPx - 5 * k}
      width={10 * k}
      height={10 * k}
      fill="var(--ochre)"
      stroke="var(--card)"
      stroke-width={k}
    />
  </g>
{/each}
