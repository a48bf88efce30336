<script lang="ts">
  import type { Snippet } from 'svelte';

  type Props = { title: string; children: Snippet };
  let { title, children }: Props = $props();
</script>

<section class="border-line border-b px-3 py-1.5" aria-label={title}>
  <h3 class="text-soft mb-0.5 text-xs tracking-wide">{title}</h3>
  {@render children()}
</section>
