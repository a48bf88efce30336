<script lang="ts">
  import Play from '@lucide/svelte/icons/play';
  import Square from '@lucide/svelte/icons/square';
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { Kind } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import CueCurve from './CueCurve.svelte';
  import { FIRST_KEYS, MOST_KEYS, sorted, type Cue, type LevelKey } from './cues';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    cue: Cue;
    number: number;
    answer: Schemas['CueAnswer'] | null;
    fps: number;
    safeFlashes: number;
    onlive: (values: Partial<Cue>) => void;
    oncommit: () => void;
    onlamp: (lamp: number) => void;
    ondrop: () => void;
  };
  let {
    bench,
    record,
    cue,
    number,
    answer,
    fps,
    safeFlashes,
    onlive,
    oncommit,
    onlamp,
    ondrop,
  }: Props = $props();

  const kinds = [
    { value: 'fire', name: 'fire nobody sees' },
    { value: 'lightning', name: 'lightning' },
    { value: 'passing', name: 'a lamp that drives past' },
    { value: 'snap', name: 'light at a snap of the hand' },
    { value: 'drawn', name: 'a curve by hand' },
  ];
  type Number = { field: keyof Cue; label: string; kind: Kind; hint?: string };
  const always: Number[] = [{ field: 'at_s', label: 'Begins after', kind: 'seconds' }];
  const pattern: Number[] = [
    { field: 'low', label: 'Lowest', kind: 'percent' },
    { field: 'high', label: 'Brightest', kind: 'percent' },
    {
      field: 'per_s',
      label: 'How lively',
      kind: 'plain',
      hint: 'flickers, strokes or passings a second',
    },
    { field: 'lasts_s', label: 'Lasts', kind: 'seconds', hint: '0: to the end of the shot' },
    { field: 'seed', label: 'Variation', kind: 'plain', hint: 'another number, another flicker' },
  ];
  const drawn = $derived(cue.kind === 'drawn');
  const numbers = $derived([...always, ...(drawn ? [] : pattern)]);
  const keys = $derived(cue.keys ?? []);
  const where = $derived(number ? `more_cues.${number - 1}` : 'cue');

  const lampNames = $derived(
    (record.draft.lamps ?? []).map((lamp, i) => ({
      value: String(i),
      name: `${i + 1}. ${bench.kit.lamps.find((l) => l.id === lamp.lamp_id)?.name ?? 'gone'}`,
    })),
  );
  /** The number of the lamp that plays; -1 when it is gone. */
  const played = $derived(
    cue.lamp_key
      ? (record.draft.lamps ?? []).findIndex((lamp) => lamp.key === cue.lamp_key)
      : (cue.lamp ?? 0),
  );
  const beats = $derived(
    (bench.shot.draft.beats ?? []).map((beat) => ({
      value: beat.id,
      name: `with: ${beat.name} (frame ${beat.frame})`,
    })),
  );
  const beatGone = $derived(!!cue.beat_id && !beats.some((beat) => beat.value === cue.beat_id));

  function change(values: Partial<Cue>) {
    onlive(values);
    oncommit();
  }

  function choose(kind: Cue['kind']) {
    change(kind === 'drawn' && !keys.length ? { kind, keys: FIRST_KEYS } : { kind });
  }

  const setKey = (index: number, values: Partial<LevelKey>) =>
    onlive({
      keys: $state
        .snapshot(keys)
        .map((key, i) => (i === index ? { ...key, ...values } : key)) as LevelKey[],
    });
  function settle() {
    onlive({ keys: sorted($state.snapshot(keys) as LevelKey[]) });
    oncommit();
  }
  function addKey() {
    const end = keys.at(-1);
    const at_s = (end?.at_s ?? 0) + 0.5;
    change({
      keys: [...($state.snapshot(keys) as LevelKey[]), { at_s, level: end?.level ?? 0.5 }],
    });
  }
  const dropKey = (index: number) =>
    change({ keys: ($state.snapshot(keys) as LevelKey[]).filter((_, i) => i !== index) });

  /** The frame that the simulated lamp shows while it plays. */
  let frame = $state(-1);
  let playing = $state(false);
  let ticket = 0;
  function play() {
    if (!answer) return;
    if (playing) {
      playing = false;
      ticket++;
      return;
    }
    playing = true;
    const mine = ++ticket;
    const begin = performance.now();
    const { length: last } = answer.shown;
    const step = (now: number) => {
      if (mine !== ticket || !answer) return;
      frame = Math.floor(((now - begin) / 1000) * fps);
      if (frame >= last) {
        frame = -1;
        playing = false;
        return;
      }
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }
  $effect(() => () => void ticket++);
  const level = $derived(answer && frame >= 0 ? (answer.shown[frame] ?? 0) : 0);
</script>

<div class="border-line mt-2 border-t pt-1 first-of-type:border-t-0" data-testid="cue">
  <ChoiceField
    label="Plays"
    value={cue.kind}
    options={kinds}
    disabled={!bench.editable}
    onchange={(value) => choose((value ?? 'fire') as Cue['kind'])}
  />
  {#if lampNames.length}
    <ChoiceField
      label="On lamp"
      value={played === -1 ? '' : String(played)}
      options={lampNames}
      disabled={!bench.editable}
      onchange={(value) => {
        if (value !== null && value !== '') onlamp(Number(value));
      }}
    />
  {/if}
  {#if beats.length || cue.beat_id}
    <ChoiceField
      label="Begins"
      value={beatGone ? null : (cue.beat_id ?? null)}
      options={beats}
      empty={beatGone ? 'with the shot: its beat is gone' : 'with the shot'}
      disabled={!bench.editable}
      onchange={(value) => change({ beat_id: value })}
    />
  {/if}
  {#each numbers as one (one.field)}
    <NumberField
      label={one.field === 'at_s' && cue.beat_id && !beatGone ? 'After that' : one.label}
      hint={one.hint}
      kind={one.kind}
      value={(cue[one.field] as number | undefined) ?? 0}
      problem={record.problems[`${where}.${one.field}`]}
      disabled={!bench.editable}
      onlive={(value) =>
        value !== null && onlive({ [one.field]: one.field === 'seed' ? Math.round(value) : value })}
      {oncommit}
    />
  {/each}
  {#if answer}
    <div class="mt-1 flex items-center gap-3">
      <CueCurve
        {answer}
        {fps}
        {frame}
        keys={drawn ? keys : null}
        editable={bench.editable}
        onlive={(made) => onlive({ keys: made })}
        {oncommit}
      />
      <div class="flex w-20 shrink-0 flex-col items-center gap-1">
        <svg
          width="44"
          height="44"
          role="img"
          aria-label={`The simulated lamp at ${Math.round(level * 100)} %`}
        >
          <circle
            cx="22"
            cy="22"
            r="18"
            fill="var(--shade)"
            fill-opacity=".75"
            stroke="var(--ink)"
          />
          <circle cx="22" cy="22" r="17" fill="var(--ochre)" fill-opacity={level} />
        </svg>
        <button
          class="btn min-h-7! py-0!"
          disabled={!answer.safe && !playing}
          title={answer.safe ? '' : 'Too many flashes to show on a screen'}
          onclick={play}
        >
          {#if playing}<Square size={13} /> Stop{:else}<Play size={13} /> Play{/if}
        </button>
      </div>
    </div>
    <p class="text-sm">
      Dashed as asked, solid as the simulated lamp shows it{drawn
        ? '; double-click sets a point, drag or the arrow keys move it, Delete takes it away'
        : ''}. At most
      <b>{answer.flashes}</b>
      {answer.flashes === 1 ? 'flash' : 'flashes'} in one second{#if answer.flashes > 0}, from frame {answer.first_frame}{/if};
      {#if answer.safe}up to {safeFlashes} are held to be harmless.{:else}<b class="text-breaks"
          >more than {safeFlashes} can make people ill: slower, or less deep.</b
        >{/if}
    </p>
    <details class="text-sm">
      <summary>{drawn ? 'Points and table' : 'Table'}</summary>
      {#if drawn}
        {#each keys as key, i (i)}
          <div class="flex items-end gap-2">
            <NumberField
              label={`Point ${i + 1}, after`}
              kind="seconds"
              value={key.at_s ?? 0}
              problem={record.problems[`${where}.keys.${i}.at_s`]}
              disabled={!bench.editable}
              onlive={(value) => value !== null && setKey(i, { at_s: Math.max(value, 0) })}
              oncommit={settle}
            />
            <NumberField
              label="level"
              kind="percent"
              value={key.level ?? 0}
              problem={record.problems[`${where}.keys.${i}.level`]}
              disabled={!bench.editable}
              onlive={(value) => value !== null && setKey(i, { level: value })}
              {oncommit}
            />
            {#if bench.editable}
              <button
                class="text-sm underline"
                aria-label={`Take point ${i + 1} away`}
                onclick={() => dropKey(i)}>Take away</button
              >
            {/if}
          </div>
        {/each}
        {#if bench.editable && keys.length < MOST_KEYS}
          <button class="btn my-1" onclick={addKey}>Add a point</button>
        {/if}
      {/if}
      <div class="relative max-h-40 overflow-y-auto">
        <table class="w-full">
          <thead class="text-soft text-xs"
            ><tr
              ><th class="text-left font-normal">Frame</th><th class="text-right font-normal"
                >Asked</th
              ><th class="text-right font-normal">Shown</th></tr
            ></thead
          >
          <tbody>
            {#each answer.levels as asked, i (i)}
              <tr class="border-line border-t"
                ><td>{i + 1}</td><td class="text-right">{(asked * 100).toFixed(0)} %</td><td
                  class="text-right">{((answer.shown[i] ?? 0) * 100).toFixed(0)} %</td
                ></tr
              >
            {/each}
          </tbody>
        </table>
      </div>
    </details>
  {/if}
  {#if bench.editable}
    <button class="text-sm underline" onclick={ondrop}>Take it away</button>
  {/if}
</div>
