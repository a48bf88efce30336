<script lang="ts">
  import { isTyping } from '../../lib/edit/history.svelte';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import Compared, { type Way } from '../../lib/ui/Compared.svelte';
  import FrameOrClip from '../../lib/ui/FrameOrClip.svelte';
  import Moment from '../../lib/ui/Moment.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import WayChoice from '../../lib/ui/WayChoice.svelte';
  import { route } from '../../router';
  import Layer from './Layer.svelte';
  import { AGAINST, Together, type Against } from './together.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  const home = $derived(`/productions/${production}/shots/${shot}`);
  let opened = $state.raw<Together | null>(null);
  let problem = $state('');
  let way = $state<Way>('wipe');
  /** Whether the clip is shown in the place of the still. */
  let moving = $state(false);

  $effect(() => {
    if (!production || !shot) return;
    const one = new Together(production, shot);
    opened = null;
    problem = '';
    one
      .load()
      .then(() => {
        opened = one;
        void one.still.resume();
        void one.clip.resume();
      })
      .catch((error: Error) => (problem = error.message));
    return () => one.dispose();
  });

  function key(event: KeyboardEvent) {
    if (!opened || isTyping(event) || opened.history.take(event)) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const by = { '[': -1, ']': 1 }[event.key];
    if (by) opened.frame = Math.min(Math.max(opened.frame + by, 1), opened.frames);
    else if (event.key === 'p' && opened.any) void opened.put(960);
    else return;
    event.preventDefault();
  }
</script>

<svelte:window onkeydown={key} />
<svelte:head
  ><title>{opened?.page ? `${opened.page.number} put together` : 'Put together'} · Jungoptic</title
  ></svelte:head
>
<TopStrip
  crumbs={opened?.page
    ? [
        { name: 'The shots', href: `/productions/${production}` },
        { name: `${opened.page.number} ${opened.page.title}`, href: home },
      ]
    : []}
>
  <Rooms {production} {shot} here="pictures" />
  {#if opened}
    {@const history = opened.history}
    <UndoRedo
      undo={history.canUndo ? history.undoLabel : null}
      redo={history.canRedo ? history.redoLabel : null}
      onundo={() => history.undo()}
      onredo={() => history.redo()}
    />
    <SavedMark />
  {/if}
</TopStrip>

{#if problem}
  <main class="p-8"><p role="alert">{problem}</p></main>
{:else if opened?.page}
  {@const t = opened}
  {@const page = opened.page}
  {@const rough = t.rough}
  {@const other = t.other}
  {@const aspect = `${page.delivery_width_px} / ${page.delivery_height_px}`}
  <main class="grid gap-4 p-4 lg:grid-cols-[minmax(0,1fr)_22rem]" data-testid="together">
    <div class="flex min-w-0 flex-col gap-3">
      <h1 class="flex flex-wrap items-baseline gap-x-3">
        <span class="sr-only">Shot {page.number}, {page.title}:</span>
        What was filmed, put together
        <a class="text-sm font-normal underline" href="{home}/pictures">The pictures</a>
      </h1>
      {#if t.notice}
        <p role="alert" class="flex gap-3 font-semibold">
          {t.notice}
          <button class="underline" onclick={() => (t.notice = '')}>Understood</button>
        </p>
      {/if}
      {#if page.problem}<p role="alert" class="font-semibold">{page.problem}</p>{/if}
      <div class="flex flex-wrap items-center gap-x-3 gap-y-2">
        <button
          class="btn btn-main"
          title="p"
          disabled={t.still.open || !t.any}
          onclick={() => {
            moving = false;
            void t.put(960);
          }}>Put this frame together</button
        >
        <button
          class="btn"
          title="1920 pixels wide"
          disabled={t.still.open || !t.any}
          onclick={() => {
            moving = false;
            void t.put(1920);
          }}>Larger</button
        >
        <button class="btn" disabled={t.clip.open || !t.any} onclick={() => void t.film()}
          >All of it, as a clip</button
        >
        <Moment views={page.views} bind:view={t.view} bind:frame={t.frame} />
      </div>
      {#if t.still.open || t.still.problem || t.still.job?.state === 'failed'}
        <JobLine work={t.still} />
      {/if}
      {#if t.clip.open || t.clip.problem || t.clip.job?.state === 'failed'}
        <JobLine work={t.clip} />
      {/if}
      {#if t.reel}
        <FrameOrClip bind:moving />
      {/if}
      {#if moving && t.reel}
        {#if !t.reel.current}
          <p class="font-semibold">The plan or the takes have moved on since this clip was made.</p>
        {/if}
        <!-- svelte-ignore a11y_media_has_caption -->
        <video
          class={['border-line w-full border', !t.reel.current && 'opacity-60']}
          style:aspect-ratio={aspect}
          src={t.file(t.reel, 'composite')}
          controls
          loop
          data-testid="reel"
        ></video>
      {:else if rough && other}
        {#if !rough.current || rough.frame !== t.frame || t.stale}
          <p class="font-semibold">
            {#if !rough.current}The plan or the takes have moved on since this was put together.{/if}
            {#if rough.frame !== t.frame}This is frame {rough.frame}.{/if}
            {#if t.stale}It was made with other choices than those beside it.{/if}
          </p>
        {/if}
        <div class="flex flex-wrap items-center gap-3">
          <WayChoice {way} onchange={(one) => (way = one)} />
          <label class="flex items-center gap-2">
            Against
            <select class="field" bind:value={t.against}>
              {#each Object.entries(AGAINST) as [one, name] (one)}
                <option value={one as Against} disabled={one !== 'planned' && !t.dry}
                  >{name}{one !== 'planned' && !t.dry ? ' (not filmed at this frame)' : ''}</option
                >
              {/each}
            </select>
          </label>
        </div>
        <div class={[!rough.current && 'opacity-60']}>
          <Compared
            {way}
            {aspect}
            begin={100}
            first={{
              src: t.file(rough, 'composite'),
              name: 'As filmed',
              alt: `What was filmed, put together, frame ${rough.frame}`,
            }}
            second={{ ...other, alt: `${other.name}, frame ${rough.frame}` }}
          />
        </div>
        {#if way === 'wipe'}
          <p class="text-soft text-sm">
            Draw the line over the picture: left of it as filmed, right of it {other.name.toLowerCase()}.
          </p>
        {/if}
      {:else}
        <section class="text-soft max-w-prose py-4">
          {#if t.any}
            <p>
              Everything that was filmed of this shot goes together here as the plan says: keyed,
              split along the dividers, mirrored, laid over each other by distance, through the
              story’s haze, with ramps and holds. It answers one question while the set still
              stands: does the shot work, and what should be filmed again?
            </p>
          {:else}
            <p>
              Nothing of this shot is filmed yet, or nothing that can be read. Drop a clip or a
              still of each plate in <a class="underline" href="{home}/pictures">Pictures</a>; then
              they are put together here as the plan says, and held against it.
            </p>
          {/if}
        </section>
      {/if}
    </div>
    <div class="flex min-w-0 flex-col gap-4">
      {#if rough && !moving}
        <section aria-label="Does it work">
          <h2 class="text-lg" data-testid="answer">{rough.answer}</h2>
          <div class="mt-2"><FindingList findings={rough.findings} /></div>
        </section>
      {/if}
      <section aria-label="What goes in, nearest first">
        <h2 class="mb-1">What goes in, nearest first</h2>
        <ol class="flex flex-col gap-2">
          {#each t.plates as plate (plate.id)}<Layer {plate} together={t} />{:else}
            <li class="text-soft">This shot has no plates yet.</li>
          {/each}
        </ol>
      </section>
      <p class="text-soft text-xs">
        Keys: <kbd>p</kbd> put this frame together, <kbd>[</kbd> <kbd>]</kbd> the frame before and after
      </p>
    </div>
  </main>
{:else}
  <p class="text-soft p-8">Loading</p>
{/if}
