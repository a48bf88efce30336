<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import type { PictureDesk } from './desk.svelte';
  import Face from './Face.svelte';

  type Props = { desk: PictureDesk; picture: Picture };
  let { desk, picture }: Props = $props();
  const chosen = $derived(desk.chosenId === picture.id);
</script>

<button
  class={[
    'bg-card w-36 shrink-0 border-2 p-1 text-left',
    chosen ? 'border-ochre' : 'border-line',
    picture.put_away && 'opacity-60',
  ]}
  aria-pressed={chosen}
  data-testid="thumb"
  data-state={picture.state}
  onclick={() => desk.choose(picture.id)}
>
  <Face {desk} {picture} />
</button>
