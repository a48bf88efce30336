<script lang="ts">
  import TopStrip from '../lib/ui/TopStrip.svelte';
</script>

<TopStrip crumbs={[]} />
<main class="p-8">
  <h1 class="text-xl">There is no such page</h1>
  <p class="mt-2"><a class="underline" href="/">To your productions</a></p>
</main>
