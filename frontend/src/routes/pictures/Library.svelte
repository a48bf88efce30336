<script lang="ts">
  import { api, ask } from '../../lib/api/client';
  import Drop from '../../lib/pictures/Drop.svelte';
  import SendList from '../../lib/pictures/SendList.svelte';
  import { route } from '../../router';
  import Chosen from './Chosen.svelte';
  import Desk from './Desk.svelte';
  import { PictureDesk } from './desk.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import Filed from './Filed.svelte';
  import Thumb from './Thumb.svelte';

  const production = $derived(route.params.production ?? '');
  let desk = $state.raw<PictureDesk | null>(null);
  let shots = $state.raw<{ id: string; number: string; title: string }[]>([]);
  let problem = $state('');
  const name = $derived(desk?.about?.name ?? '');

  $effect(() => {
    if (!production) return;
    const opened = new PictureDesk(production);
    const path = { production_id: production };
    desk = null;
    problem = '';
    Promise.all([
      opened.load(),
      ask(() => api.GET('/api/productions/{production_id}/shots', { params: { path } })),
    ])
      .then(([, all]) => {
        shots = all.items;
        desk = opened;
        opened.choose(opened.order[0]?.id ?? null);
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
</script>

<svelte:head><title>Pictures of {name} · Jungoptic</title></svelte:head>
<Desk
  {production}
  {desk}
  {problem}
  testid="library"
  crumbs={desk ? [{ name, href: `/productions/${production}` }] : []}
>
  {#snippet children(d)}
    <h1 class="text-lg">Pictures that hang on no shot yet</h1>
    <p class="text-soft max-w-prose">
      Send a whole card of the camera here, and hang each picture on its take, plate or shot when
      there is time. A clip that shows the board of a set card goes to its take by itself. Pictures
      of a shot lie in its own room.
    </p>
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
    <Filed desk={d} />
  {/snippet}
  {#snippet side(d)}
    {#if d.chosen}<Chosen desk={d} picture={d.chosen} {shots} />{/if}
  {/snippet}
</Desk>
