<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../api/client';
  import { LATER, newest } from '../edit/newest';
  import type { SavedRecord } from '../edit/record.svelte';
  import VerdictMark from '../ui/VerdictMark.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    finding: Schemas['Finding'];
    /** Opened when it first appears: for the worst finding. */
    begins?: boolean;
  };
  let { bench, record, finding, begins = false }: Props = $props();

  // Its first value only: what a person opens or closes stays so.
  // svelte-ignore state_referenced_locally
  let open = $state(begins);
  let found = $state<Schemas['WaysOut'] | null>(null);
  let trouble = $state('');
  /** The report that the ways were tried for; another one makes them old. */
  let triedFor = $state.raw<unknown>(null);
  let left = false;
  const old = $derived(triedFor !== bench.report || bench.dragging);
  const id = $props.id();

  const find = newest(async () => {
    const now = bench.report;
    const body = { ...bench.plan(), plate_id: record.id, key: finding.key };
    try {
      const answer = await ask(() => api.POST('/api/calc/ways-out', { body }));
      if (left) return;
      found = answer as Schemas['WaysOut'];
      triedFor = now;
      trouble = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      trouble = error.message;
      if (error.passing && !left) return LATER;
    }
  });

  $effect(() => {
    if (open && bench.report && !bench.dragging && triedFor !== bench.report) void find();
  });
  $effect(() => () => {
    left = true;
  });

  const usable = (remedy: Schemas['Remedy']) =>
    [remedy.changes, remedy.shot, remedy.things].some((c) => Object.keys(c ?? {}).length > 0);
</script>

<button
  class="text-soft hover:text-ink mt-0.5 text-sm underline"
  aria-expanded={open}
  aria-controls={id}
  onclick={() => (open = !open)}>{open ? 'Hide ways out' : 'Ways out'}</button
>
{#if open}
  <div {id} aria-busy={old} class={old && found ? 'opacity-60' : ''}>
    {#if trouble}<p class="text-sm" role="status">{trouble}</p>{/if}
    {#if !found && !trouble}
      <p class="text-soft text-sm" role="status">Trying what would mend it…</p>
    {:else if found && found.remedies.length === 0}
      <p class="text-sm">
        Nothing in this plan and kit mends it without breaking something else.
        {#if found.otherwise}It would take: {found.otherwise}{/if}
      </p>
    {:else if found}
      <ul class="mt-1 grid gap-1.5">
        {#each found.remedies as remedy, i (i)}
          <li class="bg-paper p-1.5 text-sm">
            <div class="flex items-start justify-between gap-2">
              <span class="font-semibold">{remedy.sentence}</span>
              {#if usable(remedy) && bench.editable}
                <button
                  class="btn tape min-h-7! shrink-0 py-0!"
                  disabled={old}
                  onclick={() => bench.apply(record, remedy)}>Do this</button
                >
              {/if}
            </div>
            <span class="flex items-start gap-1.5">
              <span class="pt-1"><VerdictMark verdict={remedy.verdict} size={16} /></span>
              <span>{remedy.effect}</span>
            </span>
          </li>
        {/each}
      </ul>
    {/if}
  </div>
{/if}
