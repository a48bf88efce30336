<script lang="ts">
  import type { Developed } from './developing.svelte';

  type Props = {
    picture: Developed | null;
    /** The frame in hand. */
    frame: number;
    /** Whether it shows the plan as it is on the screen. */
    stands: boolean;
  };
  let { picture, frame, stands }: Props = $props();
</script>

{#if picture && picture.frame !== frame}
  <span class="text-soft text-sm">frame {picture.frame}</span>
{/if}
{#if picture && !stands}
  <span class="text-sm font-semibold">the plan has moved on</span>
{/if}
