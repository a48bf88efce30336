<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';

  type Props = { pace: Schemas['PaceOut'] };
  let { pace }: Props = $props();
  const where = $derived(pace.phase === 'set' ? 'on set' : 'in post');
</script>

<p class="text-soft text-sm" data-pace={pace.phase}>
  {#if pace.n === 0}
    Pace {where}: by the table; nothing is logged yet.
  {:else}
    Pace {where}: {pace.factor.toFixed(2)} times the table, from {pace.n} logged
    {pace.n === 1 ? 'piece' : 'pieces'} that took {pace.mean.toFixed(2)} times the estimate.
  {/if}
  <WorkingCard workings={[pace.working]} />
</p>
