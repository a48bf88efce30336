<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Picture } from '../../lib/pictures/sending.svelte';

  type Props = { picture: Picture; label: string; testid: string; children: Snippet };
  let { picture, label, testid, children }: Props = $props();
</script>

<!-- Drawn over a picture, in the pixels of how it can be looked at. -->
<svg
  viewBox="0 0 {picture.look_width_px} {picture.look_height_px}"
  class="absolute inset-0 m-auto max-h-[52vh] max-w-full"
  width={picture.look_width_px}
  style:height="auto"
  role="img"
  aria-label={label}
  data-testid={testid}
>
  {@render children()}
</svg>
