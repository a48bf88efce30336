<script lang="ts">
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Shot } from '../../lib/shot/plan';
  import type { View } from '../../lib/shot/views';
  import TextField from '../../lib/ui/TextField.svelte';
  import type { Editing } from '../../lib/edit/record.svelte';
  import Section from './Section.svelte';

  /** What makes a further view another one: its name, where it stands, how long it is seen. */
  let { bench, view }: { bench: OpenShot; view: View } = $props();
  /** A view's own numbers are edited as those of the shot are. */
  const record = $derived(bench.shot as Editing<Shot & View>);
</script>

<Section title="This view">
  <TextField
    label="Name"
    value={view.name ?? ''}
    disabled={!bench.editable}
    onlive={(value) => bench.live(record, 'name', value)}
    oncommit={() => bench.commit(record, 'Name of the view')}
  />
  <RecordNumber {bench} {record} field="screen_time_s" label="Screen time" kind="seconds" />
  <RecordNumber
    {bench}
    {record}
    field="stands_right_m"
    label="Stands to the right"
    hint="of the first camera"
    kind="length"
  />
  <RecordNumber
    {bench}
    {record}
    field="stands_ahead_m"
    label="Stands ahead"
    hint="of the first camera"
    kind="length"
  />
  <RecordNumber
    {bench}
    {record}
    field="turned_deg"
    label="Turned"
    hint="+ to the right; 180 looks back"
    kind="degrees"
  />
  {#if bench.editable}
    <button
      class="btn my-1"
      disabled={bench.plates.length > 0}
      title={bench.plates.length > 0 ? 'Plates are pieces of it: move or remove them first' : ''}
      onclick={() => bench.making.removeView(view.id)}>Remove this view</button
    >
    {#if bench.plates.length > 0}
      <p class="text-soft text-xs">
        Plates are pieces of it: give them to another view, or remove them, before it can go.
      </p>
    {/if}
  {/if}
</Section>
