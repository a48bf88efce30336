<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import { LongWork } from '../../lib/jobs/long-work.svelte';
  import { watched } from '../../lib/jobs/watched.svelte';
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import type { PictureDesk } from './desk.svelte';
  import type { Ran } from './run';
  import RunPlot from './RunPlot.svelte';

  type Props = {
    desk: PictureDesk;
    picture: Picture;
    ran: Ran | null;
    /** What can have been the board in its sound. */
    claps: Schemas['Clap'][];
    /** The median of its frames takes out who passes through. */
    clears: boolean;
    /** Why it could not be measured. */
    problem: string;
    frame: number;
    onframe: (frame: number) => void;
    /** Whether the places where something moves are drawn over the picture. */
    places: boolean;
    onplaces: (shown: boolean) => void;
  };
  let { desk, picture, ran, claps, clears, problem, frame, onframe, places, onplaces }: Props =
    $props();
  let rows = $state.raw<Schemas['RowsOut'] | null>(null);
  let lost = $state('');
  const wanted = $derived(ran ? picture.id : '');
  $effect(() => {
    const pk = wanted;
    rows = null;
    lost = '';
    if (!pk) return;
    let left = false;
    ask(() =>
      api.GET('/api/productions/{production_id}/pictures/{pk}/rows', {
        params: { path: { production_id: desk.production, pk } },
      }),
    )
      .then((found) => {
        // The client widens pairs to lists.
        if (!left) rows = found as Schemas['RowsOut'];
      })
      .catch((error: unknown) => {
        if (!(error instanceof Failure)) throw error;
        if (!left) lost = error.message;
      });
    return () => (left = true);
  });
  /** With fewer still frames their mean is hardly quieter. */
  const FEW = 4;
  const still = $derived(ran?.calm ? ran.calm[1] - ran.calm[0] + 1 : 0);
  const quiet = $derived.by(
    watched(() => {
      // Another picture is other work.
      void wanted;
      return new LongWork(desk.production, 'average');
    }),
  );
  let way = $state<'mean' | 'median'>('mean');
  /** Make one frame of many. */
  function make(first: number, last: number, how: typeof way) {
    way = how;
    void quiet.ask({ picture_id: picture.id, first, last, way });
  }
  /** More than a few sharp sounds are footsteps. */
  const MOST_CLAPS = 6;
  /** Of everything measured there may be nothing that moves. */
  const stirs = $derived(ran !== null && ran.first.some((one) => one > 0));
</script>

{#if picture.measuring}
  <p role="status" class="mt-2 flex items-center gap-2" data-testid="measuring">
    <progress value={picture.measuring.part} max="1" aria-label="Measuring {picture.name}"
    ></progress>
    <span class="text-sm"
      >measured frame by frame{picture.measuring.told ? `: ${picture.measuring.told}` : ''}</span
    >
    {#if desk.editable}
      <button class="btn ml-auto" onclick={() => void desk.stopMeasuring(picture)}>Stop</button>
    {/if}
  </p>
{:else if !picture.measured}
  {#if problem}<p role="alert" class="mt-2 font-semibold">{problem}</p>{/if}
  {#if desk.editable}
    <button class="btn mt-2" onclick={() => void desk.measure(picture)}
      >Measure it frame by frame</button
    >
  {/if}
{/if}
{#if ran}
  <section aria-label="Frame by frame" class="mt-3" data-testid="run">
    <h3 class="flex flex-wrap items-center gap-2">
      Frame by frame
      {#if stirs}
        <button
          class={['btn ml-auto', places && 'btn-main']}
          aria-pressed={places}
          onclick={() => onplaces(!places)}>Where something moves</button
        >
      {/if}
    </h3>
    {#if rows && picture.facts}
      <RunPlot {rows} {ran} {claps} wide={picture.facts.width_px} {frame} {onframe} />
    {:else if lost}
      <p role="alert">{lost}</p>
    {/if}
    {#if claps.length > 0}
      <ul class="mt-1 text-sm" aria-label="Claps" data-testid="claps">
        {#each claps.slice(0, MOST_CLAPS) as clap (clap.at_s)}
          <li class="flex flex-wrap items-center gap-2">
            <button class="underline" onclick={() => onframe(clap.frame)}
              >Clap at frame {clap.frame.toLocaleString()}</button
            >
            <span class="text-soft">{clap.at_s.toFixed(3)} s</span>
            {#if picture.begins === clap.frame}
              <b>the shot begins here</b>
            {:else if desk.editable}
              <button
                class="btn"
                onclick={() =>
                  void desk.edit(
                    picture,
                    { begins: clap.frame },
                    `where the shot begins in ${picture.name}`,
                  )}>The shot begins here</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    {/if}
    {#if desk.editable && ran.calm && still >= FEW}
      {@const [first, last] = ran.calm}
      <p class="mt-1 flex flex-wrap items-center gap-2 text-sm">
        Frames {first.toLocaleString()} to {last.toLocaleString()} stand still.
        <button class="btn" disabled={quiet.open} onclick={() => make(first, last, 'mean')}
          >Make one quiet frame of them</button
        >
      </p>
    {/if}
    {#if desk.editable && clears}
      <p class="mt-1 flex flex-wrap items-center gap-2 text-sm">
        Whoever stays at no place for half of it can be taken out.
        <button
          class="btn"
          disabled={quiet.open}
          onclick={() => make(1, picture.facts?.frames ?? 1, 'median')}
          >Make one frame without what moves</button
        >
      </p>
    {/if}
    <JobLine
      work={quiet}
      fileSays="{way === 'median'
        ? 'The frame without what moves'
        : 'The quiet frame'}, PNG of 16 bits"
    />
  </section>
{/if}
