<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../api/client';
  import { LATER, newest } from '../edit/newest';
  import type { SavedRecord } from '../edit/record.svelte';
  import { keyed } from '../ui/keyed';
  import VerdictMark from '../ui/VerdictMark.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';
  import WhatIf from './WhatIf.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    finding: Schemas['Finding'];
    /** Opened when it first appears: for the worst finding. */
    begins?: boolean;
  };
  let { bench, record, finding, begins = false }: Props = $props();
  /** The panel is made anew for another plate; what it asks may come back after it is gone. */
  // svelte-ignore state_referenced_locally
  const plateId = record.id;

  // Its first value only: what a person opens or closes stays so.
  // svelte-ignore state_referenced_locally
  let open = $state(begins);
  let found = $state<Schemas['WaysOut'] | null>(null);
  /** The search for two changes that do it together, while it goes on and when it is done. */
  let searched = $state<{ tried: number; of: number; going: boolean; more: boolean } | null>(null);
  /** Every search has its number: one that is no longer the newest gives up. */
  let search = 0;
  let trouble = $state('');
  /** The way whose pictures are looked at. */
  let looked = $state.raw<Schemas['Remedy'] | null>(null);
  /** The plan that the ways were tried for; another one makes them old. */
  let triedFor = $state.raw<string | null>(null);
  let left = false;
  /** Whether a person has asked for this finding: pairs are not searched for one that opened by itself. */
  // svelte-ignore state_referenced_locally
  let wanted = !begins;
  const old = $derived(triedFor !== bench.told || bench.dragging);
  const id = $props.id();

  const find = newest(async () => {
    const now = bench.told;
    stop();
    searched = null;
    const body = { ...bench.plan(), plate_id: plateId, key: finding.key };
    try {
      const answer = await ask(() => api.POST('/api/calc/ways-out', { body }));
      if (left) return;
      found = answer as Schemas['WaysOut'];
      triedFor = now;
      trouble = '';
      if (!found.remedies.some(usable)) {
        if (wanted) void findPairs();
        else searched = { tried: 0, of: 0, going: false, more: true };
      }
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      trouble = error.message;
      if (error.passing && !left) return LATER;
    }
  });

  function stop() {
    search += 1;
    if (searched) searched.going = false;
  }

  /** Goes on in short steps while it finds nothing, so that it can be watched and stopped. */
  async function findPairs() {
    const mine = (search += 1);
    const plan = bench.plan();
    let begin = searched?.tried ?? 0;
    searched = { tried: begin, of: searched?.of ?? 0, going: true, more: true };
    try {
      for (let more = true; more;) {
        const body = { ...plan, plate_id: plateId, key: finding.key, begin };
        const part = (await ask(() =>
          api.POST('/api/calc/pairs-out', { body }),
        )) as Schemas['PairsOut'];
        if (left || mine !== search || !found) return;
        begin = part.tried;
        more = part.more && part.remedies.length === 0;
        searched = { tried: part.tried, of: part.of, going: more, more };
        if (part.remedies.length)
          found = { ...found, remedies: [...part.remedies, ...found.remedies] };
      }
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (left || mine !== search) return;
      trouble = error.message;
      stop();
    }
  }

  $effect(() => {
    if (open && bench.report && !bench.dragging && triedFor !== bench.told) void find();
  });
  $effect(() => () => {
    left = true;
    stop();
  });

  const usable = (remedy: Schemas['Remedy']) =>
    [remedy.changes, remedy.shot, remedy.things].some((c) => Object.keys(c ?? {}).length > 0);
</script>

<button
  class="text-soft hover:text-ink mt-0.5 text-sm underline"
  aria-expanded={open}
  aria-controls={id}
  onclick={() => {
    open = !open;
    wanted = true;
    if (!open) stop();
  }}>{open ? 'Hide ways out' : 'Ways out'}</button
>
{#if open}
  <div {id} aria-busy={old} class={old && found ? 'opacity-60' : ''}>
    {#if trouble}<p class="text-sm" role="status">{trouble}</p>{/if}
    {#if !found && !trouble}
      <p class="text-soft text-sm" role="status">Trying what would mend it…</p>
    {:else if found && found.remedies.length === 0}
      <p class="text-sm">
        {searched?.going
          ? 'No single change in this plan and kit mends it without breaking something else.'
          : 'Nothing in this plan and kit mends it without breaking something else.'}
        {#if found.otherwise}It would take: {found.otherwise}{/if}
      </p>
    {:else if found}
      <ul class="mt-1 grid gap-1.5">
        {#each keyed(found.remedies, (one) => one.sentence) as { key, one: remedy } (key)}
          <li class="bg-paper p-1.5 text-sm">
            <div class="flex items-start justify-between gap-2">
              <span class="font-semibold">{remedy.sentence}</span>
              {#if usable(remedy)}
                <span class="flex shrink-0 flex-col items-end gap-0.5">
                  {#if bench.editable}
                    <button
                      class="btn tape min-h-7! py-0!"
                      disabled={old}
                      onclick={() => bench.apply(record, remedy)}>Do this</button
                    >
                  {/if}
                  <button
                    class="text-soft hover:text-ink min-h-6 underline"
                    disabled={old}
                    title="Two developed pictures: as planned, and with this change"
                    onclick={() => (looked = remedy)}>See it</button
                  >
                </span>
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
    {#if searched?.going}
      <div class="mt-1 flex items-center gap-2 text-sm">
        <span role="status">
          Trying two changes together{searched.of
            ? `: ${searched.tried} pairs of at most ${searched.of}`
            : ''}…
        </span>
        <button class="btn min-h-7! py-0!" onclick={stop}>Stop</button>
      </div>
    {:else if searched?.more && found && !old}
      <p class="mt-1 text-sm">
        {#if searched.tried}Stopped after {searched.tried} pairs of changes.{/if}
        <button
          class="underline"
          onclick={() => {
            wanted = true;
            void findPairs();
          }}>{searched.tried ? 'Go on' : 'Try two changes together'}</button
        >
      </p>
    {/if}
  </div>
{/if}
{#if looked}
  {@const remedy = looked}
  <WhatIf
    {bench}
    {record}
    sentence={remedy.sentence}
    gives={remedy.effect}
    change={remedy}
    onclose={() => (looked = null)}
    ondo={bench.editable && !old ? () => bench.apply(record, remedy) : undefined}
  />
{/if}
