<script lang="ts">
  import FindingList from '../../lib/shot/FindingList.svelte';
  import type { Source } from './sources';
  import type { Shown, Table } from './table.svelte';

  type Props = { table: Table; source: Source | null; then: Shown };
  /** A set that is built again: what to move until it stands as it did. */
  let { table, source, then }: Props = $props();
  const told = $derived(table.rebuilt);
  $effect(() => () => {
    table.comparing = false;
    table.rebuilt = null;
  });
</script>

<section
  class="border-line px-3 py-2 max-md:border-y md:border-x"
  aria-label="Building the set again"
  data-testid="rebuild"
>
  <h2 class="text-lg">As it stood for picture {then.picture}?</h2>
  {#if table.comparing}
    <p class="flex items-center gap-2" role="status">
      The set is looked at again and again.
      <button class="btn min-h-8! py-0!" onclick={() => (table.comparing = false)}>Enough</button>
    </p>
  {:else}
    <button class="btn" disabled={!source} onclick={() => source && void table.compareSet(source)}
      >Compare the set with it</button
    >
    {#if !source}<span class="text-soft text-sm">Choose a camera first.</span>{/if}
  {/if}
  {#if told}
    {#if told.moves.length}
      <ul class="mt-1" data-testid="moves">
        {#each told.moves as one, i (i)}
          <li class="border-line flex gap-2 border-t py-0.5">
            <span class="w-16 shrink-0">{one.what}</span> <b>{one.way}</b>
          </li>
        {/each}
      </ul>
    {:else}
      <p class="mt-1 font-semibold" data-testid="moves">
        It stands as it did: take the first picture.
      </p>
    {/if}
    <FindingList findings={told.findings} />
  {:else}
    <p class="text-soft mt-1 text-sm">
      It tells what to move, and which way, until the new set lies on the last picture before it.
      That lies over the live picture as a ghost.
    </p>
  {/if}
</section>
