<script lang="ts" generics="T extends Revisioned">
  import type { Revisioned, SavedRecord } from '../../lib/edit/record.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { FieldSpec } from './fields';

  type Props = {
    record: SavedRecord<T>;
    specs: FieldSpec[];
    disabled: boolean;
    /** A number is complete; saved by itself where nobody asks. */
    oncommit?: () => void;
  };
  let { record, specs, disabled, oncommit = () => void record.commit() }: Props = $props();
  type Field = keyof T & string;
</script>

{#each specs as spec (spec.field)}
  <NumberField
    label={spec.label}
    hint={spec.hint}
    kind={spec.kind}
    nullable={spec.nullable}
    value={(record.draft[spec.field as Field] as number | null) ?? null}
    problem={record.problems[spec.field]}
    {disabled}
    onlive={(value) => record.set(spec.field as Field, value as T[Field])}
    {oncommit}
  />
{/each}
