<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { CUTS } from '../../lib/kinds';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import LockField from '../../lib/shot/LockField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  const draft = $derived(record.draft);
</script>

<details class="border-line border-b px-3 py-1.5">
  <summary class="text-soft text-sm">
    Order and post work{draft.lock_group ? ` · lock-off ${draft.lock_group}` : ''}
  </summary>
  <TextField
    label="Why this plate exists"
    rows={2}
    value={draft.why ?? ''}
    problem={record.problems.why}
    disabled={!bench.editable}
    onlive={(value) => bench.live(record, 'why', value)}
    oncommit={() => bench.commit(record, 'Why')}
  />
  <label class="flex items-center gap-1.5 py-0.5">
    <input
      type="checkbox"
      disabled={!bench.editable}
      checked={draft.required ?? true}
      onchange={(event) =>
        bench.change(record, 'required', event.currentTarget.checked, 'Required')}
    />
    The shot does not work without it
  </label>
  <LockField {bench} {record} label="Lock-off shared" />
  <ChoiceField
    label="In post it is"
    value={draft.cut ?? 'none'}
    options={CUTS}
    disabled={!bench.editable}
    onchange={(value) => bench.change(record, 'cut', (value ?? 'none') as Plate['cut'], 'Cut')}
  />
  {#if draft.cut === 'roto'}
    <RecordNumber
      {bench}
      {record}
      field="shapes"
      label="Shapes drawn"
      hint="empty: by what is cut out"
      kind="plain"
      nullable
    />
    <ChoiceField
      label="Keys"
      value={draft.keying ?? 'bisect'}
      options={[
        { value: 'bisect', name: 'bisect between poses' },
        { value: 'nth', name: 'every nth frame' },
      ]}
      disabled={!bench.editable}
      onchange={(value) =>
        bench.change(record, 'keying', (value ?? 'bisect') as Plate['keying'], 'Keys')}
    />
    <RecordNumber
      {bench}
      {record}
      field="key_every"
      label="Frames between keys"
      hint="at the end"
      kind="plain"
    />
  {/if}
  <RecordNumber
    {bench}
    {record}
    field="paint_share"
    label="Frames painted by hand"
    hint="part of all, 0 to 1"
    kind="plain"
  />
  <label class="flex items-center gap-1.5 py-0.5">
    <input
      type="checkbox"
      disabled={!bench.editable}
      checked={draft.tracked ?? false}
      onchange={(event) => bench.change(record, 'tracked', event.currentTarget.checked, 'Tracked')}
    />
    It has to be tracked
  </label>
  {#if draft.kind === 'puppet'}
    <RecordNumber {bench} {record} field="hold" label="Frames a pose is held" kind="plain" />
  {:else}
    <RecordNumber {bench} {record} field="takes_planned" label="Takes expected" kind="plain" />
  {/if}
</details>
