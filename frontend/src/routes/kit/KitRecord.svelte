<script lang="ts" generics="T extends Revisioned & { name: string }">
  import type { Snippet } from 'svelte';
  import type { Revisioned, SavedRecord } from '../../lib/edit/record.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import type { FieldSpec } from './fields';
  import SpecNumbers from './SpecNumbers.svelte';

  type Props = {
    record: SavedRecord<T>;
    specs: FieldSpec[];
    disabled: boolean;
    /** What it is, for the remove button. */
    what: string;
    onremove: () => void;
    /** What changes with what was typed, before it is saved. */
    follows?: (was: T, typed: T) => Partial<T>;
    children?: Snippet;
  };
  let { record, specs, disabled, what, onremove, follows, children }: Props = $props();
  type Field = keyof T & string;
  const commit = () => {
    Object.assign(record.draft, follows?.(record.committed, record.draft) ?? {});
    void record.commit();
  };
</script>

<div class="bg-card border-line border p-3" aria-label={record.draft.name} role="group">
  <TextField
    label="Name"
    value={record.draft.name}
    problem={record.problems['name']}
    {disabled}
    onlive={(value) => record.set('name' as Field, value as T[Field])}
    oncommit={commit}
  />
  <div class="mt-1 grid gap-x-6 sm:grid-cols-2">
    <SpecNumbers {record} {specs} {disabled} oncommit={commit} />
  </div>
  {@render children?.()}
  {#if record.problems['']}<p role="alert" class="font-semibold">{record.problems['']}</p>{/if}
  {#if !disabled}
    <div class="mt-2 text-right">
      <button class="text-soft text-sm underline" onclick={onremove}
        >Remove {what} {record.draft.name}</button
      >
    </div>
  {/if}
</div>
<ClashDialog {record} name={record.draft.name} />
