<script lang="ts">
  import type { Snippet } from 'svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import type { Table } from './table.svelte';

  type Props = {
    table: Table;
    /** What stands in the place of what a picture says, while the set is built again. */
    children?: Snippet;
  };
  let { table, children }: Props = $props();
  const asked = $derived(table.asked);
  const told = $derived(table.told);
</script>

<section class="px-3 py-2" aria-label="The next picture">
  <h2 class="text-lg">
    {#if table.aim.kind === 'instead'}Picture {table.next}, once more
    {:else if table.aim.kind === 'after'}Picture {table.next}, put in
    {:else}Next: picture {table.next}{/if}
  </h2>
  {#if asked}
    {#if asked.frame === null}
      <p>The sheet asks for no picture {asked.number}: it ends before.</p>
    {:else}
      <p class="text-soft">
        Frame {asked.frame}, shown for {asked.held}
        {asked.held === 1 ? 'frame' : 'frames'}. Before it:
      </p>
      {#if asked.asks.length}
        <ul class="mt-1" data-testid="asks">
          {#each asked.asks as one (one.column)}
            <li class="border-line flex gap-2 border-t py-0.5">
              <span class="w-28 shrink-0">{one.column}</span>
              <b>{one.words}</b>
            </li>
          {/each}
        </ul>
      {:else}
        <p>
          {table.all?.begun
            ? 'nothing that the sheet knows of.'
            : 'whatever you pose: nothing is on the sheet yet.'}
        </p>
      {/if}
    {/if}
  {/if}
  {#if table.aim.kind !== 'end'}
    <button class="mt-1 underline" onclick={() => (table.aim = { kind: 'end' })}
      >Back to the end of the film</button
    >
  {/if}
</section>

{#if children && table.continues}
  {@render children()}
{:else}
  <section
    class="border-line px-3 py-2 max-md:border-y md:border-x"
    aria-label="What the picture says"
    data-testid="said"
    data-picture={told?.picture}
  >
    {#if told}
      <h2 class="text-lg">Picture {told.picture} says</h2>
      {#if told.problem}<p class="font-semibold">It was not measured: {told.problem}</p>{/if}
      {#if told.findings.length}
        <FindingList findings={told.findings} />
      {:else if !told.problem}
        <p class="text-soft">It is the first of its block: the others are compared with it.</p>
      {/if}
    {:else}
      <h2 class="text-lg">What a picture says</h2>
      <p class="text-soft">
        As soon as one is taken: its light against the one before and the block's first, whether
        everything stands, and what moved.
      </p>
    {/if}
  </section>
{/if}
