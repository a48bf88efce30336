<script lang="ts">
  import Drop from '../../lib/pictures/Drop.svelte';
  import SendList from '../../lib/pictures/SendList.svelte';
  import { route } from '../../router';
  import Chosen from './Chosen.svelte';
  import Desk from './Desk.svelte';
  import { PictureDesk } from './desk.svelte';
  import Elsewhere from './Elsewhere.svelte';
  import Rows from './Rows.svelte';
  import Thumb from './Thumb.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let desk = $state.raw<PictureDesk | null>(null);
  let problem = $state('');
  let chosen = $state<Chosen>();

  $effect(() => {
    if (!production || !shot) return;
    const opened = new PictureDesk(production, { shot });
    desk = null;
    problem = '';
    opened
      .load()
      .then(() => {
        desk = opened;
        // The one that the address names, or the worst that was filmed.
        const named = opened.shown.find((one) => `#${one.id}` === location.hash);
        const rank = { holds: 0, strains: 1, breaks: 2 };
        const worst = [...opened.order].sort(
          (a, b) => rank[b.verdict ?? 'holds'] - rank[a.verdict ?? 'holds'],
        )[0];
        opened.choose(named?.id ?? worst?.id ?? null);
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });

  const rest = $derived(desk?.page ? desk.on({ shot_id: shot }) : []);
</script>

<svelte:head
  ><title>{desk?.page ? `${desk.page.number} pictures` : 'Pictures'} · Jungoptic</title
  ></svelte:head
>
<Desk
  {production}
  {shot}
  {desk}
  {problem}
  testid="pictures"
  crumbs={desk?.page
    ? [
        { name: 'The shots', href: `/productions/${production}` },
        {
          name: `${desk.page.number} ${desk.page.title}`,
          href: `/productions/${production}/shots/${shot}`,
        },
      ]
    : []}
  keys={{
    ']': () => chosen?.turn(1),
    '[': () => chosen?.turn(-1),
    z: () => chosen?.toggle(),
  }}
>
  {#snippet children(d)}
    {#if d.page}
      {@const page = d.page}
      <h1 class="sr-only">Pictures of shot {page.number}: {page.title}</h1>
      {#if page.plates.length > 0}
        <p class="mb-2">
          <a class="btn" href="/productions/{production}/shots/{shot}/together">Put together</a>
          <span class="text-soft text-sm"
            >everything that was filmed, laid over each other as planned: does the shot work?</span
          >
        </p>
      {/if}
      {#if page.more}
        <p class="font-semibold">Only the first {page.pictures.length} pictures are shown.</p>
      {/if}
      {#each page.plates as plate (plate.id)}
        <Rows desk={d} {plate} />
      {:else}
        <p class="text-soft max-w-prose py-4">
          This shot has no plates yet. Plan one on the Bench; what is filmed of it then lies here,
          held against the plan while the set still stands.
        </p>
      {/each}
      <section aria-label="The shot as a whole" class="border-line border-t py-2">
        <h2>The shot as a whole</h2>
        <div class="mt-1 flex flex-wrap gap-2">
          {#each rest as picture (picture.id)}<Thumb desk={d} {picture} />{/each}
        </div>
        {#if d.editable}
          <div class="mt-2">
            <Drop
              label="Pictures of the shot"
              hint="Anything else of this shot: the place, a test, a reference"
              folder
              camera
              quota={page.quota}
              onfiles={(groups, byCamera) =>
                void d.send(groups, { shot_id: shot, role: byCamera ? 'reference' : 'recorded' })}
            />
            <SendList sendings={d.sendings} list={d.sendings.of({ shot_id: shot })} />
            <Elsewhere desk={d} place={{ shot_id: shot }} />
          </div>
        {/if}
      </section>
    {/if}
  {/snippet}
  {#snippet side(d)}
    {#if d.chosen}
      <Chosen bind:this={chosen} desk={d} picture={d.chosen} />
      <p class="text-soft mt-3 text-xs">
        Keys: <kbd>,</kbd> <kbd>.</kbd> the picture before and after, <kbd>[</kbd> <kbd>]</kbd>
        its frames, <kbd>z</kbd> pixels
      </p>
    {:else}
      <section class="text-soft max-w-prose">
        <p>
          Drop a still, a clip, or a folder of numbered pictures on the take that recorded it. The
          file says how it was recorded: size, rate, bits, whether frames came evenly, how long it
          is. That is held against the plan at once, and a photograph’s lens, stop, time and ISO
          fill the readings of its take.
        </p>
        <p class="mt-2">
          Large files come in parts. A connection that drops, or a server that is started anew, goes
          on where it stopped; the page may be left meanwhile.
        </p>
      </section>
    {/if}
  {/snippet}
</Desk>
