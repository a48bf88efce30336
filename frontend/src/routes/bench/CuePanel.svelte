<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import { newest } from '../../lib/edit/newest';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import CueEditor from './CueEditor.svelte';
  import { FIRST_CUE, MOST_CUES, stored, type Cue } from './cues';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  /** The panel is made anew for another plate; what it asks may come back after it is gone. */
  // svelte-ignore state_referenced_locally
  const plateId = record.id;
  const LABEL = 'Interactive light';

  /** Everything that lamps play here: the first of them is stored apart. */
  const cues = $derived([
    ...(record.draft.cue ? [record.draft.cue] : []),
    ...(record.draft.more_cues ?? []),
  ]);
  /** How slowly the simulated lamps follow, seconds. */
  let response = $state(0);
  let found = $state.raw<Schemas['CuesAnswer'] | null>(null);
  let problem = $state('');
  let left = false;

  const find = newest(async () => {
    const body = { ...bench.plan(), plate_id: plateId, response_s: response, steps: 255 };
    try {
      const answer = await ask(() => api.POST('/api/calc/cues', { body }));
      if (left) return;
      found = answer as Schemas['CuesAnswer'];
      problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (!left) problem = error.message;
    }
  });

  /** What the answer hangs on. */
  const asked = $derived(
    JSON.stringify([
      cues,
      record.draft.lamps,
      response,
      bench.shot.draft.screen_time_s,
      bench.shot.draft.playback_fps,
      bench.shot.draft.beats,
    ]),
  );
  $effect(() => {
    void asked;
    if (cues.length) void find();
    else found = null;
  });
  $effect(() => () => {
    left = true;
  });

  const put = (all: Cue[]) => bench.decide(record, stored(all), LABEL);

  function live(index: number, values: Partial<Cue>) {
    const all = $state.snapshot(cues) as Cue[];
    const { cue, more_cues } = stored(
      all.map((one, i) => (i === index ? { ...one, ...values } : one)),
    );
    bench.live(record, index ? 'more_cues' : 'cue', index ? more_cues : cue);
  }

  /** Play on a lamp, under a name that stays with it when others come and go. */
  function playOn(index: number, lamp: number) {
    const lamps = $state.snapshot(record.draft.lamps ?? []) as Schemas['LampPlace'][];
    const key = lamps[lamp]?.key || crypto.randomUUID();
    const all = ($state.snapshot(cues) as Cue[]).map((one, i) =>
      i === index ? { ...one, lamp, lamp_key: key } : one,
    );
    const changes = {
      lamps: lamps.map((one, i) => (i === lamp ? { ...one, key } : one)),
      ...stored(all),
    };
    bench.decide(record, changes, LABEL);
  }

  /** One more lamp plays: the first that does not play yet. */
  function add() {
    const lamps = $state.snapshot(record.draft.lamps ?? []) as Schemas['LampPlace'][];
    const taken = new Set(cues.map((one) => one.lamp_key).filter(Boolean));
    const free = lamps.findIndex((lamp) => !lamp.key || !taken.has(lamp.key));
    const all = $state.snapshot(cues) as Cue[];
    if (!all.length || free === -1)
      return put([...all, { ...FIRST_CUE, lamp: Math.max(free, 0), seed: all.length + 1 }]);
    const key = lamps[free]?.key || crypto.randomUUID();
    const made = { ...FIRST_CUE, lamp: free, lamp_key: key, seed: all.length + 1 };
    bench.decide(
      record,
      {
        lamps: lamps.map((one, i) => (i === free ? { ...one, key } : one)),
        ...stored([...all, made]),
      },
      LABEL,
    );
  }

  const drop = (index: number) =>
    put(($state.snapshot(cues) as Cue[]).filter((_, i) => i !== index));
</script>

<section aria-label={LABEL} class="min-w-0">
  <h3>{LABEL}</h3>
  {#if !cues.length}
    <p class="text-soft text-sm">
      A lamp that plays a fire, a storm, a passing lamp, a snap of the hand or a curve that you
      draw: the light is filmed for real, frame by frame as the cut needs it.
    </p>
    {#if bench.editable}
      <button class="btn mt-1" onclick={add}>Let a lamp play</button>
    {/if}
  {:else}
    {#each cues as cue, i (i)}
      <CueEditor
        {bench}
        {record}
        {cue}
        number={i}
        answer={found?.lamps[i] ?? null}
        fps={found?.fps ?? 24}
        safeFlashes={found?.safe_flashes ?? 3}
        onlive={(values) => live(i, values)}
        oncommit={() => bench.commit(record, LABEL)}
        onlamp={(lamp) => playOn(i, lamp)}
        ondrop={() => drop(i)}
      />
    {/each}
    <NumberField
      label="The lamps follow in"
      hint="diodes 0, a filament about 0.1 s"
      kind="seconds"
      value={response}
      onlive={(value) => value !== null && (response = Math.min(Math.max(value, 0), 5))}
      oncommit={() => {}}
    />
    {#if record.problems['cue']}
      <p role="alert" class="font-semibold">{record.problems['cue']}</p>
    {/if}
    {#if record.problems['more_cues']}
      <p role="alert" class="font-semibold">{record.problems['more_cues']}</p>
    {/if}
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    {#if found?.together}
      {@const all = found.together}
      <p class="mt-1 text-sm" data-testid="cues-together">
        All together, each by its light on the action: at most <b>{all.flashes}</b>
        {all.flashes === 1 ? 'flash' : 'flashes'} in one second{all.flashes
          ? `, from frame ${all.first_frame}`
          : ''}{#if !all.safe};
          <b class="text-breaks"
            >more than {found.safe_flashes} can make people ill: let them flash at the same time, or less
            often</b
          >{/if}.
      </p>
    {/if}
    {#each found?.cautions ?? [] as caution (caution)}
      <p class="text-soft text-xs">{caution}</p>
    {/each}
    <p class="mt-1 flex flex-wrap items-center gap-3 text-sm">
      {#if bench.editable && cues.length < MOST_CUES}
        <button class="btn" onclick={add}>Let another lamp play</button>
      {/if}
      <a
        class="underline"
        href="/api/productions/{bench.productionId}/shots/{bench.shotId}/plates/{record.id}/cue.csv"
        download>Levels by frame, CSV</a
      >
    </p>
  {/if}
</section>
