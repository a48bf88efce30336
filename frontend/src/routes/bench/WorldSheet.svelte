<script lang="ts">
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import MoveSheet from './MoveSheet.svelte';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import Section from './Section.svelte';
  import TimeSheet from './TimeSheet.svelte';
  import ViewSheet from './ViewSheet.svelte';

  import { formats } from '../../lib/shot/formats';
  import { shutterAt } from '../../lib/quantities';

  type Props = { bench: OpenShot };
  let { bench }: Props = $props();
  const shot = $derived(bench.shot);
  const base = $derived(`/api/productions/${bench.productionId}/shots/${bench.shotId}`);
  const aspect = $derived(
    (shot.draft.delivery_width_px ?? 1920) / (shot.draft.delivery_height_px ?? 1080),
  );
  const choices = $derived(formats(bench.kit.bodies, aspect));
</script>

<h2 class="px-3 pt-3 text-lg">{bench.view ? bench.view.name : 'The world'}</h2>
{#if bench.view}
  <ViewSheet {bench} view={bench.view} />
{:else}
  <Section title="The shot">
    {#each [['number', 'Number'], ['title', 'Title'], ['place', 'Place'], ['time_of_day', 'Time of day'], ['edit_name', 'Name in the edit']] as const as [field, label] (field)}
      <TextField
        {label}
        value={shot.draft[field] ?? ''}
        problem={shot.problems[field]}
        disabled={!bench.editable}
        onlive={(value) => bench.live(shot, field, value)}
        oncommit={() => bench.commit(shot, label)}
      />
    {/each}
    <TextField
      label="Line of action"
      rows={3}
      value={shot.draft.action ?? ''}
      problem={shot.problems.action}
      disabled={!bench.editable}
      onlive={(value) => bench.live(shot, 'action', value)}
      oncommit={() => bench.commit(shot, 'Line of action')}
    />
    <RecordNumber {bench} record={shot} field="screen_time_s" label="Screen time" kind="seconds" />
  </Section>
{/if}
<Section title="The world camera">
  <RecordNumber
    {bench}
    record={shot}
    field="camera_height_m"
    label="Height"
    hint="lens axis above the ground"
    kind="length"
  />
  <RecordNumber
    {bench}
    record={shot}
    field="tilt_deg"
    label="Tilt"
    hint="+ looks up"
    kind="degrees"
  />
  <RecordNumber
    {bench}
    record={shot}
    field="pan_deg"
    label="Pan"
    hint="+ to the right"
    kind="degrees"
  />
  <RecordNumber
    {bench}
    record={shot}
    field="roll_deg"
    label="Roll"
    hint="+ clockwise"
    kind="degrees"
  />
  <RecordNumber {bench} record={shot} field="focal_mm" label="Focal length" kind="mm" />
  <RecordNumber {bench} record={shot} field="sensor_width_mm" label="Sensor width" kind="mm" />
  <p class="text-soft py-0.5 text-xs">
    {#each choices as format (format.name)}
      <button
        class="mr-2 underline disabled:no-underline"
        disabled={!bench.editable}
        onclick={() => bench.change(shot, 'sensor_width_mm', format.width, 'Sensor width')}
        >{format.name}</button
      >
    {/each}
  </p>
  <RecordNumber
    {bench}
    record={shot}
    field="shutter_deg"
    label="Shutter"
    kind="degrees"
    words={shutterAt(shot.draft.playback_fps ?? 24)}
  />
</Section>
<MoveSheet {bench} />
<TimeSheet {bench} />
{#if bench.view}
  <p class="text-soft px-3 py-2 text-sm">
    Light, air and delivery are the shot's: they stand with its
    <button class="underline" onclick={() => bench.look(null)}>first camera</button>.
  </p>
{:else}
  <Section title="Light of the story">
    <RecordNumber
      {bench}
      record={shot}
      field="camera_bearing_deg"
      label="Camera looks"
      hint="degrees from the place's north"
      kind="degrees"
      nullable
    />
    <RecordNumber
      {bench}
      record={shot}
      field="key_from_deg"
      label="Key from"
      hint="0 ahead, 90 right, 180 behind us"
      kind="degrees"
      nullable
    />
    <RecordNumber
      {bench}
      record={shot}
      field="key_elevation_deg"
      label="Key height"
      hint="above the horizon"
      kind="degrees"
      nullable
    />
    <ChoiceField
      label="The key is"
      value={shot.draft.key_kind || null}
      empty="not decided"
      options={[
        { value: 'sun', name: 'the sun or the moon' },
        { value: 'lamp', name: 'a lamp, a window, a fire' },
      ]}
      problem={shot.problems.key_kind}
      disabled={!bench.editable}
      onchange={(value) => bench.change(shot, 'key_kind', (value ?? '') as '', 'The key is')}
    />
    <RecordNumber
      {bench}
      record={shot}
      field="key_ratio_stops"
      label="Key over fill"
      hint="how deep the shadow side is"
      kind="stops"
      nullable
    />
    <RecordNumber
      {bench}
      record={shot}
      field="key_size_deg"
      label="Key is wide"
      hint="small is hard; the sun 0.53°"
      kind="degrees"
      nullable
      derived={shot.draft.key_kind === 'sun' ? 0.533 : undefined}
    />
    <RecordNumber
      {bench}
      record={shot}
      field="key_temperature_k"
      label="Key colour"
      hint="to a daylight camera"
      kind="kelvin"
      nullable
    />
    <RecordNumber
      {bench}
      record={shot}
      field="key_level_stops"
      label="Key level"
      hint="against normal; a night lies under"
      kind="stops"
    />
    <TextField
      label="Why it may differ"
      value={shot.draft.light_note ?? ''}
      problem={shot.problems.light_note}
      disabled={!bench.editable}
      onlive={(value) => bench.live(shot, 'light_note', value)}
      oncommit={() => bench.commit(shot, 'Light note')}
    />
  </Section>
  <Section title="Delivery">
    <RecordNumber {bench} record={shot} field="delivery_width_px" label="Width" kind="pixels" />
    <RecordNumber {bench} record={shot} field="delivery_height_px" label="Height" kind="pixels" />
    <RecordNumber {bench} record={shot} field="playback_fps" label="Rate" kind="rate" />
    <RecordNumber
      {bench}
      record={shot}
      field="tolerance_px"
      label="Mismatch nobody notices"
      hint="2 px at 1920 wide unless set"
      kind="pixels"
      nullable
      derived={(2 * (shot.draft.delivery_width_px ?? 1920)) / 1920}
    />
  </Section>
  <Section title="Take it along">
    <p class="flex flex-wrap gap-x-4 py-1">
      <a class="underline" href="{base}/plates.csv" download>Plates, CSV</a>
      <a class="underline" href="{base}/takes.csv" download>Takes, CSV</a>
      <a class="underline" href="{base}/export.json" download>Everything, JSON</a>
    </p>
  </Section>
{/if}
{#if shot.problems['']}<p role="alert" class="p-3 font-semibold">{shot.problems['']}</p>{/if}
