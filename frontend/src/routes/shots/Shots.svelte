<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import { say } from '../../lib/quantities';
  import Modal from '../../lib/ui/Modal.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { navigate, route } from '../../router';

  const production = $derived(route.params.production ?? '');
  let about = $state<Schemas['ProductionOut'] | null>(null);
  let shots = $state<Schemas['ShotRow'][] | null>(null);
  let problem = $state('');
  let number = $state('');
  let title = $state('');
  let making = $state('');
  let doomed = $state<Schemas['ShotRow'] | null>(null);
  const mayPlan = $derived(about?.role !== 'viewer');

  async function load(id: string) {
    try {
      const path = { params: { path: { production_id: id } } };
      [about, { items: shots }] = await Promise.all([
        ask(() => api.GET('/api/productions/{production_id}', path)),
        ask(() => api.GET('/api/productions/{production_id}/shots', path)),
      ]);
      number ||= String(Math.max(0, ...shots.map((shot) => parseInt(shot.number) || 0)) + 1);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    if (production) void load(production);
  });

  async function make(event: SubmitEvent) {
    event.preventDefault();
    if (!about) return;
    const { delivery_width_px, delivery_height_px, playback_fps } = about;
    const position = Math.max(0, ...(shots ?? []).map((shot) => shot.position ?? 0)) + 1;
    making = '';
    try {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/shots', {
          params: { path: { production_id: production } },
          body: {
            id: crypto.randomUUID(),
            number,
            title,
            position,
            delivery_width_px,
            delivery_height_px,
            playback_fps,
          } as never,
        }),
      );
      navigate('/productions/:production/shots/:shot', { params: { production, shot: made.id } });
    } catch (error) {
      making =
        error instanceof Failure
          ? Object.entries(error.fields)
              .map(([field, words]) => `${field}: ${words}`)
              .join('; ') || error.message
          : String(error);
    }
  }

  async function remove() {
    if (!doomed) return;
    const pk = doomed.id;
    try {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/shots/{pk}', {
          params: { path: { production_id: production, pk } },
        }),
      );
      doomed = null;
      await load(production);
    } catch (error) {
      problem = (error as Error).message;
      doomed = null;
    }
  }
</script>

<svelte:head><title>{about?.name ?? 'Shots'} · Jungoptic</title></svelte:head>
<TopStrip crumbs={about ? [{ name: about.name }] : []}>
  <a class="underline" href="/productions/{production}/kit">Kit</a>
</TopStrip>
<main class="mx-auto max-w-5xl p-6">
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if about && shots}
    <h1 class="text-2xl">{about.name}</h1>
    {#if about.story}<p class="text-soft mt-1 max-w-prose">{about.story}</p>{/if}
    <h2 class="mt-6 text-lg">Shots in story order</h2>
    {#if shots.length === 0}
      <p class="text-soft mt-2 max-w-prose">
        No shots yet. A shot begins with what the story's camera sees; then you add the plates it is
        filmed in.
      </p>
    {/if}
    <ol class="mt-3">
      {#each shots as shot (shot.id)}
        <li class="border-line bg-card flex items-stretch border border-b-0 last:border-b">
          <a
            href="/productions/{production}/shots/{shot.id}"
            class="grid grow grid-cols-[3.5rem_1fr_auto] items-center gap-4 p-3"
          >
            <span class="text-2xl font-bold">{shot.number}</span>
            <span>
              <span class="font-semibold">{shot.title}</span>
              {#if shot.place}<span class="text-soft"> · {shot.place}</span>{/if}
              {#if shot.action}<span class="text-soft block">{shot.action}</span>{/if}
            </span>
            <span class="text-soft text-right text-sm">
              {say(shot.screen_time_s, 'seconds')} on screen<br />
              {shot.plate_count}
              {shot.plate_count === 1 ? 'plate' : 'plates'} · {shot.take_count}
              {shot.take_count === 1 ? 'take' : 'takes'}
            </span>
          </a>
          {#if mayPlan}
            <button
              class="text-soft border-line border-l px-3"
              aria-label={`Remove shot ${shot.number}`}
              title="Remove"
              onclick={() => (doomed = shot)}>×</button
            >
          {/if}
        </li>
      {/each}
    </ol>
    {#if mayPlan}
      <form onsubmit={make} class="mt-6 flex flex-wrap items-end gap-3">
        <label class="w-24">
          Number
          <input class="field" required bind:value={number} />
        </label>
        <label class="grow">
          What we see
          <input class="field" required placeholder="The tide mill, wide" bind:value={title} />
        </label>
        <button class="btn btn-main">Add the shot</button>
      </form>
      {#if making}<p role="alert" class="mt-2 font-semibold">{making}</p>{/if}
    {/if}
  {:else if !problem}
    <p class="text-soft">Loading</p>
  {/if}
</main>

<Modal
  open={doomed !== null}
  title={`Remove shot ${doomed?.number}?`}
  description={`Its ${doomed?.plate_count} plates, their set cards and ${doomed?.take_count} takes go with it. This cannot be undone.`}
  onclose={() => (doomed = null)}
>
  <div class="flex justify-end gap-2">
    <button class="btn" onclick={() => (doomed = null)}>Keep it</button>
    <button class="btn btn-main" onclick={remove}>Remove it</button>
  </div>
</Modal>
