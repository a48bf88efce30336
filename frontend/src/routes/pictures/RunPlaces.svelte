<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import type { Ran } from './run';

  type Props = { ran: Ran; picture: Picture };
  let { ran, picture }: Props = $props();
  const most = $derived(Math.max(...ran.count, 1));
  const wide = $derived(picture.look_width_px / ran.columns);
  const high = $derived(picture.look_height_px / ran.rows);
  const places = $derived(
    ran.count.flatMap((count, n) =>
      count > 0
        ? [
            {
              n,
              x: (n % ran.columns) * wide,
              y: Math.floor(n / ran.columns) * high,
              strength: 0.15 + (0.5 * count) / most,
              says: `from frame ${ran.first[n]}, in ${count} of ${ran.looked} frames`,
            },
          ]
        : [],
    ),
  );
</script>

<svg
  viewBox="0 0 {picture.look_width_px} {picture.look_height_px}"
  class="absolute inset-0 m-auto max-h-[52vh] max-w-full"
  width={picture.look_width_px}
  style:height="auto"
  role="img"
  aria-label="Places in which something moves"
  data-testid="places"
>
  {#each places as place (place.n)}
    <rect
      x={place.x}
      y={place.y}
      width={wide}
      height={high}
      fill="var(--ochre)"
      fill-opacity={place.strength}
    >
      <title>{place.says}</title>
    </rect>
  {/each}
</svg>
