<script lang="ts" generics="T extends Revisioned">
  import type { Revisioned, SavedRecord } from '../../lib/edit/record.svelte';
  import type { Kind } from '../../lib/quantities';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { Bench } from './bench.svelte';

  type Props = {
    bench: Bench;
    record: SavedRecord<T>;
    field: keyof T & string;
    label: string;
    kind: Kind;
    derived?: number | null;
    nullable?: boolean;
    hint?: string;
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
  }: Props = $props();
</script>

<NumberField
  {label}
  {kind}
  derived={fallback}
  {nullable}
  {hint}
  value={(record.draft[field] as number | null | undefined) ?? null}
  problem={record.problems[field]}
  disabled={!bench.editable}
  onlive={(value) => bench.live(record, field, value as T[typeof field])}
  oncommit={() => bench.commit(record, label)}
/>
