<script lang="ts">
  import ClashDialog from '../ui/ClashDialog.svelte';
  import type { OpenShot } from './open-shot.svelte';

  /** Asks about everything of a shot that somebody else has changed meanwhile. */
  let { bench }: { bench: OpenShot } = $props();
</script>

<ClashDialog record={bench.whole} name="this shot" />
{#each bench.allPlates as plate (plate.id)}
  <ClashDialog record={plate} name={plate.draft.name} />
{/each}
{#each bench.allStandIns as standIn (standIn.id)}
  <ClashDialog record={standIn} name={standIn.draft.name} />
{/each}
