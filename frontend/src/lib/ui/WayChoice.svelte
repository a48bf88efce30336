<script lang="ts">
  import { WAYS, type Way } from './Compared.svelte';

  type Props = { way: Way; disabled?: boolean; onchange: (way: Way) => void };
  let { way, disabled = false, onchange }: Props = $props();
</script>

<div class="flex" role="group" aria-label="How the two are compared">
  {#each WAYS as one (one.key)}
    <button
      class={['btn', way === one.key && 'btn-main']}
      aria-pressed={way === one.key}
      title={one.hint}
      {disabled}
      onclick={() => onchange(one.key)}>{one.name}</button
    >
  {/each}
</div>
