<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { say, shutterAt, type Kind } from '../../lib/quantities';
  import { units } from '../../lib/units.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';
  import { navigate } from '../../router';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import HazardChoice from './HazardChoice.svelte';
  import LampSheet from './LampSheet.svelte';
  import { SIDES, TURNS } from '../../lib/kinds';
  import { SCREENS } from '../../lib/light';
  import type { Plate } from '../../lib/shot/plan';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import ViewChoice from '../../lib/shot/ViewChoice.svelte';
  import PlacingSheet from './PlacingSheet.svelte';
  import RoomSheet from './RoomSheet.svelte';
  import Section from './Section.svelte';
  import WorkSheet from './WorkSheet.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    answer: Schemas['PlateAnswer'] | null;
  };
  let { bench, record, answer }: Props = $props();
  /** The panel is made anew for another plate; what it asks may come back after it is gone. */
  // svelte-ignore state_referenced_locally
  const plateId = record.id;
  const stage = $derived(answer?.stage ?? null);
  const draft = $derived(record.draft);
  const pan = $derived(bench.shot.draft.pan_deg ?? 0);
  /** Behind each number. */
  const workings = $derived(answer?.workings ?? {});
  const body = $derived(bench.kit.bodies.find((b) => b.id === draft.body_id));
  const lens = $derived(bench.kit.lenses.find((x) => x.id === draft.lens_id));
  const zoom = $derived(lens !== undefined && lens.focal_max_mm > lens.focal_min_mm);
  const mark = $derived(answer?.marks.find((m) => m.stand_in_id === stage?.mark_id));
  const turning = (value: string | null) =>
    TURNS.find((one) => one.value === value)?.value ?? 'socket';
  const motions = [
    { value: 'powered', name: 'pulled, powered or performed' },
    { value: 'gravity', name: 'falls, splashes, swings' },
    { value: 'still', name: 'nothing moves' },
  ];
  const hazards = $derived(
    new Set([...(draft.hazards ?? []), ...(draft.recipe_hazards ?? [])]).size,
  );
  let cards = $state<Schemas['CardRow'][]>([]);
  let issuing = $state('');

  async function loadCards() {
    const all = await ask(() =>
      api.GET('/api/productions/{production_id}/shots/{shot_id}/cards', {
        params: { path: { production_id: bench.productionId, shot_id: bench.shotId } },
      }),
    );
    cards = all.filter((card) => card.plate_id === plateId);
  }
  $effect(() => {
    loadCards().catch((error: Error) => (issuing = error.message));
  });

  function chooseBody(id: string | null) {
    // A body alone records nothing: its first mode comes along.
    const chosen = bench.kit.bodies.find((b) => b.id === id);
    const mode_id = chosen?.modes[0]?.id ?? null;
    bench.chooseGlass(record, { body_id: chosen?.id ?? null, mode_id }, 'Body');
  }

  const lock = $derived(bench.lockOf(record.id));
  const nameOf = (id: string) => bench.plates.find((p) => p.id === id)?.draft.name ?? 'a plate';

  /** What breaks while a card is asked for: nobody takes it along without knowing. */
  let breaking = $state<Schemas['Finding'][] | null>(null);
  function askToIssue() {
    const broken = (answer?.findings ?? []).filter((finding) => finding.verdict === 'breaks');
    if (broken.length) breaking = broken;
    else void issue();
  }

  async function issue() {
    breaking = null;
    issuing = '';
    try {
      await record.commit();
      const card = await ask(() =>
        api.POST('/api/productions/{production_id}/plates/{plate_id}/cards', {
          params: {
            path: { production_id: bench.productionId, plate_id: plateId },
            query: units.asked,
          },
        }),
      );
      navigate('/productions/:production/cards/:card', {
        params: { production: bench.productionId, card: card.id },
      });
    } catch (error) {
      issuing = (error as Error).message;
    }
  }
</script>

{#snippet fact(label: string, value: number | null | undefined, kind: Kind, hint = '', key = '')}
  <div class="grid grid-cols-[1fr_auto] items-baseline gap-x-2 py-px">
    <span class="text-soft leading-tight"
      >{label}{#if hint}<span class="block text-xs">{hint}</span>{/if}</span
    >
    <span class="flex items-baseline">
      {#if workings[key]}<WorkingCard workings={[workings[key]]} of={label} />{/if}
      <output class="pr-2 text-right font-semibold" aria-label={label}>{say(value, kind)}</output>
    </span>
  </div>
{/snippet}

<div class="flex items-baseline justify-between gap-2 px-3 pt-2">
  <h2 class="text-lg">{draft.name}</h2>
  <button class="btn btn-main shrink-0" onclick={askToIssue} disabled={!stage || !bench.editable}>
    Issue a set card
  </button>
</div>
{#if issuing}<p role="alert" class="px-3 font-semibold">{issuing}</p>{/if}
<Modal
  open={breaking !== null}
  title="This plate breaks as it is planned"
  description="Whoever films from the card films what is planned now."
  onclose={() => (breaking = null)}
>
  <ul class="grid gap-2">
    {#each breaking ?? [] as finding (finding.key)}
      <li class="flex items-start gap-2 text-sm">
        <span class="pt-0.5"><VerdictMark verdict="breaks" size={16} /></span>
        <span><b>{finding.title}.</b> {finding.sentence}</span>
      </li>
    {/each}
  </ul>
  <div class="mt-4 flex flex-wrap gap-3">
    <button class="btn btn-main" onclick={() => (breaking = null)}>Mend it first</button>
    <button class="btn" onclick={issue}>Issue it all the same</button>
  </div>
</Modal>
{#if cards.length > 0}
  <p class="px-3 text-sm">
    {#each cards as card (card.id)}
      <a class="mr-3 underline" href="/productions/{bench.productionId}/cards/{card.id}">
        card {card.slate}{card.take_count ? ` (${card.take_count} logged)` : ''}
      </a>
    {/each}
  </p>
{/if}

{#if lock && lock.plate_ids.length + lock.beside.length > 1}
  {@const others = lock.plate_ids.filter((id) => id !== record.id).map(nameOf)}
  {@const filmed = [...lock.filmed_ids.map(nameOf), ...lock.beside_filmed]}
  <p class="text-soft px-3 text-sm" data-testid="lock-note">
    One lock-off with {[...others, ...lock.beside].join(', ')}{others.length > 0
      ? ': camera, time and place change together'
      : ': camera, time and place have to be the same'}{filmed.length > 0
      ? `. Filmed: ${filmed.join(', ')}; a change orphans those takes.`
      : '.'}
  </p>
{/if}

<Section title="Where the camera stands">
  <RecordNumber {bench} {record} field="scale" label="Scale" kind="scale" />
  <RecordNumber
    {bench}
    {record}
    field="axis_height_m"
    label="Lens axis height"
    hint={stage && Math.abs(stage.axis_m - stage.ideal_axis_m) > 1e-4
      ? `the world asks for ${say(stage.ideal_axis_m, 'length')}`
      : 'at the entrance pupil, above this ground'}
    kind="length"
    nullable
    derived={stage?.axis_m}
    working={workings['axis_m']}
  />
  {#if stage && Math.abs(stage.tilt_deg) >= 0.05}
    {@render fact(
      'Taped at the sensor mark',
      stage.mark_height_m,
      'length',
      'lens axis above this ground',
      '',
    )}
    {@render fact(
      'Taped at the lens front',
      stage.front_height_m,
      'length',
      'lens axis above this ground',
      '',
    )}
  {/if}
  {#if stage && mark}
    {@render fact(
      `Sensor mark to ${mark.name}`,
      mark.from_sensor_m,
      'length',
      pan === 0
        ? 'level, along the floor'
        : `level, straight ahead; the camera is turned ${Math.abs(pan).toFixed(1)}° ${pan > 0 ? 'right' : 'left'} of that line`,
      'mark_tape_m',
    )}
    {@render fact(
      `Lens front to ${mark.name}`,
      mark.from_front_m,
      'length',
      stage.front_assumed ? 'lens length assumed' : '',
      'mark_front_m',
    )}
  {/if}
  <RecordNumber
    {bench}
    {record}
    field="tilt_deg"
    label="Tilt"
    hint="+ looks up"
    kind="degrees"
    nullable
    derived={stage?.tilt_deg}
    working={workings['tilt_deg']}
  />
  <RecordNumber
    {bench}
    {record}
    field="ground_m"
    label="This ground, in the world"
    hint="height of what the floor here stands for"
    kind="length"
  />
  <RecordNumber {bench} {record} field="setback_m" label="Set back from derived" kind="length" />
  {#if bench.kit.supports.length > 0}
    <ChoiceField
      label="Stands on"
      empty="whatever owned will do"
      value={draft.support_id ?? null}
      options={bench.kit.supports.map((one) => ({ value: one.id, name: one.name }))}
      problem={record.problems.support_id}
      disabled={!bench.editable}
      onchange={(value) => bench.change(record, 'support_id', value, 'Support')}
    />
  {/if}
  <ChoiceField
    label="The camera"
    value={draft.on_side ?? ''}
    options={SIDES}
    problem={record.problems.on_side}
    disabled={!bench.editable}
    onchange={(value) =>
      bench.change(record, 'on_side', (value ?? '') as Plate['on_side'], 'Camera on its side')}
  />
  {#if bench.turns}
    <ChoiceField
      label="Turns about"
      value={draft.turns_about ?? 'socket'}
      options={TURNS}
      disabled={!bench.editable}
      onchange={(value) => bench.change(record, 'turns_about', turning(value), 'Turns about')}
    />
    {#if draft.turns_about !== 'pupil'}
      <RecordNumber
        {bench}
        {record}
        field="slide_mm"
        label="Slid back on its support"
        hint="so that the lens turns about its entrance pupil"
        kind="mm"
      />
    {/if}
  {/if}
  <RecordNumber {bench} {record} field="drop_m" label="Base below the ground" kind="length" />
  <RecordNumber
    {bench}
    {record}
    field="table_m"
    label="Table top above the floor"
    hint="empty: filmed on the floor"
    kind="length"
    nullable
  />
  <label class="flex min-h-7 items-center gap-1.5 py-0.5">
    <input
      type="checkbox"
      disabled={!bench.editable}
      checked={draft.mirror ?? false}
      onchange={(event) => bench.change(record, 'mirror', event.currentTarget.checked, 'Mirror')}
    />
    by way of a mirror at 45°
  </label>
</Section>

<PlacingSheet {bench} {record} inPost={answer?.in_post ?? null} />

<Section title="Glass">
  <ChoiceField
    label="Body"
    empty="choose"
    value={draft.body_id ?? null}
    options={bench.kit.bodies.map((b) => ({ value: b.id, name: b.name }))}
    problem={record.problems.body_id}
    disabled={!bench.editable}
    onchange={chooseBody}
  />
  <ChoiceField
    label="Mode"
    empty="choose"
    value={draft.mode_id ?? null}
    options={body?.modes.map((m) => ({ value: m.id, name: m.name })) ?? []}
    problem={record.problems.mode_id}
    disabled={!bench.editable}
    onchange={(value) => bench.chooseGlass(record, { mode_id: value }, 'Mode')}
  />
  <ChoiceField
    label="Lens"
    empty="choose"
    value={draft.lens_id ?? null}
    options={bench.kit.lenses.map((x) => ({ value: x.id, name: x.name }))}
    problem={record.problems.lens_id}
    disabled={!bench.editable}
    onchange={(value) => bench.chooseGlass(record, { lens_id: value }, 'Lens')}
  />
  {#if zoom}
    <RecordNumber
      {bench}
      {record}
      field="focal_mm"
      label="Focal length"
      kind="mm"
      nullable
      derived={stage?.marked_mm}
      working={workings['focal_mm']}
    />
  {/if}
  <RecordNumber {bench} {record} field="f_number" label="Stop" kind="stop" />
  <RecordNumber
    {bench}
    {record}
    field="focus_world_m"
    label="Focus, in the world"
    hint="from the lens"
    kind="length"
    nullable
    derived={stage?.focus_m == null ? null : stage.focus_m * (draft.scale ?? 1)}
  />
  <RecordNumber {bench} {record} field="focus_passes" label="Focus passes" kind="plain" />
  {#if stage}
    {#each stage.passes as pass, i (i)}
      {@render fact(
        stage.passes.length > 1
          ? `Pass ${i + 1}, from the sensor mark`
          : 'Focus from the sensor mark',
        pass.focus_m == null ? null : pass.focus_m + stage.sensor_to_pupil_m,
        'length',
        '',
        stage.passes.length > 1 ? '' : 'focus_tape_m',
      )}
    {/each}
    {@render fact('Focus from the lens front', stage.focus_front_m, 'length', '', 'focus_front_m')}
    {@render fact('Sharp from', stage.depth_near_m, 'length', 'from the lens', 'depth_near_m')}
    {@render fact('Sharp to', stage.depth_far_m, 'length', '', 'depth_far_m')}
    {@render fact('Pixels left across', stage.pixels_across, 'pixels', '', 'pixels_across')}
  {/if}
</Section>

<Section title="Time">
  <ChoiceField
    label="What moves"
    value={draft.motion ?? 'powered'}
    options={motions}
    disabled={!bench.editable}
    onchange={(value) =>
      bench.change(record, 'motion', (value ?? 'powered') as Plate['motion'], 'What moves')}
  />
  <RecordNumber
    {bench}
    {record}
    field="capture_fps"
    label="Capture rate"
    kind="rate"
    nullable
    derived={stage?.capture_fps}
    working={workings['capture_fps']}
  />
  <RecordNumber
    {bench}
    {record}
    field="shutter_deg"
    label="Shutter"
    hint={stage
      ? units.now.shutter === 'angle'
        ? say(stage.exposure_s, 'shutter')
        : say(draft.shutter_deg ?? 180, 'degrees')
      : ''}
    kind="degrees"
    words={shutterAt(
      stage?.capture_fps ?? draft.capture_fps ?? bench.shot.draft.playback_fps ?? 24,
    )}
    working={workings['exposure_s']}
  />
  {#if stage}{@render fact(
      'Action on set lasts',
      stage.set_duration_s,
      'seconds',
      '',
      'set_duration_s',
    )}{/if}
</Section>

<Section title="Light">
  <RecordNumber {bench} {record} field="iso" label="ISO" kind="iso" />
  <RecordNumber {bench} {record} field="nd_stops" label="ND" kind="stops" />
  <RecordNumber {bench} {record} field="white_k" label="White balance" kind="kelvin" />
  {#if stage}{@render fact(
      'Light needed',
      stage.lux_needed,
      'lux',
      'incident, at the action',
      'lux_needed',
    )}{/if}
  <RecordNumber
    {bench}
    {record}
    field="light_lux"
    label="Light there is"
    hint="as metered; empty: from the lamps"
    kind="lux"
    nullable
  />
  <LampSheet {bench} {record} />
</Section>

<RoomSheet {bench} {record} />

{#if draft.kind === 'screen'}
  <Section title="Backing">
    {#if bench.kit.cloths.length > 0}
      <ChoiceField
        label="Hung from"
        empty="whatever owned will do"
        value={draft.cloth_id ?? null}
        options={bench.kit.cloths.map((one) => ({ value: one.id, name: one.name }))}
        problem={record.problems.cloth_id}
        disabled={!bench.editable}
        onchange={(value) => bench.change(record, 'cloth_id', value, 'Cloth')}
      />
    {/if}
    <RecordNumber {bench} {record} field="screen_width_m" label="Screen width" kind="length" />
    <RecordNumber {bench} {record} field="screen_height_m" label="Screen height" kind="length" />
    <RecordNumber {bench} {record} field="screen_foot_m" label="Its lower edge" kind="length" />
    <RecordNumber {bench} {record} field="screen_gap_m" label="Behind the action" kind="length" />
    <RecordNumber
      {bench}
      {record}
      field="screen_sweep_m"
      label="Sweep on the floor"
      kind="length"
    />
    <ChoiceField
      label="Colour"
      value={draft.screen_colour ?? 'green'}
      options={SCREENS}
      problem={record.problems.screen_colour}
      disabled={!bench.editable}
      onchange={(value) =>
        bench.change(
          record,
          'screen_colour',
          (value ?? 'green') as Plate['screen_colour'],
          'Screen colour',
        )}
    />
  </Section>
{/if}

<WorkSheet {bench} {record} />
{#if bench.views.length > 0}
  <Section title="A piece of">
    <ViewChoice
      views={bench.views}
      value={bench.view?.id ?? null}
      problem={record.problems.view_id}
      disabled={!bench.editable}
      onchange={(id) => {
        bench.change(record, 'view_id', id, 'View');
        bench.viewId = id;
      }}
    />
  </Section>
{/if}
<details class="border-line border-b px-3 py-1.5">
  <summary class="text-soft text-sm">
    Name, note, hazards{hazards ? ` (${hazards})` : ''}
  </summary>
  <TextField
    label="Name"
    value={draft.name}
    problem={record.problems.name}
    disabled={!bench.editable}
    onlive={(value) => bench.live(record, 'name', value)}
    oncommit={() => bench.commit(record, 'Name')}
  />
  <TextField
    label="Note for the crew"
    rows={2}
    value={draft.note ?? ''}
    problem={record.problems.note}
    disabled={!bench.editable}
    onlive={(value) => bench.live(record, 'note', value)}
    oncommit={() => bench.commit(record, 'Note')}
  />
  <HazardChoice {bench} {record} />
  {#if bench.editable}
    <button class="btn mt-2" onclick={() => bench.making.removePlate(record)}
      >Remove this plate</button
    >
  {/if}
</details>
{#if body && body.modes.length === 0}
  <p class="px-3">This body has no recording mode yet; add one in the kit.</p>
{/if}
{#if record.problems['']}<p role="alert" class="p-3 font-semibold">{record.problems['']}</p>{/if}
