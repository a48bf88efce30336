<script lang="ts">
  import { drawnArea, type Area, type Point } from './area';

  type Props = {
    /** The picture's own pixels: it may be shown in a box of another shape. */
    width: number;
    height: number;
    area: Area | null;
    onarea: (area: Area) => void;
  };
  let { width, height, area, onarea }: Props = $props();
  let svg = $state<SVGSVGElement>();
  let from = $state<Point | null>(null);

  function at(event: PointerEvent): Point {
    const to = svg!.getScreenCTM()!.inverse();
    const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(to);
    return [place.x / width, place.y / height];
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
  viewBox="0 0 {width} {height}"
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
    {@const sides = {
      x: left * width,
      y: top * height,
      width: (right - left) * width,
      height: (bottom - top) * height,
    }}
    <path
      d="M0 0H{width}V{height}H0ZM{sides.x} {sides.y}v{sides.height}h{sides.width}v{-sides.height}Z"
      class="fill-black/45"
      fill-rule="evenodd"
    />
    <rect
      {...sides}
      class="fill-none stroke-white"
      stroke-width="3"
      vector-effect="non-scaling-stroke"
    />
    <rect
      {...sides}
      class="fill-none stroke-black"
      stroke-width="1"
      stroke-dasharray="5 4"
      vector-effect="non-scaling-stroke"
    />
  {/if}
</svg>
