<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import type { Ran } from './run';
  import Over from './Over.svelte';

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

<Over {picture} label="Places in which something moves" testid="places">
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
</Over>
