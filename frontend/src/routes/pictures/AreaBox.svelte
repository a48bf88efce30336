<script lang="ts">
  import { drawnArea, type Area, type Point } from './area';

  type Props = {
    area: Area | null;
    onarea: (area: Area) => void;
  };
  let { area, onarea }: Props = $props();
  let svg = $state<SVGSVGElement>();
  let from = $state<Point | null>(null);

  function at(event: PointerEvent): Point {
    const box = svg!.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  }
  function press(event: PointerEvent) {
    if (event.button !== 0) return;
    from = at(event);
    svg!.setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function pull(event: PointerEvent) {
    const next = from && drawnArea(from, at(event));
    if (next) onarea(next);
  }
</script>

<!-- What lies outside of the part is dimmed; the sliders under it do the same by keys. -->
<svg
  bind:this={svg}
  viewBox="0 0 1 1"
  preserveAspectRatio="none"
  class="absolute inset-0 h-full w-full cursor-crosshair touch-none"
  role="img"
  aria-label="The part that is measured: draw it over the picture"
  data-testid="area"
  onpointerdown={press}
  onpointermove={pull}
  onpointerup={() => (from = null)}
  onpointercancel={() => (from = null)}
>
  {#if area}
    {@const [left, top, right, bottom] = area}
    <path
      d="M0 0H1V1H0ZM{left} {top}V{bottom}H{right}V{top}Z"
      class="fill-black/45"
      fill-rule="evenodd"
    />
    <rect
      x={left}
      y={top}
      width={right - left}
      height={bottom - top}
      class="fill-none stroke-white"
      stroke-width="3"
      vector-effect="non-scaling-stroke"
    />
    <rect
      x={left}
      y={top}
      width={right - left}
      height={bottom - top}
      class="fill-none stroke-black"
      stroke-width="1"
      stroke-dasharray="5 4"
      vector-effect="non-scaling-stroke"
    />
  {/if}
</svg>
