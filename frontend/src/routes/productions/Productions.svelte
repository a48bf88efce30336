<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import { when } from '../../lib/people/reach';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { ZONE } from '../../lib/zone';
  import { navigate } from '../../router';
  import SetUp from './SetUp.svelte';
  import { SHAPES } from './shapes';

  let list = $state<Schemas['ProductionOut'][] | null>(null);
  let problem = $state('');
  let name = $state('');
  let naming = $state('');
  let shape = $state.raw(SHAPES[0]!);
  /** The production that is being set up. */
  let chosen = $state<Schemas['ProductionOut'] | null>(null);
  let removed = $state.raw<Schemas['Removed'][]>([]);
  const current = $derived((list ?? []).filter((one) => !one.put_away));
  const away = $derived((list ?? []).filter((one) => one.put_away));

  function changed(production: Schemas['ProductionOut']) {
    chosen = null;
    list = (list ?? []).map((one) => (one.id === production.id ? production : one));
  }

  async function load() {
    try {
      [{ items: list }, removed] = await Promise.all([
        ask(() => api.GET('/api/productions')),
        ask(() => api.GET('/api/productions/in-the-bin')),
      ]);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  void load();

  async function restore(production_id: string) {
    problem = '';
    try {
      await ask(() =>
        api.POST('/api/productions/{production_id}/restore', {
          params: { path: { production_id } },
        }),
      );
    } catch (error) {
      problem = (error as Error).message;
    }
    await load();
  }

  async function make(event: SubmitEvent) {
    event.preventDefault();
    naming = '';
    try {
      const made = await ask(() =>
        api.POST('/api/productions', {
          body: {
            id: crypto.randomUUID(),
            name,
            delivery_width_px: shape.width,
            delivery_height_px: shape.height,
            time_zone: ZONE,
          } as Schemas['ProductionIn'],
        }),
      );
      navigate('/productions/:production', { params: { production: made.id } });
    } catch (error) {
      naming = error instanceof Failure ? (error.fields['name'] ?? error.message) : String(error);
    }
  }
</script>

{#snippet entry(production: Schemas['ProductionOut'])}
  <li class="bg-card border-line border-l-ochre flex items-start border border-l-4">
    <a href="/productions/{production.id}" class="block min-w-0 grow p-4">
      <span class="text-lg font-semibold">{production.name}</span>
      <span class="text-soft ml-2">
        {production.shot_count}
        {production.shot_count === 1 ? 'shot' : 'shots'} · {production.delivery_width_px} ×
        {production.delivery_height_px} · {production.playback_fps} fps · you are {production.role}
      </span>
      {#if production.story}<p class="mt-1 max-w-prose">{production.story}</p>{/if}
    </a>
    {#if production.role === 'owner'}
      <button
        class="btn m-3 shrink-0"
        aria-label={`Set up ${production.name}`}
        onclick={() => (chosen = production)}>Set up</button
      >
    {/if}
  </li>
{/snippet}

<svelte:head><title>Productions · Jungoptic</title></svelte:head>
<TopStrip crumbs={[]} />
<main class="mx-auto max-w-4xl p-6">
  <h1 class="text-2xl">Productions</h1>
  {#if problem}<p role="alert" class="mt-3 font-semibold">{problem}</p>{/if}
  {#if list}
    {#if list.length === 0}
      <p class="text-soft mt-3">
        You belong to no production yet. Make one: it holds the shots, the kit and the people.
      </p>
    {/if}
    <ul class="mt-4 grid gap-3">
      {#each current as production (production.id)}{@render entry(production)}{/each}
    </ul>
    {#if away.length}
      <details class="mt-4">
        <summary>Put away: {away.length}</summary>
        <ul class="mt-2 grid gap-3">
          {#each away as production (production.id)}{@render entry(production)}{/each}
        </ul>
      </details>
    {/if}
    {#if removed.length}
      <details class="mt-4">
        <summary>In the bin: {removed.length}</summary>
        <ul class="mt-2">
          {#each removed as one (one.id)}
            <li class="border-line flex items-center gap-3 border-b py-1">
              <span class="grow">
                <b>{one.name}</b>
                <span class="text-soft"> · erased for good after {when(one.erased_at)}</span>
              </span>
              <button class="btn" onclick={() => restore(one.id)}>Fetch it back</button>
            </li>
          {/each}
        </ul>
      </details>
    {/if}
    <form onsubmit={make} class="mt-6 flex flex-wrap items-end gap-3">
      <label class="grow">
        A new production
        <input class="field" placeholder="its name" required bind:value={name} />
      </label>
      <label>
        Delivered as
        <select class="field" bind:value={shape}>
          {#each SHAPES as one (one.name)}
            <option value={one}>{one.name}, {one.width} × {one.height}</option>
          {/each}
        </select>
      </label>
      <button class="btn btn-main">Make it</button>
    </form>
    {#if naming}<p role="alert" class="mt-2 font-semibold">Name: {naming}</p>{/if}
  {:else if !problem}
    <p class="text-soft mt-3">Loading</p>
  {/if}
</main>
{#if chosen}
  <SetUp
    production={chosen}
    onclose={() => (chosen = null)}
    onsaved={changed}
    onremoved={() => {
      chosen = null;
      void load();
    }}
  />
{/if}
