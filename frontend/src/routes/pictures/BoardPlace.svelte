<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import { outlineOf, type Board } from './board';
  import Over from './Over.svelte';

  type Props = { board: Board; picture: Picture };
  let { board, picture }: Props = $props();
  const times = $derived(picture.look_width_px / board.width_px);
</script>

<Over {picture} label="The board, as it was found" testid="board-place">
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
</Over>
