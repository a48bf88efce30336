<script lang="ts">
  import { isTyping } from '../../lib/edit/history.svelte';
  import { api, ask } from '../../lib/api/client';
  import Drop from '../../lib/pictures/Drop.svelte';
  import SendList from '../../lib/pictures/SendList.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import { route } from '../../router';
  import Chosen from './Chosen.svelte';
  import { PictureDesk } from './desk.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import Thumb from './Thumb.svelte';

  const production = $derived(route.params.production ?? '');
  let desk = $state.raw<PictureDesk | null>(null);
  let shots = $state.raw<{ id: string; number: string; title: string }[]>([]);
  let name = $state('');
  let problem = $state('');

  $effect(() => {
    if (!production) return;
    const opened = new PictureDesk(production);
    const path = { production_id: production };
    desk = null;
    problem = '';
    Promise.all([
      opened.load(),
      ask(() => api.GET('/api/productions/{production_id}/shots', { params: { path } })),
      ask(() => api.GET('/api/productions/{production_id}', { params: { path } })),
    ])
      .then(([, all, about]) => {
        shots = all.items;
        name = about.name;
        desk = opened;
        opened.choose(opened.order[0]?.id ?? null);
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
  function key(event: KeyboardEvent) {
    if (!desk || isTyping(event) || desk.history.take(event)) return;
    if (event.key === '.') desk.step(1);
    else if (event.key === ',') desk.step(-1);
  }
</script>

<svelte:head><title>Pictures of {name} · Jungoptic</title></svelte:head>
<svelte:window onkeydown={key} />
<TopStrip crumbs={desk ? [{ name, href: `/productions/${production}` }] : []}>
  <Rooms {production} here="pictures" />
  {#if desk}
    <UndoRedo
      undo={desk.history.canUndo ? desk.history.undoLabel : null}
      redo={desk.history.canRedo ? desk.history.redoLabel : null}
      onundo={() => desk?.history.undo()}
      onredo={() => desk?.history.redo()}
    />
    <SavedMark />
  {/if}
</TopStrip>

{#if problem}
  <main class="p-8"><p role="alert">{problem}</p></main>
{:else if desk?.page}
  {@const d = desk}
  <main class="grid gap-4 p-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,34rem)]" data-testid="library">
    <div class="min-w-0">
      <h1 class="text-lg">Pictures that hang on no shot yet</h1>
      <p class="text-soft max-w-prose">
        Send a whole card of the camera here, and hang each picture on its take, plate or shot when
        there is time. Pictures of a shot lie in its own room.
      </p>
      {#if d.notice}
        <p role="alert" class="my-2 flex gap-3 font-semibold">
          {d.notice}
          <button class="underline" onclick={() => (d.notice = '')}>Understood</button>
        </p>
      {/if}
      <div class="my-3 flex flex-wrap gap-2">
        {#each d.shown as picture (picture.id)}<Thumb desk={d} {picture} />{/each}
      </div>
      {#if d.editable}
        <Drop
          label="Pictures of the production"
          hint="Drop files or folders here"
          folder
          camera
          quota={d.page?.quota}
          onfiles={(groups, byCamera) =>
            void d.send(groups, { role: byCamera ? 'reference' : 'recorded' })}
        />
        <SendList sendings={d.sendings} list={d.sendings.of({})} />
        <Elsewhere desk={d} place={{}} />
      {/if}
      {#if d.bin.length > 0}
        <details class="border-line mt-3 border-t py-2">
          <summary>In the bin: {d.bin.length}</summary>
          <p class="text-soft text-sm">Kept for thirty days, then deleted for good.</p>
          <div class="mt-1 flex flex-wrap gap-2">
            {#each d.bin as picture (picture.id)}<Thumb desk={d} {picture} />{/each}
          </div>
        </details>
      {/if}
    </div>
    <div class="lg:sticky lg:top-2 lg:max-h-[calc(100dvh-4rem)] lg:self-start lg:overflow-y-auto">
      {#if d.chosen}<Chosen desk={d} picture={d.chosen} {shots} />{/if}
    </div>
  </main>
{:else}
  <p class="text-soft p-8">Loading</p>
{/if}
