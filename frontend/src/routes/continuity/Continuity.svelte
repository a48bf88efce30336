<script lang="ts">
  import { api, ask, Failure, type Schemas, type Verdict } from '../../lib/api/client';
  import { SavedRecord } from '../../lib/edit/record.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { route } from '../../router';
  import Compass from './Compass.svelte';
  import ThreadForm from './ThreadForm.svelte';

  type Light = Schemas['ShotLight'];
  type Thread = Schemas['ThreadOut'];
  type LightFields = Pick<
    Light,
    | 'id'
    | 'revision'
    | 'camera_bearing_deg'
    | 'key_from_deg'
    | 'key_elevation_deg'
    | 'light_note'
    | 'place'
    | 'time_of_day'
  >;

  const production = $derived(route.params.production ?? '');
  let about = $state.raw<Schemas['ProductionOut'] | null>(null);
  let all = $state.raw<Schemas['ContinuityOut'] | null>(null);
  let problem = $state('');
  let selected = $state<string | null>(null);
  let record = $state.raw<SavedRecord<LightFields> | null>(null);
  let editing = $state.raw<Thread | 'new' | null>(null);
  /** The cell whose plates and excuse are being settled. */
  let cell = $state.raw<{ thread: Thread; shot: Light } | null>(null);
  let plate = $state('');
  let excuse = $state('');

  async function load(id: string) {
    const path = { params: { path: { production_id: id } } };
    try {
      [about, all] = await Promise.all([
        ask(() => api.GET('/api/productions/{production_id}', path)),
        ask(() => api.GET('/api/productions/{production_id}/continuity', path)),
      ]);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    if (production) void load(production);
  });

  const mayPlan = $derived(about !== null && about.role !== 'viewer');
  const groups = $derived.by(() => {
    const found: { place: string; time: string; shots: Light[] }[] = [];
    for (const shot of all?.shots ?? []) {
      if (!shot.place) continue;
      const here = found.find((g) => g.place === shot.place && g.time === shot.time_of_day);
      if (here) here.shots.push(shot);
      else found.push({ place: shot.place, time: shot.time_of_day, shots: [shot] });
    }
    return found;
  });
  const chosen = $derived(all?.shots.find((s) => s.id === selected) ?? null);

  function select(id: string) {
    const shot = all?.shots.find((s) => s.id === id);
    if (!shot) return;
    record?.dispose();
    selected = id;
    const keys = [
      'id',
      'revision',
      'camera_bearing_deg',
      'key_from_deg',
      'key_elevation_deg',
      'light_note',
      'place',
      'time_of_day',
    ] as const;
    const fields = Object.fromEntries(keys.map((k) => [k, shot[k]])) as LightFields;
    record = new SavedRecord<LightFields>(fields, async (revision, changes) => {
      const saved = await ask(() =>
        api.PATCH('/api/productions/{production_id}/shots/{pk}', {
          params: { path: { production_id: production, pk: id } },
          body: { revision, ...changes },
        }),
      );
      void load(production);
      return Object.fromEntries(keys.map((k) => [k, saved[k]])) as LightFields;
    });
  }

  const keptOf = (thread: string, shot: string) =>
    (all?.kept ?? []).filter((k) => k.thread_id === thread && k.shot_id === shot);
  const verdictOf = (thread: string, shot: Light) =>
    shot.threads.find((f) => f.key === `thread:${thread}`);

  async function attempt(work: () => Promise<unknown>) {
    problem = '';
    try {
      await work();
      await load(production);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    }
  }
  function keep() {
    const c = cell;
    if (!c) return;
    cell = null;
    void attempt(() =>
      ask(() =>
        api.POST('/api/productions/{production_id}/threads/{pk}/kept', {
          params: { path: { production_id: production, pk: c.thread.id } },
          body: { shot_id: c.shot.id, plate_id: plate || null, excuse },
        }),
      ),
    );
  }
  function unkeep(id: string) {
    void attempt(() =>
      ask(() =>
        api.DELETE('/api/productions/{production_id}/kept/{pk}', {
          params: { path: { production_id: production, pk: id } },
        }),
      ),
    );
  }
  function open(thread: Thread, shot: Light) {
    plate = shot.plates[0]?.id ?? '';
    excuse = '';
    cell = { thread, shot };
  }
</script>

<svelte:head><title>Continuity · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={[
    ...(about ? [{ name: about.name, href: `/productions/${production}` }] : []),
    { name: 'Continuity' },
  ]}
>
  {#if production}<Rooms {production} here="continuity" />{/if}
  <SavedMark />
</TopStrip>
<main class="grid gap-5 p-4">
  <h1 class="sr-only">Continuity</h1>
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if all}
    <section aria-label="Threads">
      <div class="flex items-center gap-3">
        <h2 class="text-lg">Threads: what must recur</h2>
        {#if mayPlan}<button class="btn" onclick={() => (editing = 'new')}>Begin a thread</button
          >{/if}
      </div>
      {#if all.threads.length === 0}
        <p class="text-soft max-w-prose">
          No threads yet. A thread is something that has to be there again: a flag on a roof, a lit
          window, wet ground, a torn coat. Attach it to a place or to shots; a shot that lacks it
          says so.
        </p>
      {:else}
        <div class="mt-2 overflow-x-auto">
          <table class="text-sm">
            <thead>
              <tr>
                <th class="text-soft pr-3 text-left font-normal">thread</th>
                {#each all.shots as shot (shot.id)}
                  <th class="min-w-9 px-1 font-semibold" title={shot.title}>{shot.number}</th>
                {/each}
              </tr>
            </thead>
            <tbody>
              {#each all.threads as thread (thread.id)}
                <tr class="border-line border-t">
                  <th class="max-w-72 py-1 pr-3 text-left font-normal">
                    {#if mayPlan}
                      <button class="font-semibold underline" onclick={() => (editing = thread)}
                        >{thread.name}</button
                      >
                    {:else}<b>{thread.name}</b>{/if}
                    <span class="text-soft block text-xs">{(thread.places ?? []).join(', ')}</span>
                  </th>
                  {#each all.shots as shot (shot.id)}
                    {@const found = verdictOf(thread.id, shot)}
                    <td class="text-center">
                      {#if found}
                        <button
                          class="inline-flex p-1.5"
                          title={found.sentence}
                          aria-label={`${thread.name} in shot ${shot.number}: ${found.sentence}`}
                          disabled={!mayPlan}
                          onclick={() => open(thread, shot)}
                        >
                          <VerdictMark verdict={found.verdict as Verdict} named={false} />
                        </button>
                      {:else}<span class="text-line" aria-hidden="true">·</span>{/if}
                    </td>
                  {/each}
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
    </section>
    <section aria-label="Light side">
      <h2 class="text-lg">Light side, place by place</h2>
      <p class="text-soft max-w-prose text-sm">
        Each compass is a place at a time of day, seen from above; a number is where that shot's key
        comes from, nearer the middle when it stands higher. Shots of a place must agree, or say why
        not.
      </p>
      <div class="mt-2 grid gap-3 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <div class="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] content-start gap-3">
          {#each groups as group (group.place + group.time)}
            <Compass {...group} {selected} onselect={select} />
          {/each}
          {#if groups.length === 0}
            <p class="text-soft">No shot says where it is. Give shots a place on the Board.</p>
          {/if}
        </div>
        <aside class="bg-card border-line border p-3" aria-label="The light of a shot">
          {#if chosen && record}
            {@const r = record}
            <h3 class="font-semibold">{chosen.number} {chosen.title}</h3>
            {#if chosen.light}
              <p class="mt-1 flex gap-2 text-sm" data-testid="light-finding">
                <VerdictMark verdict={chosen.light.verdict as Verdict} />
                {chosen.light.sentence}
              </p>
            {/if}
            <div class="mt-2">
              {#each [['camera_bearing_deg', 'Camera looks (from north)'], ['key_from_deg', 'Key from (0 ahead, 90 right)'], ['key_elevation_deg', 'Key height']] as const as [field, label] (field)}
                <NumberField
                  {label}
                  kind="degrees"
                  value={r.draft[field]}
                  nullable
                  disabled={!mayPlan}
                  problem={r.problems[field] ?? ''}
                  onlive={(v) => r.set(field, v)}
                  oncommit={() => void r.commit()}
                />
              {/each}
              <TextField
                label="Why it may differ"
                value={r.draft.light_note ?? ''}
                rows={2}
                disabled={!mayPlan}
                problem={r.problems['light_note'] ?? ''}
                onlive={(v) => r.set('light_note', v)}
                oncommit={() => void r.commit()}
              />
            </div>
          {:else}
            <p class="text-soft">Choose a shot on a compass, or from the list.</p>
          {/if}
          <label class="mt-3 block text-sm">
            <span class="text-soft">Shot</span>
            <select
              id="light-shot"
              class="field"
              value={selected ?? ''}
              onchange={(event) => select(event.currentTarget.value)}
            >
              <option value="" disabled>choose</option>
              {#each all.shots as shot (shot.id)}
                <option value={shot.id}>{shot.number} {shot.title}</option>
              {/each}
            </select>
          </label>
        </aside>
      </div>
    </section>
  {:else if !problem}<p class="text-soft">Loading</p>{/if}
</main>

{#if record}<ClashDialog {record} name="the light of this shot" />{/if}
{#if editing && all}
  <ThreadForm
    {production}
    thread={editing === 'new' ? null : editing}
    shots={all.shots}
    onclose={() => (editing = null)}
    onsaved={() => {
      editing = null;
      void load(production);
    }}
  />
{/if}
<Modal
  open={cell !== null}
  title={`${cell?.thread.name ?? ''} in shot ${cell?.shot.number ?? ''}`}
  description={cell?.thread.note ?? ''}
  onclose={() => (cell = null)}
>
  {#if cell}
    {#each keptOf(cell.thread.id, cell.shot.id) as kept (kept.id)}
      <p class="flex justify-between gap-2">
        <span>
          {kept.excuse
            ? `May be missing: ${kept.excuse}`
            : `Kept${kept.plate_id ? ` in ${cell.shot.plates.find((p) => p.id === kept.plate_id)?.name ?? 'a plate'}` : ' in this shot'}`}
        </span>
        <button class="underline" onclick={() => unkeep(kept.id)}>Take that back</button>
      </p>
    {/each}
    <form
      class="mt-2 grid gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <label>
        It is kept in
        <select id="kept-plate" class="field" bind:value={plate}>
          {#each cell.shot.plates as p (p.id)}<option value={p.id}>{p.name}</option>{/each}
          <option value="">the shot as a whole</option>
        </select>
      </label>
      <label>
        Or why it may be missing here
        <input id="kept-excuse" class="field" maxlength="300" bind:value={excuse} />
      </label>
      <button class="btn btn-main justify-self-end">{excuse ? 'Excuse it' : 'It is kept'}</button>
    </form>
  {/if}
</Modal>
