<script lang="ts">
  import { within, type Handle, type Line, type Place } from './picked';

  type Props = {
    src: string;
    alt: string;
    /** The picture's own pixels. */
    width: number;
    height: number;
    handles: Handle[];
    lines?: Line[];
    /** Outlines of balls: the radius is a part of the width. */
    circles?: (Place & { radius: number; sign: string })[];
    /** Where a camera that was found has the handles, by their ids. */
    found?: Record<string, Place>;
    /** Where the plan has what can be picked. */
    hints?: (Place & { name: string })[];
    /** Down the picture at its left and its right. */
    horizon?: [number, number] | null;
    /** Whether a press on the picture picks something. */
    armed: boolean;
    editable: boolean;
    /** A press on the picture: the handle that is dragged from then on. */
    onpick: (at: Place) => string | null;
    onmove: (id: string, to: Place) => void;
    /** The handle rests. */
    ondone: (id: string) => void;
  };
  let {
    src,
    alt,
    width,
    height,
    handles,
    lines = [],
    circles = [],
    found = {},
    hints = [],
    horizon = null,
    armed,
    editable,
    onpick,
    onmove,
    ondone,
  }: Props = $props();
  const clip = $props.id();
  let svg = $state<SVGSVGElement>();
  let held = $state<string | null>(null);
  /** Where the pointer is, while something is picked or dragged. */
  let at = $state<Place | null>(null);
  const CLOSE = 4;
  const size = $derived(Math.max(width, height));
  const radius = $derived(0.11 * size);
  /** The loupe stays out of the way of the hand. */
  const loupe = $derived(
    at ? { x: at.x < 0.5 ? width - radius - 8 : radius + 8, y: radius + 8 } : null,
  );

  function placeOf(event: PointerEvent): Place {
    const box = svg!.getBoundingClientRect();
    return {
      x: within((event.clientX - box.left) / box.width),
      y: within((event.clientY - box.top) / box.height),
    };
  }
  function press(event: PointerEvent) {
    if (!editable || event.button !== 0) return;
    // Two edges often begin at one corner: what is armed goes before what lies there already.
    const there = (event.target as Element).closest<SVGElement>('[data-handle]');
    const own = armed ? undefined : there?.dataset.handle;
    const id = own ?? (armed ? onpick(placeOf(event)) : null);
    if (!id) return;
    held = id;
    at = placeOf(event);
    svg!.setPointerCapture(event.pointerId);
    event.preventDefault();
    if (own) svg!.querySelector<SVGElement>(`[data-handle="${own}"]`)?.focus();
  }
  function pull(event: PointerEvent) {
    if (held || (armed && editable)) at = placeOf(event);
    if (held && at) onmove(held, at);
  }
  function release() {
    if (held) ondone(held);
    held = null;
    at = null;
  }
  let rest: ReturnType<typeof setTimeout> | undefined;
  const ARROWS: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  };
  function key(event: KeyboardEvent, handle: Handle) {
    const way = ARROWS[event.key];
    if (!way || !editable) return;
    event.preventDefault();
    const step = event.shiftKey ? 10 : 1;
    at = {
      x: within(handle.x + (way[0] * step) / width),
      y: within(handle.y + (way[1] * step) / height),
    };
    onmove(handle.id, at);
    // A held arrow key is one edit, not fifty.
    clearTimeout(rest);
    rest = setTimeout(() => {
      at = null;
      ondone(handle.id);
    }, 350);
  }
</script>

<svg
  bind:this={svg}
  viewBox="0 0 {width} {height}"
  class={['bg-well block max-h-[80vh] w-full touch-none select-none', armed && 'cursor-crosshair']}
  role="group"
  aria-label={alt}
  data-testid="canvas"
  onpointerdown={press}
  onpointermove={pull}
  onpointerup={release}
  onpointercancel={release}
  onpointerleave={() => !held && (at = null)}
>
  <defs>
    {#if loupe}
      <clipPath id={clip}><circle cx={loupe.x} cy={loupe.y} r={radius} /></clipPath>
    {/if}
  </defs>
  <image href={src} {width} {height} />
  {#if horizon}
    {@const [left, right] = horizon}
    <g data-testid="horizon">
      {@render cased(0, left * height, width, right * height, 'white', 1.5, '')}
    </g>
  {/if}
  {#each hints as hint (hint.name)}
    <circle
      cx={hint.x * width}
      cy={hint.y * height}
      r={0.009 * size}
      class="fill-none stroke-white"
      stroke-width="1.5"
      stroke-dasharray="4 3"
      vector-effect="non-scaling-stroke"><title>{hint.name}, as planned</title></circle
    >
  {/each}
  {#each lines as line (line.id)}
    {@render cased(
      line.from.x * width,
      line.from.y * height,
      line.to.x * width,
      line.to.y * height,
      'var(--ochre)',
      2,
      line.dash,
    )}
    {@render word(
      line.sign,
      ((line.from.x + line.to.x) / 2) * width,
      ((line.from.y + line.to.y) / 2) * height,
    )}
  {/each}
  {#each circles as one, n (n)}
    {#each [['rgb(0 0 0 / .65)', 5], ['var(--ochre)', 2]] as const as [stroke, wide] (wide)}
      <circle
        cx={one.x * width}
        cy={one.y * height}
        r={one.radius * width}
        fill="none"
        {stroke}
        stroke-width={wide}
        vector-effect="non-scaling-stroke"
      />
    {/each}
    {@render word(
      one.sign,
      (one.x + 0.75 * one.radius) * width,
      one.y * height - 0.75 * one.radius * width,
    )}
  {/each}
  {#each handles as handle, n (handle.id)}
    {@const there = found[handle.id]}
    {#if there}
      <line
        x1={handle.x * width}
        y1={handle.y * height}
        x2={there.x * width}
        y2={there.y * height}
        class="stroke-white"
        stroke-width="2"
        vector-effect="non-scaling-stroke"
      />
    {/if}
    <g
      role="button"
      tabindex={editable ? 0 : -1}
      aria-label="{handle.label}: drag it, or move it with the arrow keys"
      data-handle={handle.id}
      class={editable && !armed ? 'cursor-grab' : ''}
      onkeydown={(event) => key(event, handle)}
    >
      <circle cx={handle.x * width} cy={handle.y * height} r={0.02 * size} fill="transparent" />
      <circle
        cx={handle.x * width}
        cy={handle.y * height}
        r={0.006 * size}
        fill="none"
        stroke="rgb(0 0 0 / .65)"
        stroke-width="5"
        vector-effect="non-scaling-stroke"
      />
      <circle
        cx={handle.x * width}
        cy={handle.y * height}
        r={0.006 * size}
        fill="none"
        stroke="var(--ochre)"
        stroke-width="2"
        vector-effect="non-scaling-stroke"
      />
    </g>
    {#if lines.length + circles.length === 0}
      {@render word(String(n + 1), handle.x * width + 0.014 * size, handle.y * height)}
    {/if}
  {/each}
  {#if loupe && at}
    <g clip-path="url(#{clip})" class="pointer-events-none">
      <image
        href={src}
        width={width * CLOSE}
        height={height * CLOSE}
        x={loupe.x - at.x * width * CLOSE}
        y={loupe.y - at.y * height * CLOSE}
      />
      <path
        d="M{loupe.x - radius} {loupe.y}h{0.9 * radius}m{0.2 * radius} 0h{0.9 *
          radius}M{loupe.x} {loupe.y - radius}v{0.9 * radius}m0 {0.2 * radius}v{0.9 * radius}"
        stroke="var(--ochre)"
        stroke-width="1.5"
        vector-effect="non-scaling-stroke"
      />
    </g>
    <circle
      cx={loupe.x}
      cy={loupe.y}
      r={radius}
      class="stroke-ink pointer-events-none fill-none"
      stroke-width="2"
      vector-effect="non-scaling-stroke"
      data-testid="loupe"
    />
  {/if}
</svg>

<!-- A line that shows on light and dark alike. -->
{#snippet cased(
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  stroke: string,
  wide: number,
  dash: string,
)}
  <line
    {x1}
    {y1}
    {x2}
    {y2}
    stroke="rgb(0 0 0 / .65)"
    stroke-width={wide + 3}
    vector-effect="non-scaling-stroke"
  />
  <line
    {x1}
    {y1}
    {x2}
    {y2}
    {stroke}
    stroke-width={wide}
    stroke-dasharray={dash}
    vector-effect="non-scaling-stroke"
  />
{/snippet}
{#snippet word(text: string, x: number, y: number)}
  <text
    {x}
    {y}
    font-size={0.02 * size}
    class="pointer-events-none fill-white font-bold"
    stroke="rgb(0 0 0 / .8)"
    stroke-width="4"
    paint-order="stroke"
    vector-effect="non-scaling-stroke">{text}</text
  >
{/snippet}
