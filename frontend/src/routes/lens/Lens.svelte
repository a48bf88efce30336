<script lang="ts">
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import Drop from '../../lib/pictures/Drop.svelte';
  import { oneByOne } from '../../lib/pictures/groups';
  import SendList from '../../lib/pictures/SendList.svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import { restSays, worthSays } from '../../lib/shot/lens';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import { route } from '../../router';
  import Desk from '../pictures/Desk.svelte';
  import Thumb from '../pictures/Thumb.svelte';
  import Held from './Held.svelte';
  import { LensRoom } from './room.svelte';
  import Seen from './Seen.svelte';

  const production = $derived(route.params.production ?? '');
  const id = $derived(route.params.lens ?? '');
  let room = $state.raw<LensRoom | null>(null);
  let problem = $state('');
  const FEWEST = 5;

  $effect(() => {
    if (!production || !id) return;
    const opened = new LensRoom(production, id);
    room = null;
    problem = '';
    opened
      .load()
      .then(() => (room = opened))
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
  // Whatever was read meanwhile may show the board.
  $effect(() => {
    void room?.desk.page;
    void room?.look();
  });
  const base = $derived(`/api/productions/${production}/lenses/${id}/board`);
  const name = $derived(room?.lens?.name ?? '');
  const nothing = () => {};

  /** What is told of a still under its picture. */
  function says(r: LensRoom, picture: string): string {
    const one = r.answer?.stills.find((still) => still.picture_id === picture);
    if (one) {
      if (!one.counted) return 'left out';
      return `turned ${Math.round(one.slant_deg ?? 0)}°, off by ${(one.rms_px ?? 0).toFixed(2)} px`;
    }
    const seen = r.stills.find((still) => still.picture_id === picture);
    if (seen) return `${seen.places.length} corners of the board`;
    const shown = r.desk.shown.find((still) => still.id === picture);
    return shown?.reading || shown?.state === 'coming' ? '' : 'no board in it';
  }
</script>

<svelte:head><title>{name} measured · Jungoptic</title></svelte:head>
<Desk
  {production}
  desk={room?.desk ?? null}
  {problem}
  here="kit"
  testid="lens-room"
  crumbs={room
    ? [
        { name: room.desk.about?.name ?? '', href: `/productions/${production}` },
        { name: 'Kit', href: `/productions/${production}/kit` },
        { name },
      ]
    : []}
>
  {#snippet children(d)}
    {#if room}
      {@const r = room}
      <h1 class="text-lg">Measure {name}</h1>
      <div class="mt-1 grid gap-4 sm:grid-cols-[minmax(0,1fr)_14rem]">
        <ol class="max-w-prose list-decimal pl-5">
          <li>
            Print the board
            <a class="underline" target="_blank" href="{base}?paper=A4">on A4</a>
            or <a class="underline" target="_blank" href="{base}?paper=A3">A3</a> and glue it on something
            rigid: paper that is bent by a millimetre costs two percent or more.
          </li>
          <li>
            Camera on its tripod, steadying off. Focus about where you will film, and leave it. Stop
            down a little.
          </li>
          <li>
            Nine stills: the board in the middle and in every corner, a third of the picture high or
            more, and each time turned by about 30° another way.
          </li>
          <li>
            One more, if you like, of white paper out of focus that fills the picture: it tells how
            much darker the corners are.
          </li>
        </ol>
        <Held />
      </div>
      <div class="my-3 flex flex-wrap gap-2" data-testid="lens-stills">
        {#each d.shown as picture (picture.id)}
          <div class="w-36">
            <Thumb desk={d} {picture} />
            <p class="text-soft text-xs">{says(r, picture.id)}</p>
          </div>
        {:else}
          <p class="text-soft">No stills of this lens yet.</p>
        {/each}
      </div>
      {#if d.editable}
        <Drop
          label="Stills of the board"
          hint="Drop the stills here: as the camera wrote them, all one size"
          folder
          quota={d.page?.quota}
          onfiles={(groups) => void d.send(oneByOne(groups), { lens_id: r.id, role: 'reference' })}
        />
        <SendList sendings={d.sendings} list={d.sendings.of({ lens_id: r.id })} />
      {/if}
      {#if d.chosen && d.editable}
        {@const chosen = d.chosen}
        <p class="mt-2 text-sm">
          {chosen.name}:
          <button
            class="underline"
            onclick={() => void d.edit(chosen, { put_away: true }, `${chosen.name} put away`)}
            >put it away</button
          >
          {#if chosen.problem}<span role="alert" class="font-semibold">{chosen.problem}</span>{/if}
        </p>
      {/if}
    {/if}
  {/snippet}
  {#snippet side()}
    {#if room}
      {@const r = room}
      <Seen stills={r.stills} chosen={r.desk.chosenId} answer={r.answer} />
      <p class="text-soft mt-1 text-sm">
        {#if r.answer}
          Grey: straight lines. Ochre: as this lens shows them. Dots: corners of the board.
        {:else if r.stills.length > 0}
          Where the board was seen. What lies beyond the dots is guessed: hold it into every corner.
        {:else}
          Here is shown where in the picture the board was seen.
        {/if}
      </p>
      <section aria-label="How they were taken" class="mt-3">
        {#if r.modes.length === 0}
          <p class="font-semibold">
            The kit has no body yet.
            <a class="underline" href="/productions/{production}/kit"
              >Add the one they were taken with</a
            >: the width of its sensor is part of the answer.
          </p>
        {:else}
          <ChoiceField
            label="Taken with"
            value={r.mode}
            options={r.modes.map((mode) => ({ value: mode.id, name: mode.name }))}
            onchange={(value) => (r.mode = value)}
          />
        {/if}
        {#if r.lens && r.lens.focal_min_mm !== r.lens.focal_max_mm}
          <NumberField
            label="Ring at"
            kind="mm"
            value={r.marked}
            onlive={(value) => (r.marked = value)}
            oncommit={nothing}
          />
        {/if}
        <NumberField
          label="Focused at"
          kind="length"
          hint="from the front of the lens; empty: at the board"
          nullable
          value={r.focus}
          onlive={(value) => (r.focus = value)}
          oncommit={nothing}
        />
        <NumberField
          label="The line of 100 mm"
          kind="mm"
          hint="as it came out of the printer"
          value={r.ruler}
          onlive={(value) => (r.ruler = value ?? 100)}
          oncommit={nothing}
        />
        {#if r.others.length > 0}
          <ChoiceField
            label="White paper, for the corners"
            value={r.even}
            empty="none"
            options={r.others.map((one) => ({ value: one.id, name: one.name }))}
            onchange={(value) => (r.even = value)}
          />
          {#if r.even}
            <NumberField
              label="It was taken at"
              kind="stop"
              nullable
              value={r.evenStop}
              onlive={(value) => (r.evenStop = value)}
              oncommit={nothing}
            />
          {/if}
        {/if}
        <p class="mt-2 flex flex-wrap items-center gap-2">
          <button
            class="btn btn-main"
            disabled={r.work.open || r.waits || r.stills.length < FEWEST || !r.mode || !r.marked}
            onclick={() => void r.measure()}>Measure it</button
          >
          {#if r.waits}
            <span class="text-soft text-sm">once all stills were looked at</span>
          {:else if r.stills.length < FEWEST}
            <span class="text-soft text-sm"
              >{r.stills.length} of at least {FEWEST} stills with the board; nine are good</span
            >
          {/if}
        </p>
        {#if r.work.open || r.work.problem || r.work.job?.state === 'failed'}
          <JobLine work={r.work} />
        {/if}
      </section>
      {#if r.answer}
        <section aria-label="What was measured" class="mt-3" data-testid="lens-answer">
          <p class="mb-1"><b>{worthSays(r.answer.measure)}</b>; {restSays(r.answer.measure)}</p>
          <FindingList findings={r.answer.findings} />
          {#if r.editable}
            <p class="mt-2">
              {#if r.kept}
                Kept with the lens: plans, boards and rough composites go by it.
              {:else if r.impossible}
                Nothing is kept of this: put the sensor’s width right in Kit, and measure again.
              {:else}
                <button class="btn btn-main" onclick={() => void r.keep()}
                  >Keep it with the lens</button
                >
              {/if}
            </p>
          {/if}
        </section>
      {/if}
      {#if r.lens?.measured?.length}
        <section aria-label="Kept with the lens" class="mt-3 text-sm" data-testid="lens-kept">
          <h2 class="text-soft">Kept with the lens</h2>
          {#each r.lens.measured as one (one.marked_mm)}
            <p>{worthSays(one)}; <span class="text-soft">{restSays(one)}</span></p>
          {/each}
        </section>
      {/if}
    {/if}
  {/snippet}
</Desk>
