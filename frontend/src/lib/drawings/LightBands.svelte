<script lang="ts">
  import type { Schemas } from '../api/client';
  import { bandFill, signed } from '../light';

  type Props = {
    map: Schemas['LightMap'];
    /** From the map's metres to the paper, as `x,y`. */
    place: (point: readonly number[]) => string;
    /** Whether the lines carry their stops. Default on. */
    words?: boolean;
  };
  let { map, place, words = true }: Props = $props();
  const ring = (path: readonly (readonly number[])[]) => `M${path.map(place).join('L')}Z`;
  /** Only whole stops carry words, at the middle of their longest line. */
  const labels = $derived.by(() => {
    const longest: Record<string, (typeof map.lines)[number]> = {};
    for (const line of map.lines) {
      const key = line.stops.toFixed(2);
      if (!longest[key] || line.path.length > longest[key].path.length) longest[key] = line;
    }
    return Object.values(longest)
      .filter((line) => line.path.length > 6)
      .map((line) => {
        const middle = line.path[Math.floor(line.path.length / 2)] ?? [0, 0];
        const [x = '0', y = '0'] = place(middle).split(',');
        return { stops: line.stops, x: Number(x), y: Number(y) };
      });
  });
</script>

<g data-testid="light-map" pointer-events="none">
  {#each map.bands as band, i (i)}
    {@const look = bandFill(band.low_stops, band.high_stops)}
    <path
      d={band.paths.map(ring).join('')}
      fill={look.fill}
      fill-opacity={look.opacity}
      fill-rule="evenodd"
    />
  {/each}
  {#each map.lines as line, i (i)}
    <polyline
      points={line.path.map(place).join(' ')}
      fill="none"
      stroke="var(--ochre-ink)"
      stroke-width={Math.abs(line.stops) < 0.01 ? 1.6 : 0.7}
    />
  {/each}
  {#if words}
    {#each labels as label (label.stops)}
      <text
        x={label.x}
        y={label.y + 3}
        text-anchor="middle"
        class="haloed"
        font-size="10"
        fill="var(--ochre-ink)">{signed(label.stops)}</text
      >
    {/each}
  {/if}
</g>
