<script lang="ts" generics="T extends Revisioned">
  import type { ComponentProps } from 'svelte';
  import type { Schemas } from '../api/client';
  import type { Editing, Revisioned } from '../edit/record.svelte';
  import type { Kind } from '../quantities';
  import NumberField from '../ui/NumberField.svelte';
  import type { OpenShot } from './open-shot.svelte';

  type Props = {
    bench: OpenShot;
    record: Editing<T>;
    field: keyof T & string;
    label: string;
    kind: Kind;
    derived?: number | null;
    nullable?: boolean;
    hint?: string;
    words?: ComponentProps<typeof NumberField>['words'];
    working?: Schemas['Working'];
    /** Every step of a change, instead of changing the field itself. */
    onlive?: (value: number | null) => void;
  };
  let {
    bench,
    record,
    field,
    label,
    kind,
    derived: fallback,
    nullable = false,
    hint,
    words,
    working,
    onlive,
  }: Props = $props();
</script>

<NumberField
  {label}
  {kind}
  derived={fallback}
  {nullable}
  {hint}
  {words}
  {working}
  value={(record.draft[field] as number | null | undefined) ?? null}
  problem={record.problems[field]}
  disabled={!bench.editable}
  onlive={onlive ?? ((value) => bench.live(record, field, value as T[typeof field]))}
  oncommit={() => bench.commit(record, label)}
/>
