<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import { send } from '../../lib/api/upload';
  import { say } from '../../lib/quantities';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { route } from '../../router';

  const production = $derived(route.params.production ?? '');
  let about = $state.raw<Schemas['ProductionOut'] | null>(null);
  let file = $state.raw<File | null>(null);
  let reading = $state.raw<Schemas['Reading'] | null>(null);
  let mapping = $state<Record<string, string>>({});
  let plan = $state.raw<Schemas['PlanOut'] | null>(null);
  let done = $state.raw<Schemas['Imported'] | null>(null);
  let leaveOut = $state(false);
  let busy = $state('');
  let problem = $state('');
  let asked = 0;

  $effect(() => {
    if (!production) return;
    ask(() =>
      api.GET('/api/productions/{production_id}', {
        params: { path: { production_id: production } },
      }),
    )
      .then((found) => (about = found))
      .catch((error: Error) => (problem = error.message));
  });

  const edit = $derived(/\.(otio|edl)$/i.test(file?.name ?? ''));
  const marks: Record<string, string> = {
    ',': 'commas',
    ';': 'semicolons',
    '\t': 'tabs',
    '|': 'bars',
  };
  const fates: Record<string, string> = {
    new: 'new',
    changed: 'would change',
    same: 'the same',
    error: 'problem',
  };

  async function attempt(word: string, work: () => Promise<void>) {
    busy = word;
    problem = '';
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    } finally {
      busy = '';
    }
  }

  function choose(next: File | null) {
    file = next;
    reading = plan = done = null;
    mapping = {};
    leaveOut = false;
    if (!next) return;
    void attempt('Reading', async () => {
      if (edit) return preview();
      const found = await send<Schemas['Reading']>(
        '/api/productions/{production_id}/import/table/read',
        production,
        { file: next },
      );
      reading = found;
      mapping = { ...found.guess };
      if (mapping['number'] && mapping['title']) await preview();
    });
  }

  async function preview() {
    if (!file) return;
    const mine = ++asked;
    const found = edit
      ? await send<Schemas['PlanOut']>(
          '/api/productions/{production_id}/import/edit/preview',
          production,
          { file },
        )
      : await send<Schemas['PlanOut']>(
          '/api/productions/{production_id}/import/table/preview',
          production,
          { file, mapping: JSON.stringify(mapping) },
        );
    if (mine === asked) plan = found;
  }

  function map(field: string, column: string) {
    // A column holds one thing: chosen here, it is let go elsewhere.
    const others = Object.entries(mapping).filter(([f, c]) => f !== field && c !== column);
    const next: Record<string, string> = Object.fromEntries(others);
    if (column) next[field] = column;
    mapping = next;
    plan = null;
    if (next['number'] && next['title']) void attempt('Reading', preview);
  }

  function apply() {
    if (!file) return;
    const sent = file;
    void attempt('Bringing in', async () => {
      done = edit
        ? await send<Schemas['Imported']>(
            '/api/productions/{production_id}/import/edit/apply',
            production,
            { file: sent, leave_out: leaveOut },
          )
        : await send<Schemas['Imported']>(
            '/api/productions/{production_id}/import/table/apply',
            production,
            { file: sent, mapping: JSON.stringify(mapping), leave_out: leaveOut },
          );
      plan = null;
    });
  }

  function undo() {
    const step = done?.step;
    if (!step) return;
    void attempt('Taking back', async () => {
      await ask(() =>
        api.POST('/api/productions/{production_id}/steps/{pk}/undo', {
          params: { path: { production_id: production, pk: step.id } },
        }),
      );
      done = null;
      await preview();
    });
  }
</script>

<svelte:head><title>Bring in · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={[
    ...(about ? [{ name: about.name, href: `/productions/${production}` }] : []),
    { name: 'Bring in' },
  ]}
>
  {#if production}<Rooms {production} />{/if}
</TopStrip>
<main class="mx-auto max-w-5xl p-4">
  <h1 class="text-xl">Bring in a shot list</h1>
  <p class="text-soft max-w-prose">
    A table saved as CSV, or an edit list (.otio, .edl). Shots are found again by their number, or
    by their name in the edit; you see what would change before anything is stored.
  </p>
  <label class="mt-3 block max-w-md">
    File
    <input
      id="import-file"
      class="field"
      type="file"
      accept=".csv,.txt,.tsv,.otio,.edl"
      onchange={(event) => choose(event.currentTarget.files?.[0] ?? null)}
    />
  </label>
  {#if busy}<p class="text-soft mt-2" role="status">{busy} …</p>{/if}
  {#if problem}<p role="alert" class="bg-well mt-2 p-2 font-semibold">{problem}</p>{/if}

  {#if done}
    <div class="bg-well mt-3 grid gap-2 p-3" role="status">
      <p>
        <b>Brought in.</b>
        {done.plan.new} new, {done.plan.changed} changed, {done.plan.same} the same.
      </p>
      <div class="flex gap-2">
        {#if done.step}<button class="btn" onclick={undo}>Take it back</button>{/if}
        <a class="btn btn-main" href="/productions/{production}">To the Board</a>
      </div>
    </div>
  {/if}

  {#if reading && !done}
    <section class="mt-4" aria-label="Which column is what">
      <h2 class="text-lg">Which column is what</h2>
      <p class="text-soft text-sm">
        {reading.count} lines, cut at {marks[reading.delimiter] ?? reading.delimiter}, letters as {reading.encoding
          .replace('-sig', '')
          .toUpperCase()}.
      </p>
      <div class="mt-1 grid gap-x-6 sm:grid-cols-2">
        {#each Object.entries(reading.fields) as [field, name] (field)}
          <label class="grid grid-cols-[11rem_1fr] items-center gap-2 py-0.5">
            <span>{name}{field === 'number' || field === 'title' ? ' (needed)' : ''}</span>
            <select
              id="map-{field}"
              class="field"
              value={mapping[field] ?? ''}
              onchange={(event) => map(field, event.currentTarget.value)}
            >
              <option value="">leave out</option>
              {#each reading.columns as column (column)}<option>{column}</option>{/each}
            </select>
          </label>
        {/each}
      </div>
      <div class="mt-2 overflow-x-auto">
        <table class="text-sm">
          <thead>
            <tr class="border-line border-b text-left">
              {#each reading.columns as column (column)}<th class="pr-4">{column}</th>{/each}
            </tr>
          </thead>
          <tbody>
            {#each reading.sample as line, i (i)}
              <tr class="text-soft">
                {#each line as cell, j (j)}<td class="max-w-56 truncate pr-4">{cell}</td>{/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    </section>
  {/if}

  {#if plan && !done}
    <section class="mt-4" aria-label="What would happen">
      <h2 class="text-lg">What would happen</h2>
      <p data-testid="plan-counts">
        {plan.new} new · {plan.changed} changed · {plan.same} the same · {plan.errors}
        {plan.errors === 1 ? 'problem' : 'problems'}
      </p>
      {#each plan.notes as note (note)}<p class="text-soft text-sm">{note}</p>{/each}
      {#if plan.unmentioned.length > 0}
        <p class="text-soft text-sm">
          Not in this list, and left as they are: {plan.unmentioned.slice(0, 8).join(', ')}{plan
            .unmentioned.length > 8
            ? ` and ${plan.unmentioned.length - 8} more`
            : ''}.
        </p>
      {/if}
      <div class="border-line mt-2 max-h-[24rem] overflow-y-auto border">
        <table class="w-full text-sm [&_td]:px-2 [&_th]:px-2">
          <thead class="bg-card sticky top-0 text-left">
            <tr
              ><th>line</th><th>shot</th><th>what we see</th><th>time</th><th
                >what would become of it</th
              ></tr
            >
          </thead>
          <tbody>
            {#each plan.rows as row (row.line)}
              <tr class="border-line border-t align-top" data-fate={row.fate}>
                <td class="text-soft">{row.line}</td>
                <td class="font-semibold">{row.name}</td>
                <td>{row.title}</td>
                <td>{row.seconds == null ? '' : say(row.seconds, 'seconds')}</td>
                <td>
                  {#if row.problems.length > 0}
                    <b>{row.problems.join(' ')}</b>
                  {:else if row.changes.length > 0}
                    {#each row.changes as change (change.field)}
                      <span class="block"
                        >{change.field}: {change.now || 'nothing'} → {change.then ||
                          'nothing'}</span
                      >
                    {/each}
                  {:else}{fates[row.fate]}{/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if about?.role !== 'viewer'}
        {#if plan.errors > 0}
          <label class="mt-2 flex items-center gap-2">
            <input type="checkbox" bind:checked={leaveOut} />
            Leave out the {plan.errors}
            {plan.errors === 1 ? 'line' : 'lines'} with a problem
          </label>
        {/if}
        <button
          class="btn btn-main mt-2"
          disabled={busy !== '' || plan.new + plan.changed === 0 || (plan.errors > 0 && !leaveOut)}
          onclick={apply}>Bring in {plan.new + plan.changed} shots</button
        >
      {/if}
    </section>
  {/if}
</main>
