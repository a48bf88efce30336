<script lang="ts">
  import { signed, tint, type Measured } from './cloth';

  type Props = {
    measured: Measured;
    view: 'light' | 'matte' | 'over';
    /** The frame as it was filmed. */
    look: string;
    /** What the key keeps, with its matte; null while it is not there. */
    kept: string | null;
    /** What it is laid over; null: grey. */
    back: string | null;
    ratio: number;
    name: string;
  };
  let { measured, view, look, kept, back, ratio, name }: Props = $props();
  /** The map has so many units across; as many down as the picture's shape asks for. */
  const WIDE = 600;
  const high = $derived(WIDE / ratio);
  const box = $derived.by(() => {
    const [left, top, right, bottom] = measured.area;
    return { x: left * WIDE, y: top * high, w: (right - left) * WIDE, h: (bottom - top) * high };
  });
  const X = (part: number) => box.x + part * box.w;
  const Y = (part: number) => box.y + part * box.h;
  const place = $derived(
    `left:${(box.x / WIDE) * 100}%;top:${(box.y / high) * 100}%;width:${(box.w / WIDE) * 100}%;height:${(box.h / high) * 100}%`,
  );
  const says = $derived(
    { light: 'The light on the cloth', matte: 'The matte', over: 'Keyed' }[view],
  );
</script>

<div
  class="border-line relative mt-1 overflow-hidden border"
  style:aspect-ratio={ratio}
  style:background={view === 'matte' ? '#000' : '#777'}
  data-testid="cloth-map"
  data-view={view}
>
  {#if view === 'light'}
    <img src={look} alt="{name}, as it was filmed" class="absolute inset-0 h-full w-full" />
    <svg
      viewBox="0 0 {WIDE} {high}"
      class="absolute inset-0 h-full w-full"
      role="img"
      aria-label="{says} of {name}, in stops against its mean"
    >
      {#each measured.areas ?? [] as area (`${area.left} ${area.top}`)}
        <rect
          x={X(area.left)}
          y={Y(area.top)}
          width={X(area.right) - X(area.left)}
          height={Y(area.bottom) - Y(area.top)}
          fill={tint(area.stops)}
        />
        <text
          x={(X(area.left) + X(area.right)) / 2}
          y={(Y(area.top) + Y(area.bottom)) / 2 + 5}
          font-size="16"
          font-weight="700"
          text-anchor="middle"
          fill="#fff"
          stroke="#000"
          stroke-width="3"
          paint-order="stroke">{signed(area.stops)}</text
        >
      {/each}
      {#each measured.lines ?? [] as line, n (n)}
        <polyline
          points={line.points.map(([x, y]) => `${X(x)},${Y(y)}`).join(' ')}
          fill="none"
          stroke="#fff"
          stroke-width={line.stops === 0 ? 2 : 1.2}
          stroke-dasharray={line.stops < 0 ? '5 3' : undefined}
        >
          <title>{signed(line.stops)} stops</title>
        </polyline>
      {/each}
    </svg>
  {:else}
    {#if view === 'over' && back}
      <img src={back} alt="" class="absolute inset-0 h-full w-full object-cover" />
    {/if}
    {#if kept}
      <img
        src={kept}
        alt="{says}: {name}"
        class="absolute"
        style={place}
        style:filter={view === 'matte' ? 'brightness(0) invert(1)' : undefined}
      />
    {/if}
  {/if}
</div>
{#if view === 'light'}
  <p class="text-soft text-xs">
    Stops against the cloth’s mean, area by area; lines of equal light every quarter of a stop,
    dashed where it is darker.
  </p>
{/if}
