<script lang="ts">
  import { EASES } from '../../lib/kinds';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import { FIRST_FACTS } from '../method/method.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Shot } from '../../lib/shot/plan';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import Section from './Section.svelte';

  type Props = { bench: OpenShot };
  let { bench }: Props = $props();
  const shot = $derived(bench.shot);
  const focal = $derived(shot.draft.focal_mm ?? 35);
  const looks = [
    { value: '3', name: 'must read as real' },
    { value: '2', name: 'light' },
    { value: '1', name: 'openly stylised' },
  ];
</script>

<Section title="Camera move, by the end">
  <RecordNumber
    {bench}
    record={shot}
    field="move_right_m"
    label="Track"
    hint="+ to the right"
    kind="length"
  />
  <RecordNumber
    {bench}
    record={shot}
    field="move_away_m"
    label="Push"
    hint="+ ahead"
    kind="length"
  />
  <RecordNumber {bench} record={shot} field="move_up_m" label="Crane" hint="+ up" kind="length" />
  <RecordNumber
    {bench}
    record={shot}
    field="move_pan_deg"
    label="Pan by"
    hint="+ to the right"
    kind="degrees"
  />
  <RecordNumber
    {bench}
    record={shot}
    field="move_tilt_deg"
    label="Tilt by"
    hint="+ up"
    kind="degrees"
  />
  <NumberField
    label="Zoom to"
    hint="made in post, from the widest view"
    kind="mm"
    value={focal * (shot.draft.move_zoom ?? 1)}
    problem={shot.problems.move_zoom}
    disabled={!bench.editable}
    onlive={(value) => value && bench.live(shot, 'move_zoom', value / focal)}
    oncommit={() => bench.commit(shot, 'Zoom')}
  />
  <ChoiceField
    label="The move"
    value={shot.draft.move_ease ?? 'both'}
    options={EASES}
    disabled={!bench.editable}
    onchange={(value) =>
      bench.change(shot, 'move_ease', (value ?? 'both') as NonNullable<Shot['move_ease']>, 'Ease')}
  />
</Section>
{#if !bench.view}
  <Section title="Picture">
    <RecordNumber
      {bench}
      record={shot}
      field="padding"
      label="Padding"
      hint="kept on each side, to reframe or shake"
      kind="percent"
    />
    <RecordNumber
      {bench}
      record={shot}
      field="visibility_m"
      label="How far one sees"
      hint="haze; empty is clear air"
      kind="length"
      nullable
    />
    <ChoiceField
      label="The look"
      value={String(shot.draft.facts?.realism ?? 3)}
      options={looks}
      disabled={!bench.editable}
      onchange={(value) =>
        bench.change(
          shot,
          'facts',
          { ...FIRST_FACTS, ...$state.snapshot(shot.draft.facts), realism: Number(value ?? 3) },
          'Realism',
        )}
    />
  </Section>
{/if}
