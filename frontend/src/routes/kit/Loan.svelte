<script lang="ts" generics="T extends Revisioned & Lent">
  import type { Revisioned, SavedRecord } from '../../lib/edit/record.svelte';
  import type { Lent } from './fields';

  type Props = { record: SavedRecord<T>; disabled: boolean };
  let { record, disabled }: Props = $props();
  const id = $props.id();
  const days = [
    ['loan_first', 'from'],
    ['loan_last', 'until'],
  ] as const;
  function change<K extends keyof Lent & keyof T & string>(field: K, value: T[K]) {
    record.set(field, value);
    void record.commit();
  }
  const problem = $derived(record.problems['loan_last'] ?? record.problems['loan_first']);
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1 pt-1">
  <label class="flex min-h-7 items-center gap-1.5">
    <input
      type="checkbox"
      {disabled}
      checked={record.draft.borrowed ?? false}
      onchange={(event) => change('borrowed', event.currentTarget.checked as T['borrowed'])}
    />
    borrowed
  </label>
  {#if record.draft.borrowed || record.draft.loan_first || record.draft.loan_last}
    {#each days as [field, word] (field)}
      <span class="flex items-center gap-1">
        <label for="{id}-{field}" class="text-soft text-sm">{word}</label>
        <input
          id="{id}-{field}"
          class="field w-auto! min-h-7! py-0.5!"
          type="date"
          {disabled}
          value={record.draft[field] ?? ''}
          onchange={(event) =>
            change(field, (event.currentTarget.value || null) as T[typeof field])}
        />
      </span>
    {/each}
  {/if}
  {#if problem}<p role="alert" class="w-full text-sm font-semibold">{problem}</p>{/if}
</div>
