<script lang="ts" generics="T extends Thing, Of extends { name: string }">
  import type { Snippet } from 'svelte';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { FieldSpec } from './fields';
  import KitRecord from './KitRecord.svelte';
  import type { Shelf, Thing } from './shelf.svelte';

  type Props = {
    title: string;
    shelf: Shelf<T, Of>;
    /** What stands before the kinds that one can be started from. */
    add: string;
    starts: readonly Of[];
    /** What is said while nothing stands there. */
    empty: string;
    /** What one is, for the remove button. */
    what: string;
    specs: (record: SavedRecord<T>) => FieldSpec[];
    editable: boolean;
    onremove: (name: string, remove: () => Promise<void>) => void;
    children: Snippet<[SavedRecord<T>]>;
  };
  let { title, shelf, add, starts, empty, what, specs, editable, onremove, children }: Props =
    $props();
</script>

<section class="mt-8" aria-label={title}>
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">{title}</h2>
    {#if editable}
      <p class="text-sm">
        <span class="text-soft">{add}</span>
        {#each starts as one (one.name)}
          <button class="ml-2 underline" onclick={() => shelf.add(one)}>{one.name}</button>
        {/each}
      </p>
    {/if}
  </div>
  {#if shelf.records.length === 0}
    <p class="text-soft">{empty}</p>
  {/if}
  <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
    {#each shelf.records as record (record.id)}
      <KitRecord
        {record}
        specs={specs(record)}
        {what}
        disabled={!editable}
        onremove={() => onremove(record.draft.name, () => shelf.remove(record))}
      >
        {@render children(record)}
      </KitRecord>
    {/each}
  </div>
</section>
