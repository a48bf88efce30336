<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { say } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import Part from './Part.svelte';
  import type { Tricks } from './tricks.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate>; answer: Tricks | null };
  let { bench, record, answer }: Props = $props();
  const rig = $derived(record.draft.rig ?? null);
  const things = $derived(
    bench.standIns
      .filter((s) => s.draft.kind === 'box' || s.draft.kind === 'card')
      .map((s) => ({ value: s.id, name: s.draft.name })),
  );
  type Rig = NonNullable<Plate['rig']>;
  const FRESH: Rig = $derived({
    thing_id:
      bench.standIns.find((s) => s.draft.plate_id === record.id && s.draft.kind === 'box')?.id ??
      null,
    kind: 'thread',
    weight_kg: 0.5,
    diameter_mm: null,
    rated_kg: null,
    colour: 'plain',
    turns_per_s: 0,
    shine_m: null,
  });
  const COLOURS = [
    { value: 'plain', name: 'plain' },
    { value: 'matched', name: 'in the tone behind it' },
    { value: 'clear', name: 'clear' },
  ];
  const change = (part: string, value: unknown, label: string) =>
    bench.change(record, 'rig', { ...(rig ?? FRESH), [part]: value }, label);
  /** Kinds that are a thread or a line. */
  const CORDED = ['thread', 'line', 'sled', 'pull'];
  /** The thread or line of the kit that it hangs on: told by thickness and rating. */
  const onCord = $derived(
    bench.kit.cords.find(
      (one) =>
        one.diameter_mm === rig?.diameter_mm && (one.rated_kg ?? null) === (rig?.rated_kg ?? null),
    ),
  );
  function take(id: string | null) {
    const cord = bench.kit.cords.find((one) => one.id === id);
    const { diameter_mm, rated_kg = null } = cord ?? { diameter_mm: null };
    const looks = rig?.colour ?? 'plain';
    const colour = cord?.clear ? 'clear' : looks === 'clear' ? 'plain' : looks;
    bench.change(record, 'rig', { ...(rig ?? FRESH), diameter_mm, rated_kg, colour }, 'Line');
  }
  const most = $derived(Math.max(...(answer?.rigs ?? []).map((r) => r.hours.high), 0.1));
  const usual = $derived(answer?.rigs.find((r) => r.kind === rig?.kind)?.diameter_mm ?? null);
</script>

<section class="px-3 py-2" aria-label="Rig">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Rig</h2>
    {#if bench.editable}
      {#if rig}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(record, 'rig', null, 'No rig')}>No rig</button
        >{:else}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(record, 'rig', FRESH, 'A rig')}>Rig a thing</button
        >{/if}
    {/if}
  </div>
  {#if !rig}
    <p class="text-soft text-sm">
      A thing that moves by itself: thread, rod, hand, magnet, sled or mirror. Say which thing and
      what it weighs; how it moves is its own speed and course. What of each rig is seen, and what
      removing it costs, stands side by side.
    </p>
  {:else}
    <ChoiceField
      label="Moves"
      empty="choose a thing"
      value={rig.thing_id ?? null}
      options={things}
      disabled={!bench.editable}
      onchange={(id) => change('thing_id', id, 'What the rig moves')}
    />
    <Part {bench} {record} field="rig" part="weight_kg" label="Weighs, kg" />
    {#if bench.kit.cords.length > 0 && CORDED.includes(rig.kind ?? 'thread')}
      <ChoiceField
        label="On"
        empty="typed below"
        value={onCord?.id ?? null}
        options={bench.kit.cords.map((one) => ({ value: one.id, name: one.name }))}
        disabled={!bench.editable}
        onchange={take}
      />
    {/if}
    <Part
      {bench}
      {record}
      field="rig"
      part="diameter_mm"
      label="Thick"
      kind="mm"
      nullable
      derived={usual}
    />
    <Part
      {bench}
      {record}
      field="rig"
      part="rated_kg"
      label="Rated to break at, kg"
      hint="blank: unknown"
      nullable
    />
    <ChoiceField
      label="Looks"
      value={rig.colour ?? 'plain'}
      options={COLOURS}
      disabled={!bench.editable}
      onchange={(value) => change('colour', value, 'Colour of the rig')}
    />
    <Part {bench} {record} field="rig" part="turns_per_s" label="Spins on set, turns a second" />
    <Part
      {bench}
      {record}
      field="rig"
      part="shine_m"
      label="Mirroring surface at"
      hint="table top, wet floor"
      kind="length"
      nullable
    />
    <p class="text-soft mt-1 text-xs">
      Never people: who hangs, is pulled or is lifted is in the hands of licensed riggers. Nobody
      stands under what hangs.
    </p>
  {/if}
</section>

{#if answer && answer.rigs.length > 0}
  <section class="border-line border-t px-3 py-2" aria-label="Rigs side by side">
    <h3>Side by side</h3>
    <table class="w-full text-sm" data-testid="rigs">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">By</th><th class="pl-2 text-right font-normal"
            >thick</th
          ><th class="pl-2 text-right font-normal">smeared</th><th
            class="pl-2 text-right font-normal">frames</th
          ><th class="text-right font-normal">removing</th></tr
        ></thead
      >
      <tbody>
        {#each answer.rigs as r (r.kind)}
          <tr
            class={['border-line border-t align-top', r.kind === rig?.kind ? 'bg-well' : '']}
            data-rig={r.kind}
          >
            <td class="py-1">
              <label class="flex items-center gap-1.5">
                <input
                  type="radio"
                  name="rig-kind"
                  value={r.kind}
                  checked={r.kind === rig?.kind}
                  disabled={!bench.editable}
                  onchange={() =>
                    bench.change(
                      record,
                      'rig',
                      {
                        ...(rig ?? FRESH),
                        kind: r.kind as Rig['kind'],
                        diameter_mm: null,
                        rated_kg: null,
                      },
                      `By ${r.name.toLowerCase()}`,
                    )}
                />
                <b class={r.possible ? '' : 'text-soft font-normal line-through'}>{r.name}</b>
              </label>
              <span class="text-soft block text-xs">
                {r.possible ? r.note : `only ${r.only}`}{r.shadow
                  ? ''
                  : '; shadow and reflection are not the thing’s own'}{r.hides
                  ? `; covers ${(r.hides * 100).toFixed(0)} %`
                  : ''}{r.before.length && r.possible
                  ? `; passes before ${r.before.join(', ')}`
                  : ''}{r.reflected_frames > 0 && r.possible
                  ? `; its image in what shines is seen on ${r.reflected_frames} frames`
                  : ''}
              </span>
            </td>
            {#if r.possible}
              <td class="py-1 pl-2 text-right whitespace-nowrap"
                >{r.thick_px > 0 ? `${r.thick_px.toFixed(1)} px` : 'hidden'}</td
              >
              <td class="py-1 pl-2 text-right whitespace-nowrap"
                >{r.thick_px > 0 ? `${r.blur_px.toFixed(1)} px` : ''}</td
              >
              <td class="py-1 pl-2 text-right">{r.frames > 0 ? r.frames : 'none'}</td>
              <td class="w-18 py-1 pl-2 text-right whitespace-nowrap">
                {r.hours.likely.toFixed(1)} h
                <span class="bg-line mt-0.5 block h-1.5"
                  ><span class="bg-ink block h-1.5" style:width="{(r.hours.likely / most) * 100}%"
                  ></span></span
                >
              </td>
            {:else}
              <td colspan="4"></td>
            {/if}
          </tr>
        {/each}
      </tbody>
    </table>
  </section>
{/if}

{#if answer?.spin}
  {@const s = answer.spin}
  <section class="border-line border-t px-3 py-2" aria-label="Spin">
    <h3>Spin</h3>
    <p class="text-sm" data-testid="spin">
      {s.turns_per_s} turns a second at {say(s.capture_fps, 'rate')} are
      <b>{s.frames_per_turn.toFixed(1)} frames a turn</b>, shown at {s.played_turns_per_s.toFixed(
        2,
      )} turns a second.
      {s.whole
        ? 'A whole number of frames makes a turn: one turn repeats for ever.'
        : `At ${s.nearest_turns_per_s.toFixed(2)} turns a second a whole number of frames makes a turn.`}
      Roll {say(s.roll_s, 'seconds')} for five clean turns.
      {#if s.jumps}<b>It jumps instead of turning</b>: film it at {say(s.needed_fps, 'rate')} or more.{/if}
      {s.smooth_to < 1
        ? `It can be slowed to ${(s.smooth_to * 100).toFixed(0)} % before frames have to be made.`
        : 'It cannot be slowed without frames being made.'}
    </p>
  </section>
{/if}
