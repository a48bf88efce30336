<script lang="ts">
  import { onlyHere } from './reach';
</script>

{#if onlyHere(location.hostname)}
  <p class="mt-2 text-sm">
    <b>These addresses work on this machine only.</b> Open Jungoptic by the machine's name in your network
    before you hand one on.
  </p>
{/if}
