<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { StandIn } from '../../lib/shot/plan';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<StandIn> };
  let { bench, record }: Props = $props();
  const kind = $derived(record.draft.kind);
  const MATTERS: { value: NonNullable<StandIn['matters']>; name: string }[] = [
    { value: 'full', name: 'sharp and in its place' },
    { value: 'soft', name: 'may be out of focus' },
    { value: 'scenery', name: 'scenery: other plates need not meet it' },
    { value: 'none', name: 'drawn only: nothing is asked of it' },
  ];
  /** Who stands there gives it name and height, at the scale of where it is filmed. */
  function stands(id: string | null) {
    const person = bench.kit.people.find((one) => one.id === id);
    bench.live(record, 'person_id', id);
    if (person) {
      const plate = bench.plates.find((one) => one.id === record.draft.plate_id);
      bench.live(record, 'name', person.name);
      bench.live(record, 'height_m', (person.height_m ?? 1.7) * (plate?.draft.scale ?? 1));
    }
    bench.commit(record, 'Who it is');
  }
  const mattering = (value: string | null) =>
    MATTERS.find((one) => one.value === value)?.value ?? 'full';
</script>

<section class="border-ochre border-b-2 px-3 py-2" aria-label={`Stand-in ${record.draft.name}`}>
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">{record.draft.name}</h2>
    <span class="text-soft text-sm">{kind}, world metres</span>
  </div>
  {#key record.id}
    <TextField
      label="Name"
      value={record.draft.name}
      problem={record.problems.name}
      disabled={!bench.editable}
      onlive={(value) => bench.live(record, 'name', value)}
      oncommit={() => bench.commit(record, 'Name')}
    />
    {#if kind === 'figure' && bench.kit.people.length > 0}
      <ChoiceField
        label="Is"
        empty="nobody by name"
        value={record.draft.person_id ?? null}
        options={bench.kit.people.map((one) => ({ value: one.id, name: one.name }))}
        problem={record.problems.person_id}
        disabled={!bench.editable}
        onchange={stands}
      />
    {/if}
    <ChoiceField
      label="Filmed in"
      empty="nothing: scenery"
      value={record.draft.plate_id ?? null}
      options={bench.plates.map((p) => ({ value: p.id, name: p.draft.name }))}
      problem={record.problems.plate_id}
      disabled={!bench.editable}
      onchange={(value) => bench.change(record, 'plate_id', value, 'Filmed in')}
    />
    {#if record.draft.plate_id && kind !== 'ground'}
      <ChoiceField
        label="In the picture"
        value={record.draft.matters ?? 'full'}
        options={MATTERS}
        problem={record.problems.matters}
        disabled={!bench.editable}
        onchange={(value) => bench.change(record, 'matters', mattering(value), 'In the picture')}
      />
    {/if}
    <RecordNumber {bench} {record} field="y_m" label="Away from the camera" kind="length" />
    <RecordNumber {bench} {record} field="x_m" label="To the right" kind="length" />
    <RecordNumber {bench} {record} field="z_m" label="Foot above the ground" kind="length" />
    {#if kind !== 'ground'}
      <RecordNumber {bench} {record} field="height_m" label="Height" kind="length" />
    {/if}
    {#if kind !== 'figure'}
      <RecordNumber {bench} {record} field="width_m" label="Width" kind="length" />
    {/if}
    {#if kind === 'box' || kind === 'ground'}
      <RecordNumber {bench} {record} field="depth_m" label="Depth" kind="length" />
    {/if}
    <RecordNumber
      {bench}
      {record}
      field="heading_deg"
      label="Turned"
      hint="+ to the right"
      kind="degrees"
    />
    {#if kind !== 'ground'}
      <RecordNumber
        {bench}
        {record}
        field="reach_m"
        label="Reaches beyond its sides"
        hint="arms, what they hold"
        kind="length"
      />
      <RecordNumber {bench} {record} field="speed_m_s" label="Goes, per second" kind="length" />
      {#if record.draft.speed_m_s}
        <RecordNumber
          {bench}
          {record}
          field="course_deg"
          label="Towards"
          hint="0 away from us, 90 right, 180 to us"
          kind="degrees"
        />
      {/if}
    {/if}
    {#if kind === 'figure'}
      <ChoiceField
        label="Looks at"
        empty="nothing in particular"
        value={record.draft.looks_at_id ?? null}
        options={bench.standIns
          .filter((s) => s.id !== record.id)
          .map((s) => ({ value: s.id, name: s.draft.name }))}
        problem={record.problems.looks_at_id}
        disabled={!bench.editable}
        onchange={(value) => bench.change(record, 'looks_at_id', value, 'Looks at')}
      />
    {/if}
  {/key}
  {#if record.problems['']}<p role="alert" class="font-semibold">{record.problems['']}</p>{/if}
  <div class="mt-1 flex justify-between">
    <button class="btn" onclick={() => (bench.standIn = null)}>Done</button>
    {#if bench.editable}
      <button class="btn" onclick={() => bench.making.removeStandIn(record)}>Remove it</button>
    {/if}
  </div>
</section>
