<script lang="ts" generics="T extends Revisioned">
  import type { Revisioned, SavedRecord } from '../../lib/edit/record.svelte';
  import type { Kind } from '../../lib/quantities';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<T>;
    /** The decision that the number is a part of, and the part's name. */
    field: keyof T & string;
    part: string;
    label: string;
    kind?: Kind;
    derived?: number | null;
    nullable?: boolean;
    hint?: string;
    /** Whole numbers only. Default off. */
    whole?: boolean;
  };
  let {
    bench,
    record,
    field,
    part,
    label,
    kind = 'plain',
    derived: fallback,
    nullable = false,
    hint,
    whole = false,
  }: Props = $props();
  const all = $derived((record.draft[field] ?? {}) as Record<string, unknown>);
</script>

<NumberField
  {label}
  {kind}
  {nullable}
  {hint}
  derived={fallback}
  value={(all[part] as number | null | undefined) ?? null}
  disabled={!bench.editable}
  onlive={(value) => {
    const now = whole && value !== null ? Math.round(value) : value;
    bench.live(record, field, { ...all, [part]: now } as T[typeof field]);
  }}
  oncommit={() => bench.commit(record, label)}
/>
