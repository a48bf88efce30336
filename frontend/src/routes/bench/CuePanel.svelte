<script lang="ts">
  import Play from '@lucide/svelte/icons/play';
  import Square from '@lucide/svelte/icons/square';
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { Kind } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  type Cue = Schemas['CueFields'];
  const cue = $derived(record.draft.cue ?? null);
  const kinds = [
    { value: 'fire', name: 'fire nobody sees' },
    { value: 'lightning', name: 'lightning' },
    { value: 'passing', name: 'a lamp that drives past' },
    { value: 'snap', name: 'light at a snap of the hand' },
  ];
  const numbers: { field: keyof Cue; label: string; kind: Kind; hint?: string }[] = [
    { field: 'low', label: 'Lowest', kind: 'percent' },
    { field: 'high', label: 'Brightest', kind: 'percent' },
    {
      field: 'per_s',
      label: 'How lively',
      kind: 'plain',
      hint: 'flickers, strokes or passings a second',
    },
    { field: 'at_s', label: 'Begins after', kind: 'seconds' },
    { field: 'lasts_s', label: 'Lasts', kind: 'seconds', hint: '0: to the end of the shot' },
    { field: 'seed', label: 'Variation', kind: 'plain', hint: 'another number, another flicker' },
  ];
  /** How slowly the simulated lamp follows, seconds. */
  let response = $state(0);
  const lampNames = $derived(
    (record.draft.lamps ?? []).map((lamp, i) => ({
      value: String(i),
      name: `${i + 1}. ${bench.kit.lamps.find((l) => l.id === lamp.lamp_id)?.name ?? 'gone'}`,
    })),
  );
  let found = $state.raw<Schemas['CueAnswer'] | null>(null);
  let problem = $state('');
  const seconds = $derived(Math.min(bench.shot.draft.screen_time_s ?? 4, 600));
  const fps = $derived(Math.min(bench.shot.draft.playback_fps ?? 24, 240));

  /** The number of the lamp that plays; -1 when it is gone. */
  const played = $derived(
    cue?.lamp_key
      ? (record.draft.lamps ?? []).findIndex((lamp) => lamp.key === cue.lamp_key)
      : (cue?.lamp ?? 0),
  );

  /** Play on a lamp, under a name that stays with it when others come and go. */
  function playOn(index: number) {
    const lamps = $state.snapshot(record.draft.lamps ?? []) as Schemas['LampPlace'][];
    const key = lamps[index]?.key || crypto.randomUUID();
    const changes = {
      lamps: lamps.map((lamp, i) => (i === index ? { ...lamp, key } : lamp)),
      cue: { ...($state.snapshot(cue) as Cue), lamp: index, lamp_key: key },
    };
    bench.decide(record, changes, 'Interactive light');
  }

  let asked = 0;
  $effect(() => {
    if (!cue) {
      found = null;
      return;
    }
    const body = {
      cue: $state.snapshot(cue) as Cue,
      seconds,
      fps,
      response_s: response,
      steps: 255,
    };
    const mine = ++asked;
    ask(() => api.POST('/api/calc/cue', { body }))
      .then((answer) => {
        if (mine !== asked) return;
        found = answer;
        problem = '';
      })
      .catch((error: unknown) => {
        if (!(error instanceof Failure)) throw error;
        if (mine === asked) problem = error.message;
      });
  });

  const FIRST: Cue = {
    kind: 'fire',
    lamp: 0,
    lamp_key: '',
    low: 0.2,
    high: 1,
    per_s: 1.5,
    at_s: 0,
    lasts_s: 0,
    seed: 1,
  };
  const live = (values: Partial<Cue>) =>
    cue && bench.live(record, 'cue', { ...($state.snapshot(cue) as Cue), ...values });

  const [WIDE, HIGH] = [400, 90];
  const curve = (levels: number[]) =>
    levels
      .map((v, i) => {
        const x = (i / Math.max(levels.length - 1, 1)) * WIDE;
        return `${i ? 'L' : 'M'}${x.toFixed(1)} ${(HIGH - 2 - v * (HIGH - 6)).toFixed(1)}`;
      })
      .join('');

  /** The frame that the simulated lamp shows while it plays. */
  let frame = $state(-1);
  let playing = $state(false);
  let ticket = 0;
  function play() {
    if (!found) return;
    if (playing) {
      playing = false;
      ticket++;
      return;
    }
    playing = true;
    const mine = ++ticket;
    const begin = performance.now();
    const { length: last } = found.shown;
    const step = (now: number) => {
      if (mine !== ticket || !found) return;
      frame = Math.floor(((now - begin) / 1000) * found.fps);
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
  const level = $derived(found && frame >= 0 ? (found.shown[frame] ?? 0) : 0);
</script>

<section aria-label="Interactive light" class="min-w-0">
  <div class="flex items-baseline justify-between gap-2">
    <h3>Interactive light</h3>
    {#if cue && bench.editable}
      <button
        class="text-sm underline"
        onclick={() => bench.change(record, 'cue', null, 'Interactive light')}>Take it away</button
      >
    {/if}
  </div>
  {#if !cue}
    <p class="text-soft text-sm">
      A lamp that plays a fire, a storm, a passing lamp or a snap of the hand: the light is filmed
      for real, frame by frame as the cut needs it.
    </p>
    {#if bench.editable}
      <button
        class="btn mt-1"
        onclick={() => bench.change(record, 'cue', FIRST, 'Interactive light')}
        >Let a lamp play</button
      >
    {/if}
  {:else}
    <div>
      <ChoiceField
        label="Plays"
        value={cue.kind}
        options={kinds}
        disabled={!bench.editable}
        onchange={(value) => {
          live({ kind: (value ?? 'fire') as Cue['kind'] });
          bench.commit(record, 'Interactive light');
        }}
      />
      {#if lampNames.length}
        <ChoiceField
          label="On lamp"
          value={played === -1 ? '' : String(played)}
          options={lampNames}
          disabled={!bench.editable}
          onchange={(value) => {
            if (value !== null && value !== '') playOn(Number(value));
          }}
        />
      {/if}
      {#each numbers as number (number.field)}
        <NumberField
          label={number.label}
          hint={number.hint}
          kind={number.kind}
          value={(cue[number.field] as number | undefined) ?? 0}
          problem={record.problems[`cue.${number.field}`]}
          disabled={!bench.editable}
          onlive={(value) =>
            value !== null &&
            live({ [number.field]: number.field === 'seed' ? Math.round(value) : value })}
          oncommit={() => bench.commit(record, 'Interactive light')}
        />
      {/each}
      <NumberField
        label="The lamp follows in"
        hint="diodes 0, a filament about 0.1 s"
        kind="seconds"
        value={response}
        onlive={(value) => value !== null && (response = Math.min(Math.max(value, 0), 5))}
        oncommit={() => {}}
      />
    </div>
    {#if record.problems['cue']}<p role="alert" class="font-semibold">
        {record.problems['cue']}
      </p>{/if}
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    {#if found}
      <div class="mt-1 flex items-center gap-3">
        <svg
          viewBox="0 0 {WIDE} {HIGH}"
          preserveAspectRatio="none"
          class="border-line h-24 min-w-0 grow border"
          role="img"
          aria-label={`Level over ${found.levels.length} frames; at most ${found.flashes} flashes in one second`}
          data-testid="cue-curve"
        >
          {#each [0, 0.5, 1] as v (v)}
            <path
              d="M0 {HIGH - 2 - v * (HIGH - 6)}H{WIDE}"
              stroke="var(--line)"
              stroke-width=".6"
            />
          {/each}
          <path
            d={curve(found.levels)}
            fill="none"
            stroke="var(--soft)"
            stroke-dasharray="3 3"
            vector-effect="non-scaling-stroke"
          />
          <path
            d={curve(found.shown)}
            fill="none"
            stroke="var(--ochre-ink)"
            stroke-width="1.6"
            vector-effect="non-scaling-stroke"
          />
          {#if frame >= 0}
            {@const x = (frame / Math.max(found.levels.length - 1, 1)) * WIDE}
            <path d="M{x} 0V{HIGH}" stroke="var(--ink)" vector-effect="non-scaling-stroke" />
          {/if}
        </svg>
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
            disabled={!found.safe && !playing}
            title={found.safe ? '' : 'Too many flashes to show on a screen'}
            onclick={play}
          >
            {#if playing}<Square size={13} /> Stop{:else}<Play size={13} /> Play{/if}
          </button>
        </div>
      </div>
      <p class="text-sm">
        Dashed as asked, solid as the simulated lamp shows it. At most
        <b>{found.flashes}</b>
        {found.flashes === 1 ? 'flash' : 'flashes'} in one second{#if found.flashes > 0}, from frame {found.first_frame}{/if};
        {#if found.safe}up to {found.safe_flashes} are held to be harmless.{:else}<b
            class="text-breaks"
            >more than {found.safe_flashes} can make people ill: slower, or less deep.</b
          >{/if}
      </p>
      {#each found.cautions as caution (caution)}<p class="text-soft text-xs">{caution}</p>{/each}
      <p class="mt-1 text-sm">
        <a
          class="underline"
          href="/api/productions/{bench.productionId}/shots/{bench.shotId}/plates/{record.id}/cue.csv"
          download>Levels by frame, CSV</a
        >
      </p>
      <details class="text-sm">
        <summary>Table</summary>
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
              {#each found.levels as asked, i (i)}
                <tr class="border-line border-t"
                  ><td>{i + 1}</td><td class="text-right">{(asked * 100).toFixed(0)} %</td><td
                    class="text-right">{((found.shown[i] ?? 0) * 100).toFixed(0)} %</td
                  ></tr
                >
              {/each}
            </tbody>
          </table>
        </div>
      </details>
    {/if}
  {/if}
</section>
