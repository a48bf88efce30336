<script lang="ts">
  import { PLACES, type Picture } from '../../lib/pictures/sending.svelte';
  import { bytes } from '../../lib/pictures/groups';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import { placeOf, type PictureDesk } from './desk.svelte';
  import { rows, type Facts } from './facts';
  import type { Area } from './area';
  import BoardPanel from './BoardPanel.svelte';
  import BoardPlace from './BoardPlace.svelte';
  import FramePanel from './FramePanel.svelte';
  import Looks from './Looks.svelte';
  import { frameOf } from './run';
  import RunPanel from './RunPanel.svelte';
  import RunPlaces from './RunPlaces.svelte';

  type Props = {
    desk: PictureDesk;
    picture: Picture;
    /** Shots that a picture of the library can be hung on. */
    shots?: { id: string; number: string; title: string }[];
  };
  let { desk, picture, shots = [] }: Props = $props();
  const whole = $derived(desk.whole?.id === picture.id ? desk.whole : null);
  const others = $derived(
    (desk.page?.pictures ?? []).filter(
      (one) => one.id !== picture.id && !one.put_away && one.looks.length > 0,
    ),
  );
  /** Where it can hang, as one word each: the kind of place and its id. */
  const places = $derived([
    ...(desk.page?.plates ?? []).flatMap((plate) => [
      ...plate.takes.map((take) => ({
        value: `take_id ${take.id}`,
        name: `${take.slate} take ${take.number}`,
      })),
      { value: `plate_id ${plate.id}`, name: `Plate: ${plate.name}` },
    ]),
    ...(desk.shot ? [{ value: `shot_id ${desk.shot}`, name: 'The shot as a whole' }] : []),
    ...shots.map((shot) => ({ value: `shot_id ${shot.id}`, name: `${shot.number} ${shot.title}` })),
  ]);
  const place = $derived.by(() => {
    const key = PLACES.find((name) => picture[name]);
    return key ? `${key} ${picture[key]}` : null;
  });
  // The same picture is told of anew while others arrive: what is being typed stays.
  const pk = $derived(picture.id);
  const storedName = $derived(picture.name);
  const storedNote = $derived(picture.note);
  let name = $derived(storedName);
  let note = $derived(storedNote);
  let looks = $state<Looks>();
  /** What is drawn over it: the places where something moves, or the board. */
  let over = $state<'' | 'places' | 'board'>('');
  $effect(() => {
    void pk;
    over = '';
    area = null;
  });
  /** The part of it that is measured; null for all of it. */
  let area = $state.raw<Area | null>(null);
  export function turn(by: number) {
    looks?.turn(by);
  }
  export function toggle() {
    looks?.toggle();
  }

  function hang(value: string | null) {
    const [key, id] = (value ?? '').split(' ');
    const nowhere = placeOf({});
    void desk.edit(
      picture,
      key && id ? { ...nowhere, [key]: id } : nowhere,
      `where ${picture.name} hangs`,
    );
  }
</script>

<section aria-label="The picture in hand" data-testid="chosen" data-state={picture.state}>
  <h2 class="text-lg">{picture.name}</h2>
  {#if picture.state === 'coming'}
    <p class="text-soft">
      {bytes(picture.received)} of {bytes(picture.size)} have arrived. To go on, choose the same {picture.file_count >
      1
        ? 'files'
        : 'file'} again: what is here is not sent twice.
    </p>
  {:else if picture.reading}
    <p role="status" class="flex items-center gap-2">
      <progress value={picture.part} max="1" aria-label="Reading {picture.name}"></progress>
      being looked at{picture.told ? `: ${picture.told}` : ''}
    </p>
  {/if}
  {#if picture.problem}
    <p role="alert" class="font-semibold">{picture.problem}</p>
    {#if desk.editable && !picture.elsewhere && picture.state !== 'coming'}
      <button class="btn my-1" onclick={() => void desk.readAgain(picture)}>Read it again</button>
    {/if}
  {/if}
  {#snippet stirring()}
    {#if whole?.ran}<RunPlaces ran={whole.ran} {picture} />{/if}
  {/snippet}
  {#snippet board()}
    {#if whole?.board && (looks?.shown() ?? 0) === whole.board.frame}
      <BoardPlace board={whole.board} {picture} />
    {/if}
  {/snippet}
  <Looks
    bind:this={looks}
    {desk}
    {picture}
    {area}
    onarea={(one) => (area = one)}
    over={over === 'board' ? board : over === 'places' && whole?.ran ? stirring : undefined}
  />

  {#if whole}
    {#if whole.same_as}
      <p class="mt-2">The very same file is here already, as “{whole.same_as}”.</p>
    {/if}
    {#if whole.findings.length > 0}
      <h3 class="mt-3">Against the plan</h3>
      <FindingList findings={whole.findings}>
        {#snippet more(finding)}
          {@const frame = frameOf(finding)}
          {#if frame !== null}
            <button class="underline" onclick={() => looks?.go(frame)}>Show frame {frame}</button>
          {/if}
        {/snippet}
      </FindingList>
    {:else if picture.facts && picture.role === 'recorded' && (picture.take_id || picture.plate_id) === null}
      <p class="text-soft mt-2">Hang it on a take or a plate, and it is held against the plan.</p>
    {/if}
  {/if}
  {#if whole?.board}
    {@const seen = whole.board}
    <BoardPanel
      {desk}
      {picture}
      board={seen}
      drawn={over === 'board'}
      ondrawn={(shown) => {
        over = shown ? 'board' : '';
        if (shown) looks?.go(seen.frame);
      }}
    />
  {/if}
  {#if picture.looks.length > 0}
    <p class="mt-2">
      <a class="btn" href="/productions/{desk.production}/pictures/{picture.id}"
        >Where it was taken from</a
      >
      <span class="text-soft text-sm">
        {#if whole?.by_marks?.stood}by {picture.marks.length} marks
        {:else if picture.edges.length > 0}by {picture.edges.length} edges
        {:else if picture.balls.length > 0}and how it was lit, by {picture.balls.length === 1
            ? 'a ball'
            : `${picture.balls.length} balls`}
        {:else}by marks with tapes, or by straight edges; how it was lit by a ball{/if}
      </span>
    </p>
    {#key picture.id}
      <FramePanel
        production={desk.production}
        {picture}
        frame={looks?.shown() ?? picture.looks[0] ?? 1}
        lookOf={(frame) => desk.look(picture, frame)}
        {area}
        others={others.map((one) => ({
          id: one.id,
          name: one.name,
          look: desk.look(one, one.looks[0] ?? 1),
        }))}
      />
    {/key}
  {/if}
  {#if picture.facts && picture.facts.frames > 1 && !picture.elsewhere}
    <RunPanel
      {desk}
      {picture}
      ran={whole?.ran ?? null}
      claps={whole?.claps ?? []}
      clears={whole?.clears ?? false}
      problem={whole?.unmeasured ?? ''}
      frame={looks?.shown() ?? 1}
      onframe={(frame) => looks?.go(frame)}
      places={over === 'places'}
      onplaces={(shown) => (over = shown ? 'places' : '')}
    />
  {/if}
  {#if picture.facts}
    <h3 class="mt-3">What the file says</h3>
    <dl class="grid grid-cols-[auto_1fr] gap-x-4">
      {#each rows(picture.facts as Facts, picture.size) as row (row.name)}
        <dt class="text-soft">{row.name}</dt>
        <dd>{row.value}</dd>
      {/each}
    </dl>
    {#if desk.editable && !picture.problem && !picture.elsewhere && !picture.reading}
      <button
        class="text-soft text-sm underline"
        title="Its facts, and the board: after its lens was measured, say"
        onclick={() => void desk.readAgain(picture)}>Look at the file once more</button
      >
    {/if}
  {/if}

  <div class="mt-3 max-w-md">
    <TextField
      label="Name"
      value={name}
      disabled={!desk.editable}
      onlive={(value) => (name = value)}
      oncommit={() => {
        if (name.trim() && name !== picture.name) {
          void desk.edit(picture, { name }, `the name of ${picture.name}`);
        } else name = picture.name;
      }}
    />
    <ChoiceField
      label="Hangs on"
      value={place}
      options={places}
      empty="Nothing: the library"
      disabled={!desk.editable}
      onchange={hang}
    />
    <ChoiceField
      label="It is"
      value={picture.role}
      options={[
        { value: 'recorded', name: 'What the plate’s camera recorded' },
        { value: 'reference', name: 'For reference: the set, a lamp, a board' },
      ]}
      disabled={!desk.editable}
      onchange={(role) =>
        void desk.edit(
          picture,
          { role: role === 'reference' ? 'reference' : 'recorded' },
          `what ${picture.name} is`,
        )}
    />
    {#if others.length > 0}
      <ChoiceField
        label="Compare with"
        value={desk.beside?.id ?? null}
        options={others.map((one) => ({ value: one.id, name: one.name }))}
        empty="Nothing"
        onchange={(id) => (desk.beside = others.find((one) => one.id === id) ?? null)}
      />
    {/if}
    <TextField
      label="Note"
      rows={2}
      value={note}
      disabled={!desk.editable}
      onlive={(value) => (note = value)}
      oncommit={() => {
        if (note !== picture.note) {
          void desk.edit(picture, { note }, `the note on ${picture.name}`);
        }
      }}
    />
  </div>
  <div class="mt-3 flex flex-wrap gap-2">
    {#each whole?.files.slice(0, 1) ?? [] as file (file.id)}
      {#if picture.elsewhere}
        <p class="text-soft text-sm break-all">It lies at {file.path}</p>
      {:else if picture.state !== 'coming'}
        <a class="btn" href={desk.file(picture, file.id)} download={file.name}
          >The file{picture.file_count > 1 ? ', first of ' + picture.file_count : ''}</a
        >
      {/if}
    {/each}
    {#if desk.editable}
      {#if picture.state === 'coming'}
        <button class="btn" onclick={() => void desk.remove(picture)}>Give it up</button>
      {:else}
        <button
          class="btn"
          onclick={() =>
            void desk.edit(
              picture,
              { put_away: !picture.put_away },
              picture.put_away ? `${picture.name} out of the bin` : `${picture.name} in the bin`,
            )}>{picture.put_away ? 'Fetch it back' : 'Put it in the bin'}</button
        >
        {#if picture.put_away}
          <button class="btn" onclick={() => void desk.remove(picture)}>Delete it for good</button>
        {/if}
      {/if}
    {/if}
  </div>
</section>
