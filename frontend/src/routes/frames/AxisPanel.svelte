<script lang="ts">
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import { EASES } from '../../lib/kinds';
  import { say } from '../../lib/quantities';
  import type { SheetDesk } from './desk.svelte';
  import type { Column, Leg } from './marks';
  import MoveCurve from './MoveCurve.svelte';

  let { desk, column }: { desk: SheetDesk; column: Column } = $props();
  const bench = $derived(desk.bench);
  const editable = $derived(bench.editable);
  const axes = $derived(desk.answer?.axes ?? []);
  const axis = $derived(axes.find((one) => one.axis === (column.axis ?? 'track')));
  const told = $derived(desk.told(column.key));
  const chart = $derived(told?.chart ?? null);
  const rigs = $derived(bench.kit.rigs.filter((rig) => rig.axis === (column.axis ?? 'track')));
  const rig = $derived(rigs.find((one) => one.id === column.rig_id));
  const turns = $derived(axis?.turns ?? false);
  const kind = $derived(turns ? ('degrees' as const) : ('mm' as const));
  const legs = $derived(column.legs ?? []);
  const change = (fields: Partial<Column>, label: string, rests = true) =>
    desk.change(column.key, fields, label, rests);
  function leg(number: number, fields: Partial<Leg>, rests: boolean) {
    desk.legs(
      column.key,
      legs.map((one, i) => (i === number ? { ...one, ...fields } : one)),
      'Change a move',
      rests,
    );
  }
  function add() {
    const last = legs.at(-1);
    const first = last ? (last.first ?? 2) + (last.frames ?? 24) : 2;
    const way = last ? -(last.way ?? 0) : 100;
    const made: Leg = {
      first,
      frames: last?.frames ?? 24,
      way,
      ease: 'both',
      ramp_frames: 0,
      curve: [],
    };
    desk.legs(column.key, [...legs, made], 'Add a stretch');
  }
  let radius = $state<number | null>(null);
  const base = $derived(
    `/api/productions/${bench.productionId}/shots/${bench.shotId}/plates/${desk.plateId}`,
  );
  const at = $derived(`column=${column.key}`);
  const round = $derived(radius ?? rig?.radius_mm ?? null);
</script>

<ChoiceField
  label="What moves"
  value={column.axis ?? 'track'}
  options={axes.map((one) => ({ value: one.axis, name: one.name }))}
  disabled={!editable}
  onchange={(value) =>
    change({ axis: (value ?? 'track') as Column['axis'], rig_id: null }, 'What moves')}
/>
{#if axis?.of_thing}
  <ChoiceField
    label="Of"
    value={column.thing_id ?? null}
    options={desk.things}
    empty="nothing that is planned"
    disabled={!editable}
    onchange={(value) => change({ thing_id: value }, 'Thing')}
  />
{/if}
{#if column.axis === 'crank'}
  <NumberField
    label="Arm"
    hint="from its hinge to what is seen to move; empty: not drawn"
    kind="mm"
    value={column.arm_mm ?? null}
    nullable
    disabled={!editable}
    onlive={(value) => change({ arm_mm: value }, 'Arm', false)}
    oncommit={() => desk.rest()}
  />
{/if}
<ChoiceField
  label="Rig"
  value={column.rig_id ?? null}
  options={rigs.map((one) => ({ value: one.id, name: one.name }))}
  empty="none: to the exact place"
  disabled={!editable}
  onchange={(value) => change({ rig_id: value }, 'Rig')}
/>
{#if rigs.length === 0}
  <p class="text-soft text-xs">
    The kit has no rig for this. <a class="underline" href="/productions/{bench.productionId}/kit"
      >Add one</a
    > to have whole steps and turns.
  </p>
{/if}
{#if axis?.followed}
  <label class="flex min-h-8 items-center gap-2">
    <input
      type="checkbox"
      checked={column.follows ?? false}
      disabled={!editable}
      onchange={(event) => change({ follows: event.currentTarget.checked }, 'Follow the story')}
    />
    follows the story, divided by the scale
  </label>
{/if}

{#if chart}
  <MoveCurve
    name={column.name}
    {chart}
    {legs}
    {editable}
    frame={desk.choice?.first ?? null}
    onlive={(next) => desk.legs(column.key, next, 'Bend a move', false)}
    oncommit={() => desk.rest()}
  />
  <p class="text-sm">
    {say(chart.travel, kind)} from end to end{#if chart.rig}, {Math.abs(
        chart.turned.reduce((sum, t) => sum + Math.abs(t), 0) / (rig?.steps_per_turn ?? 1),
      ).toFixed(1)} turns in all; whole steps are at most {say(chart.error, kind)} off{/if}{#if chart.turns_round.length && chart.play_steps}.
      Play is taken up at frame {chart.turns_round.join(', ')}{/if}.
  </p>
{/if}

{#if !column.follows || !axis?.followed}
  {#each legs as one, i (i)}
    <fieldset class="border-line mt-2 border-t pt-1" aria-label="Stretch {i + 1}">
      <div class="flex justify-between">
        <h4 class="font-semibold">Stretch {i + 1}</h4>
        {#if editable}<button
            class="text-soft text-sm underline"
            onclick={() =>
              desk.legs(
                column.key,
                legs.filter((_, n) => n !== i),
                'Remove a stretch',
              )}>remove</button
          >{/if}
      </div>
      <NumberField
        label="First moved before frame"
        kind="plain"
        value={one.first ?? 2}
        disabled={!editable}
        onlive={(value) => leg(i, { first: Math.max(Math.round(value ?? 2), 1) }, false)}
        oncommit={() => desk.rest()}
      />
      <NumberField
        label="Frames"
        kind="plain"
        value={one.frames ?? 24}
        disabled={!editable}
        onlive={(value) => leg(i, { frames: Math.max(Math.round(value ?? 1), 1) }, false)}
        oncommit={() => desk.rest()}
      />
      <NumberField
        label="How far"
        hint={turns ? 'minus turns back' : 'minus goes back'}
        {kind}
        value={one.way ?? 0}
        disabled={!editable}
        onlive={(value) => leg(i, { way: value ?? 0 }, false)}
        oncommit={() => desk.rest()}
      />
      {#if one.curve?.length}
        <p class="text-soft text-sm">
          By its curve through {one.curve.length}
          {one.curve.length === 1 ? 'point' : 'points'}.
          {#if editable}<button class="underline" onclick={() => leg(i, { curve: [] }, true)}
              >Ease again</button
            >{/if}
        </p>
      {:else}
        <ChoiceField
          label="Ease"
          value={one.ease ?? 'both'}
          options={EASES}
          disabled={!editable}
          onchange={(value) => leg(i, { ease: (value ?? 'both') as Leg['ease'] }, true)}
        />
        {#if (one.ease ?? 'both') !== 'even'}
          <NumberField
            label="Ramp"
            hint="by 1, 2, 3 parts a frame over so many frames; 0: smooth"
            kind="plain"
            value={one.ramp_frames ?? 0}
            disabled={!editable}
            onlive={(value) => leg(i, { ramp_frames: Math.max(Math.round(value ?? 0), 0) }, false)}
            oncommit={() => desk.rest()}
          />
        {/if}
      {/if}
    </fieldset>
  {/each}
  {#if editable}
    <button class="btn mt-1 min-h-8!" onclick={add}
      >{legs.length ? 'Add a stretch' : 'Add the first stretch'}</button
    >
    {#if legs.length}<span class="text-soft ml-2 text-xs"
        >Double-click the curve to bend it through a point.</span
      >{/if}
  {/if}
{/if}

<h4 class="mt-3 font-semibold">To take to the table</h4>
<ul class="flex flex-wrap gap-x-4 text-sm">
  <li><a class="underline" href="{base}/chart.pdf?{at}" target="_blank">Printed chart</a></li>
  <li><a class="underline" href="{base}/chart.csv?{at}">CSV</a></li>
  <li><a class="underline" href="{base}/chart.gcode?{at}">G-code</a></li>
  {#if !turns || round}
    <li>
      <a
        class="underline"
        href="{base}/strip.pdf?{at}{radius ? `&radius_mm=${radius}` : ''}"
        target="_blank">Strip of marks at true size</a
      >
    </li>
  {/if}
</ul>
{#if turns}
  <NumberField
    label="Strip stuck round at"
    hint="from the middle; what the rig says unless told"
    kind="mm"
    value={radius}
    derived={rig?.radius_mm ?? null}
    nullable
    onlive={(value) => (radius = value)}
    oncommit={() => {}}
  />
{/if}
