<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import { outlineOf, type Board } from './board';

  type Props = { board: Board; picture: Picture };
  let { board, picture }: Props = $props();
  const times = $derived(picture.look_width_px / board.width_px);
</script>

<svg
  viewBox="0 0 {picture.look_width_px} {picture.look_height_px}"
  class="absolute inset-0 m-auto max-h-[52vh] max-w-full"
  width={picture.look_width_px}
  style:height="auto"
  role="img"
  aria-label="The board, as it was found"
  data-testid="board-place"
>
  <polygon
    points={outlineOf(board, picture.look_width_px)}
    fill="none"
    stroke="var(--ochre)"
    stroke-width="3"
    vector-effect="non-scaling-stroke"
  />
  {#each board.places as [x, y], n (n)}
    <circle cx={(x ?? 0) * times} cy={(y ?? 0) * times} r="5" fill="var(--ochre)" />
  {/each}
</svg>
