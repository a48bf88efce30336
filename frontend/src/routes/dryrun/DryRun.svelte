<script lang="ts">
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import { Clips } from '../../lib/ui/clips.svelte';
  import Compared, { type Way } from '../../lib/ui/Compared.svelte';
  import FrameOrClip from '../../lib/ui/FrameOrClip.svelte';
  import Moment from '../../lib/ui/Moment.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import WayChoice from '../../lib/ui/WayChoice.svelte';
  import { route } from '../../router';
  import {
    apart,
    APART_STOPS,
    DryRuns,
    keyOf,
    missing,
    MOMENTS,
    pace,
    type Place,
  } from './dry-run.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let runs = $state.raw<DryRuns | null>(null);
  let problem = $state('');
  let way = $state<Way>('beside');
  /** Whether the clip is looked at, and how. */
  let moving = $state(false);
  const clips = new Clips();
  /** The thing or the finding that is circled in both pictures. */
  let marked = $state<string | null>(null);
  /** Film frames, and look at those. */
  function film(r: DryRuns, width: 640 | 960, moments: number | null = null) {
    moving = false;
    void r.film(width, moments);
  }
  const mark = (key: string) => (marked = marked === key ? null : key);
  $effect(() => {
    const run = runs?.run;
    if (runs && run) void runs.find(run);
  });

  $effect(() => {
    if (!production || !shot) return;
    const opened = new DryRuns(production, shot);
    runs = null;
    problem = '';
    opened
      .load()
      .then(() => {
        runs = opened;
        opened.frame = opened.run?.frame ?? 1;
        moving = opened.run === null && opened.reel !== null;
        void opened.resume();
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
</script>

<svelte:head
  ><title>{runs?.page ? `${runs.page.number} dry run` : 'Dry run'} · Jungoptic</title></svelte:head
>
<TopStrip
  crumbs={runs?.page
    ? [
        { name: 'The shots', href: `/productions/${production}` },
        {
          name: `${runs.page.number} ${runs.page.title}`,
          href: `/productions/${production}/shots/${shot}`,
        },
      ]
    : []}
>
  <Rooms {production} {shot} here="dry-run" />
</TopStrip>

{#if problem}
  <main class="p-8"><p role="alert">{problem}</p></main>
{:else if runs?.page}
  {@const r = runs}
  {@const page = runs.page}
  {@const run = r.run}
  {@const reel = r.reel}
  {@const aspect = `${page.delivery_width_px} / ${page.delivery_height_px}`}
  <main class="mx-auto flex max-w-[90rem] flex-col gap-3 p-4" data-testid="dry-run">
    <h1 class="sr-only">Dry run of shot {page.number}: {page.title}</h1>
    {#if page.missing}<p role="alert" class="font-semibold">{page.missing}</p>{/if}
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <button
        class="btn btn-main"
        disabled={r.work.open || page.missing !== ''}
        onclick={() => film(r, 640)}>Film all plates</button
      >
      <button
        class="btn"
        disabled={r.work.open || page.missing !== ''}
        title="960 pixels wide: takes about twice as long"
        onclick={() => film(r, 960)}>Larger</button
      >
      {#if r.frames > 1}
        <button
          class="btn"
          disabled={r.work.open || page.missing !== ''}
          title="The first frame, the last and three between, one after the other"
          onclick={() => film(r, 640, MOMENTS)}>Film five moments</button
        >
        <button
          class="btn"
          disabled={r.clip.open || page.missing !== ''}
          title="Up to 60 pictures, 480 pixels wide: takes minutes; this page may be left meanwhile"
          onclick={() => {
            moving = true;
            void r.filmClip();
          }}>Film a clip</button
        >
      {/if}
      <Moment
        views={page.views}
        bind:view={r.view}
        bind:frame={
          () => r.frame,
          (frame) => {
            r.frame = frame;
            moving = false;
          }
        }
      />
      <div class="ml-auto flex flex-wrap gap-x-4 gap-y-2">
        {#if run && reel}
          <FrameOrClip bind:moving />
        {/if}
        <WayChoice {way} disabled={!run && !reel} onchange={(one) => (way = one)} />
      </div>
    </div>
    <JobLine work={r.work} />
    {#if r.clip.open || r.clip.problem || r.clip.job?.state === 'failed'}
      <JobLine work={r.clip} />
    {/if}
    {#if reel && (moving || !run)}
      {#if !reel.current}
        <p class="font-semibold">The plan has moved on since this clip was filmed.</p>
      {/if}
      <div class={[!reel.current && 'opacity-60']} data-testid="reel">
        <Compared
          {way}
          {aspect}
          {clips}
          first={{
            src: r.picture(reel, 'composite'),
            name: 'All plates, put together',
            alt: 'All plates put together, from the first frame to the last',
          }}
          second={{
            src: r.picture(reel, 'story'),
            name: 'The story, were it real',
            alt: 'The story, from the first frame to the last',
          }}
        />
      </div>
      <p class="text-soft text-sm">{pace(reel)}</p>
    {:else if run}
      {#snippet circle([x0 = 0, y0 = 0, x1 = 1, y1 = 1]: number[], colour: string, bold: boolean)}
        <ellipse
          cx={(x0 + x1) / 2}
          cy={(y0 + y1) / 2}
          rx={Math.max((x1 - x0) / 1.6, 0.02)}
          ry={Math.max((y1 - y0) / 1.6, 0.03)}
          fill="none"
          stroke={colour}
          stroke-width={bold ? 3 : 1.5}
          stroke-dasharray={bold ? undefined : '5 4'}
          vector-effect="non-scaling-stroke"
        />
      {/snippet}
      {#snippet marks()}
        <svg
          class="pointer-events-none absolute inset-0 h-full w-full"
          viewBox="0 0 1 1"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          {#each run.things as thing (thing.thing_id)}
            {#if thing.thing_id === marked}
              {@render circle(thing.box, 'var(--ochre-ink)', true)}
            {:else if marked === null && Math.abs(thing.stops ?? 0) > APART_STOPS}
              {@render circle(thing.box, 'var(--ochre-ink)', false)}
            {/if}
          {/each}
          {#each (r.places ?? []).filter((one) => keyOf(one) === marked) as place (keyOf(place))}
            {#each place.boxes as box, i (i)}
              {@render circle(box, `var(--${place.verdict})`, true)}
            {/each}
          {/each}
        </svg>
      {/snippet}
      {#snippet finding(place: Place)}
        <span class="flex items-start gap-1.5 text-sm">
          <span class="pt-0.5"><VerdictMark verdict={place.verdict} size={16} /></span>
          <span><b>{place.plate}: {place.title.toLowerCase()}.</b> {place.sentence}</span>
        </span>
      {/snippet}
      {#if !run.current || run.frame !== r.frame}
        <p class="font-semibold">
          {#if !run.current}The plan has moved on since this was filmed.{/if}
          {#if run.frame !== r.frame}This is frame {run.frame}.{/if}
        </p>
      {/if}
      {#if r.strip.length > 1}
        <ul aria-label="Moments of the shot" class="flex gap-2 overflow-x-auto pb-1">
          {#each r.strip as one (one.id)}
            <li class="shrink-0">
              <button
                class={[
                  'block border-2 text-left text-xs',
                  one.id === run.id ? 'border-ink' : 'border-line hover:border-soft',
                ]}
                aria-pressed={one.id === run.id}
                title={one.current ? undefined : 'The plan has moved on since'}
                onclick={() => (r.frame = one.frame)}
              >
                <img
                  src={r.picture(one, 'composite')}
                  alt=""
                  class={['block w-40 object-fill', !one.current && 'opacity-45']}
                  style:aspect-ratio={aspect}
                  loading="lazy"
                />
                <span class="block px-1.5 py-0.5">frame {one.frame}</span>
              </button>
            </li>
          {/each}
        </ul>
      {/if}
      <div class={[!run.current && 'opacity-60']}>
        <Compared
          {way}
          {aspect}
          {marks}
          first={{
            src: r.picture(run, 'composite'),
            name: 'All plates, put together',
            alt: `All plates put together, frame ${run.frame}`,
          }}
          second={{
            src: r.picture(run, 'story'),
            name: 'The story, were it real',
            alt: `The story, frame ${run.frame}`,
          }}
        />
      </div>
      <div class="grid gap-6 md:grid-cols-2">
        <section aria-label="What stands in both">
          <h2 class="mb-1 font-semibold">What stands in both</h2>
          <ul>
            {#each run.things as thing (thing.thing_id)}
              <li>
                <button
                  class={[
                    'flex min-h-9 w-full justify-between gap-4 px-2 text-left',
                    marked === thing.thing_id ? 'bg-well' : 'hover:bg-well',
                  ]}
                  aria-pressed={marked === thing.thing_id}
                  onclick={() => mark(thing.thing_id)}
                >
                  <span>{thing.name}</span>
                  <span class={[Math.abs(thing.stops ?? 0) > APART_STOPS && 'font-semibold']}
                    >{apart(thing.stops)}</span
                  >
                </button>
              </li>
            {:else}
              <li class="text-soft">Nothing of the story is in frame here.</li>
            {/each}
          </ul>
        </section>
        <section aria-label="What does not hold">
          <h2 class="mb-1 font-semibold">What does not hold</h2>
          <ul>
            {#each r.places ?? [] as place (keyOf(place))}
              {@const on = marked === keyOf(place)}
              <li class="border-line border-b">
                {#if place.boxes.length > 0}
                  <button
                    class={[
                      'block min-h-9 w-full px-2 py-1 text-left',
                      on ? 'bg-well' : 'hover:bg-well',
                    ]}
                    aria-pressed={on}
                    title="Circle it in both pictures"
                    onclick={() => mark(keyOf(place))}>{@render finding(place)}</button
                  >
                {:else}
                  <div class="px-2 py-1">{@render finding(place)}</div>
                {/if}
              </li>
            {:else}
              <li class="text-soft">
                {r.places ? 'Every rule of every plate holds.' : r.unasked || 'Asking the rules…'}
              </li>
            {/each}
          </ul>
        </section>
        <section aria-label="What to know" class="text-sm md:col-span-2">
          <p>{missing(run.hole)}</p>
          {#each run.remarks as remark (remark)}<p class="mt-1">{remark}</p>{/each}
          <p class="text-soft mt-2 max-w-prose">
            Every plate is filmed with the lamps, room, lens and exposure of its sheet, cut by
            mattes that are exact, and laid in by distance: what is farthest is the whole picture
            behind. A divider parts the plates that it joins; an element’s light is added.
            Brightness is compared over each thing, and says nothing of its shadows.
          </p>
        </section>
      </div>
    {:else}
      <section class="text-soft max-w-prose py-8">
        <p>
          A dry run films every plate of this shot in simulation, exactly as its sheet says: its
          lamps, its room, its lens and its exposure. It puts them together as post will, and lays
          the result beside the picture that the story asks for.
        </p>
        <p class="mt-2">
          It shows what outlines cannot: how soft a miniature falls off, whether two plates are
          equally bright, whether green light rims the hair, and what no plate has filmed. Four
          plates take about half a minute.
        </p>
      </section>
    {/if}
  </main>
{:else}
  <p class="text-soft p-8">Loading</p>
{/if}
