<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { bent, pairs, pointsAt, straight } from '../../lib/drawings/divider';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length, say } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import type { Tricks } from './tricks.svelte';

  type Split = Schemas['SplitFields'];
  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    answer: Tricks | null;
    split: Split | null;
    frame: number;
    onchoose: (id: string) => void;
  };
  let { bench, record, answer, split, frame, onchoose }: Props = $props();
  const splits = $derived(bench.shot.draft.splits ?? []);
  const keys = $derived([...(split?.keys ?? [])].sort((a, b) => (a.frame ?? 1) - (b.frame ?? 1)));
  const study = $derived(answer?.splits.find((s) => s.split_id === split?.id) ?? null);
  const plates = $derived(bench.plates.map((p) => ({ value: p.id, name: p.draft.name })));
  const parts: Record<string, string> = {
    body: 'body',
    reach: 'arms',
    shadow: 'shadow',
    reflection: 'reflection',
  };

  function live(changed: Partial<Split>) {
    if (!split) return;
    bench.live(
      bench.shot,
      'splits',
      splits.map((s) => (s.id === split.id ? { ...s, ...changed } : s)),
    );
  }
  const commit = (label: string) => bench.commit(bench.shot, label);
  function change(changed: Partial<Split>, label: string) {
    live(changed);
    commit(label);
  }
  function draw() {
    const live = bench.plates.filter((p) => p.draft.cut === 'split');
    const [first, second] = live.length > 1 ? live : bench.plates;
    const id = crypto.randomUUID();
    const made: Split = {
      id,
      name: splits.length ? `line ${splits.length + 1}` : 'the line',
      first_id: first?.id ?? null,
      second_id: second?.id ?? null,
      upright: true,
      feather_px: 16,
      keys: [
        {
          frame: 1,
          points: [
            [0.5, 0],
            [0.5, 1],
          ],
        },
      ],
      shine_m: null,
      throw: null,
    };
    bench.change(bench.shot, 'splits', [...splits, made], 'Draw a line');
    onchoose(id);
  }
  function reshape(how: typeof bent, label: string) {
    if (!split) return;
    // All keys keep as many points as each other, so that the line moves without a jump.
    change(
      {
        keys: keys.map((k) => ({ ...k, points: how(pairs(k.points)).map((p) => [...p]) })),
      },
      label,
    );
  }
  function keyHere() {
    const points = pointsAt(keys, frame).map((p) => [...p]);
    change({ keys: [...keys, { frame, points }] }, 'Key of the line');
  }
  const throwOf = $derived(split?.throw ?? null);
  function throwIt() {
    const at = (id: string | null | undefined, fallback: number) => {
      const who = bench.standIns.find(
        (s) => s.draft.plate_id === id && s.draft.kind === 'figure',
      )?.draft;
      return { x: who?.x_m ?? fallback, y: who?.y_m ?? 3 };
    };
    const [from, to] = [at(split?.first_id, -0.8), at(split?.second_id, 0.8)];
    change(
      {
        throw: {
          from_x_m: from.x,
          from_y_m: from.y,
          from_z_m: 1.4,
          to_x_m: to.x,
          to_y_m: to.y,
          to_z_m: 1.3,
          frame,
          frames: 12,
        },
      },
      'Throw',
    );
  }
  const flights: [keyof NonNullable<Split['throw']>, string, 'length' | 'plain'][] = [
    ['from_x_m', 'From, to the right', 'length'],
    ['from_y_m', 'From, away', 'length'],
    ['from_z_m', 'From, up', 'length'],
    ['to_x_m', 'To, to the right', 'length'],
    ['to_y_m', 'To, away', 'length'],
    ['to_z_m', 'To, up', 'length'],
    ['frame', 'Leaves the hand at frame', 'plain'],
    ['frames', 'Flies for frames', 'plain'],
  ];
</script>

<section class="px-3 py-2" aria-label="Split">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Split</h2>
    {#if bench.editable}<button class="btn min-h-7! py-0!" onclick={draw}>Draw a line</button>{/if}
  </div>
  {#if !split}
    <p class="text-soft text-sm">
      One performer twice, a change of clothes in the air, two lucky halves: two plates of one
      lock-off and a line between them. Draw it here, then drag its squares in the Frame; the strip
      that nobody may enter appears on the plan, with tape numbers.
    </p>
  {:else}
    {#if splits.length > 1}
      <ChoiceField
        label="Line"
        value={split.id}
        options={splits.map((s) => ({ value: s.id, name: s.name ?? 'line' }))}
        onchange={(id) => id && onchoose(id)}
      />
    {/if}
    <ChoiceField
      label={split.upright === false ? 'Above it' : 'Left of it'}
      empty="no plate"
      value={split.first_id ?? null}
      options={plates}
      disabled={!bench.editable}
      onchange={(id) => change({ first_id: id }, 'Side of the line')}
    />
    <ChoiceField
      label={split.upright === false ? 'Below it' : 'Right of it'}
      empty="no plate"
      value={split.second_id ?? null}
      options={plates}
      disabled={!bench.editable}
      onchange={(id) => change({ second_id: id }, 'Side of the line')}
    />
    <NumberField
      label="Feather"
      kind="pixels"
      value={split.feather_px ?? 16}
      disabled={!bench.editable}
      onlive={(v) => live({ feather_px: v ?? 0 })}
      oncommit={() => commit('Feather')}
    />
    <NumberField
      label="A surface that mirrors, up"
      hint="table top, wet floor"
      kind="length"
      nullable
      value={split.shine_m ?? null}
      disabled={!bench.editable}
      onlive={(v) => live({ shine_m: v })}
      oncommit={() => commit('Mirroring surface')}
    />
    {#if bench.shot.problems.splits}<p role="alert" class="font-semibold">
        {bench.shot.problems.splits}
      </p>{/if}
    {#if bench.editable}
      <div class="mt-1 flex flex-wrap gap-1">
        <button class="btn min-h-7! py-0!" onclick={() => reshape(bent, 'Bend the line')}
          >Bend it</button
        >
        <button
          class="btn min-h-7! py-0!"
          disabled={(keys[0]?.points.length ?? 2) < 3}
          onclick={() => reshape(straight, 'Straighten the line')}>Straighten</button
        >
        <button
          class="btn min-h-7! py-0!"
          disabled={keys.some((k) => (k.frame ?? 1) === frame)}
          onclick={keyHere}>Key at frame {frame}</button
        >
        <button
          class="btn min-h-7! py-0!"
          onclick={() =>
            bench.change(
              bench.shot,
              'splits',
              splits.filter((s) => s.id !== split.id),
              'Take the line away',
            )}>Take it away</button
        >
      </div>
    {/if}
    {#if keys.length > 1}
      <ul class="mt-1 flex flex-wrap gap-1 text-sm" aria-label="Keys of the line">
        {#each keys as key (key.frame)}
          <li class="bg-paper flex items-center">
            <button
              class={[
                'px-1.5',
                (key.frame ?? 1) === frame ? 'font-semibold underline' : 'underline',
              ]}
              onclick={() => bench.show(key.frame ?? 1)}>{key.frame}</button
            >
            {#if bench.editable}<button
                class="text-soft min-h-6 min-w-6"
                aria-label={`Remove the key at frame ${key.frame}`}
                onclick={() => change({ keys: keys.filter((k) => k !== key) }, 'Remove a key')}
                >×</button
              >{/if}
          </li>
        {/each}
      </ul>
    {/if}
  {/if}
</section>

{#if study}
  <section class="border-line border-t px-3 py-2" aria-label="Who is how near">
    <h3>Who is how near</h3>
    {#if study.crossings.length === 0}
      <p class="text-soft text-sm">
        {study.side
          ? 'Nothing of this plate is in the picture.'
          : 'This plate is on neither side; choose one of the halves on the left.'}
      </p>
    {:else}
      <table class="w-full text-sm" data-testid="crossings">
        <thead class="text-soft text-xs"
          ><tr
            ><th class="text-left font-normal">Of</th><th class="text-left font-normal">what</th><th
              class="text-right font-normal">picture</th
            ><th class="text-right font-normal">stage</th><th class="text-right font-normal"
              >frame</th
            ></tr
          ></thead
        >
        <tbody>
          {#each study.crossings as c, i (i)}
            <tr class={['border-line border-t', c.over_px > 0 ? 'font-semibold' : '']}
              ><td>{c.name}</td><td>{parts[c.part]}</td><td class="text-right"
                >{c.over_px > 0 ? 'over' : 'clear'} {Math.abs(c.over_px).toFixed(0)} px</td
              ><td class="text-right">{length(Math.abs(c.over_m))}</td><td class="text-right"
                >{c.frame}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  </section>
  {#if study.marks.length > 0}
    <section class="border-line border-t px-3 py-2" aria-label="Tape on the floor">
      <h3>Tape on the floor</h3>
      <table class="w-full text-sm" data-testid="strip-marks">
        <thead class="text-soft text-xs"
          ><tr
            ><th class="text-left font-normal">Mark</th><th class="pl-2 text-right font-normal"
              >from sensor</th
            ><th class="pl-2 text-right font-normal">aside</th><th
              class="pl-2 text-right font-normal">two tapes</th
            ></tr
          ></thead
        >
        <tbody>
          {#each study.marks as mark, i (i)}
            <tr class="border-line border-t"
              ><td>{mark.name}</td><td class="pl-2 text-right whitespace-nowrap"
                >{length(mark.from_sensor_m)}</td
              ><td class="pl-2 text-right whitespace-nowrap"
                >{length(Math.abs(mark.aside_m))} {mark.aside_m < 0 ? 'L' : 'R'}</td
              ><td class="pl-2 text-right text-xs whitespace-nowrap"
                >{length(mark.from_left_m)} · {length(mark.from_right_m)}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    </section>
  {/if}
  {#if study.passes.length > 0}
    <section class="border-line border-t px-3 py-2" aria-label="Order of the passes">
      <h3>Order of the passes</h3>
      <ol class="list-decimal pl-5 text-sm">
        {#each study.passes as pass, i (i)}
          <li>
            <b>{pass.name}</b>, done after {pass.done_min.toFixed(0)} min. {pass.why}
            {pass.filler}
          </li>
        {/each}
      </ol>
      <p class="mt-1 text-sm" data-testid="drift-limit">
        The halves may differ by <b>{study.limit.px.toFixed(1)} px</b>
        ({study.limit.turn_deg.toFixed(3)}° of the camera) and
        <b>{study.limit.light_stops.toFixed(2)} stop</b>
        along the line with this feather.
        {#if study.limit.minutes !== null}The sun leaves {study.limit.minutes.toFixed(0)} min; the passes
          need {study.limit.needed_min.toFixed(0)}.{/if}
      </p>
    </section>
  {/if}
{/if}

{#if split}
  <section class="border-line border-t px-3 py-2" aria-label="Throw">
    <div class="flex items-baseline justify-between">
      <h3>Throw</h3>
      {#if bench.editable}
        {#if throwOf}<button
            class="btn min-h-7! py-0!"
            onclick={() => change({ throw: null }, 'No throw')}>No throw</button
          >{:else}<button class="btn min-h-7! py-0!" onclick={throwIt}>Throw something</button>{/if}
      {/if}
    </div>
    {#if throwOf}
      {#each flights as [part, label, kind] (part)}
        <NumberField
          {label}
          {kind}
          value={throwOf[part] ?? null}
          disabled={!bench.editable}
          onlive={(v) =>
            live({
              throw: {
                ...throwOf,
                [part]: kind === 'plain' ? Math.max(Math.round(v ?? 1), 1) : (v ?? 0),
              },
            })}
          oncommit={() => commit('Throw')}
        />
      {/each}
      {#if study?.flight}
        {@const f = study.flight}
        <p class="mt-1 text-sm" data-testid="flight">
          <b>{f.speed_m_s.toFixed(1)} m/s</b>, {f.up_deg.toFixed(0)}° up; highest
          {length(f.apex_m)} at frame {f.apex_frame}; lands at frame {f.first_frame +
            f.path_px.length -
            1} after {say(f.seconds, 'seconds')} with {f.landing_m_s.toFixed(1)} m/s.
          {#if f.crosses_frame}It passes the line at frame {f.crosses_frame}.{/if}
        </p>
      {/if}
    {:else}
      <p class="text-soft text-sm">
        A thing thrown from one half that is caught in the other: its flight, and where the line has
        to be meanwhile.
      </p>
    {/if}
  </section>
{/if}

<section class="border-line border-t px-3 py-2" aria-label="Mirrored half">
  <h3>Mirrored half</h3>
  <label class="flex items-center gap-2">
    <input
      type="checkbox"
      checked={record.draft.flop ?? false}
      disabled={!bench.editable}
      onchange={(event) => {
        // Half of a lock-off is mirrored, the other is not: only this plate changes.
        bench.alone(record, 'flop', event.currentTarget.checked);
        bench.commitAll([record], 'Mirrored half');
      }}
    />
    {record.draft.name} is filmed the other way round and mirrored in post
  </label>
  {#if answer && answer.handed.length > 0}
    <p class="text-soft text-sm">
      Its marks, eyelines and lamps are mirrored on the Stage and the set card. What would tell:
    </p>
    <table class="w-full text-sm" data-testid="handed">
      <tbody>
        {#each answer.handed as one, i (i)}
          <tr class="border-line border-t align-top"
            ><td class="pr-2 font-semibold">{one.what}</td><td>{one.do}</td></tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
</section>
