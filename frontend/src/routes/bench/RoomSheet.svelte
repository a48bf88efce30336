<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import Section from './Section.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  const draft = $derived(record.draft);
  const id = $props.id();
  const room = $derived(bench.kit.rooms.find((r) => r.id === draft.room_id));
</script>

<Section title="Room">
  <ChoiceField
    label="Room"
    empty={bench.kit.rooms.length ? 'not decided' : 'no rooms in the kit yet'}
    value={draft.room_id ?? null}
    options={bench.kit.rooms.map((r) => ({ value: r.id, name: r.name }))}
    problem={record.problems.room_id}
    disabled={!bench.editable}
    onchange={(value) => bench.change(record, 'room_id', value, 'Room')}
  />
  {#if draft.room_id}
    <label class="flex min-h-7 items-center gap-1.5 py-0.5">
      <input
        type="checkbox"
        disabled={!bench.editable}
        checked={draft.room_turned ?? false}
        onchange={(event) =>
          bench.change(record, 'room_turned', event.currentTarget.checked, 'Turn the stage')}
      />
      across the room
    </label>
    <RecordNumber
      {bench}
      {record}
      field="room_behind_m"
      label="Sensor mark to the wall behind"
      kind="length"
      nullable
      derived={0.6}
    />
    <RecordNumber
      {bench}
      {record}
      field="room_left_m"
      label="Line to the wall at the left"
      hint="in the middle unless set"
      kind="length"
      nullable
    />
  {/if}
  {#if room && (room.height_m ?? null) === null}
    <RecordNumber
      {bench}
      {record}
      field="heading_deg"
      label="Camera points to"
      hint="from north; empty: free to turn"
      kind="degrees"
      nullable
    />
  {/if}
  <div class="grid grid-cols-[1fr_11rem] items-center gap-x-2 py-px">
    <label for="{id}-day" class="text-soft">Filmed on</label>
    <input
      id="{id}-day"
      class="field min-h-7! py-0.5!"
      type="date"
      disabled={!bench.editable}
      value={draft.film_on ?? ''}
      onchange={(event) =>
        bench.change(record, 'film_on', event.currentTarget.value || null, 'Day of filming')}
    />
  </div>
</Section>
