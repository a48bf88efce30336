<script lang="ts">
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import { route } from '../../router';
  import {
    BODY,
    FORMATS,
    LAMP,
    LAMP_KINDS,
    LENS,
    MODE,
    RIG_AXES,
    RIGS,
    rigSpecs,
    ROOM,
    ROOMS,
  } from './fields';
  import { KitBook, type Lamp, type Mode, type Rig } from './kit.svelte';
  import Grip from './Grip.svelte';
  import { follows } from './focal';
  import KitRecord from './KitRecord.svelte';
  import Loan from './Loan.svelte';
  import Measured from './Measured.svelte';
  import Persons from './Persons.svelte';
  import RoomPlace from './RoomPlace.svelte';
  import ShelfList from './ShelfList.svelte';
  import WhatIf from './WhatIf.svelte';

  const production = $derived(route.params.production ?? '');
  const kit = $derived(new KitBook(production));
  $effect(() => {
    if (production) void kit.load();
  });
  let doomed = $state.raw<{ name: string; remove: () => Promise<void> } | null>(null);
  const chroma = ['4:4:4', '4:2:2', '4:2:0'].map((value) => ({ value, name: value }));

  const doom = (name: string, remove: () => Promise<void>) => (doomed = { name, remove });

  async function removeNow() {
    await doomed?.remove();
    doomed = null;
  }
</script>

<svelte:head><title>Kit · Jungoptic</title></svelte:head>
<svelte:window onkeydown={(event) => kit.history.take(event)} />
<TopStrip
  crumbs={kit.production
    ? [{ name: kit.production.name, href: `/productions/${production}` }, { name: 'Kit' }]
    : []}
>
  {#if production}<Rooms {production} here="kit" />{/if}
  <SavedMark />
  {#if kit.editable}
    <UndoRedo
      undo={kit.history.canUndo ? kit.history.undoLabel : null}
      redo={kit.history.canRedo ? kit.history.redoLabel : null}
      onundo={() => kit.history.undo()}
      onredo={() => kit.history.redo()}
    />
  {/if}
</TopStrip>
<main class="mx-auto max-w-6xl p-6">
  <h1 class="text-2xl">Kit</h1>
  <p class="text-soft max-w-prose">
    What is owned or borrowed. Measure the two heights once with a tape; every set card uses them.
  </p>
  {#if kit.problem}<p role="alert" class="mt-2 font-semibold">{kit.problem}</p>{/if}
  {#if kit.production}
    <WhatIf {kit} />
    <section class="mt-5" aria-label="Bodies">
      <div class="flex items-baseline justify-between">
        <h2 class="text-lg">Bodies</h2>
        {#if kit.editable}<button class="btn" onclick={() => kit.addBody()}>Add a body</button>{/if}
      </div>
      {#if kit.bodies.length === 0}
        <p class="text-soft">No body yet. Add one, then its recording modes.</p>
      {/if}
      <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
        {#each kit.bodies as entry (entry.record.id)}
          <KitRecord
            record={entry.record}
            specs={BODY}
            what="body"
            disabled={!kit.editable}
            onremove={() =>
              (doomed = { name: entry.record.draft.name, remove: () => kit.removeBody(entry) })}
          >
            {#each [['stabiliser', 'steadies its own picture'], ['remote', 'starts without being touched']] as const as [field, words] (field)}
              <label class="flex items-center gap-2 py-px">
                <input
                  type="checkbox"
                  disabled={!kit.editable}
                  checked={entry.record.draft[field] ?? true}
                  onchange={(event) => {
                    entry.record.set(field, event.currentTarget.checked);
                    void entry.record.commit();
                  }}
                />
                {words}
              </label>
            {/each}
            <Loan record={entry.record} disabled={!kit.editable} />
            <h3 class="mt-3">Recording modes</h3>
            {#each entry.modes as mode (mode.id)}
              <details class="border-line mt-1 border-t pt-1">
                <summary>
                  {mode.draft.name}
                  <span class="text-soft">
                    {mode.draft.sensor_width_mm} × {mode.draft.sensor_height_mm} mm, to {mode.draft
                      .max_fps} fps</span
                  >
                </summary>
                <KitRecord
                  record={mode}
                  specs={MODE}
                  what="mode"
                  disabled={!kit.editable}
                  onremove={() =>
                    (doomed = {
                      name: mode.draft.name,
                      remove: () => kit.removeMode(entry, mode),
                    })}
                >
                  <TextField
                    label="Codec"
                    value={mode.draft.codec ?? ''}
                    problem={mode.problems['codec']}
                    disabled={!kit.editable}
                    onlive={(value) => mode.set('codec', value)}
                    oncommit={() => void mode.commit()}
                  />
                  <label class="flex items-center gap-2 self-end pb-1 text-sm">
                    <input
                      type="checkbox"
                      checked={mode.draft.long_gop ?? false}
                      disabled={!kit.editable}
                      onchange={(event) => {
                        mode.set('long_gop', event.currentTarget.checked);
                        void mode.commit();
                      }}
                    />
                    Long-GOP: frames are told by their neighbours
                  </label>
                  <ChoiceField
                    label="Chroma subsampling"
                    value={mode.draft.subsampling ?? '4:2:0'}
                    options={chroma}
                    disabled={!kit.editable}
                    onchange={(value) => {
                      mode.set('subsampling', (value ?? '4:2:0') as Mode['subsampling']);
                      void mode.commit();
                    }}
                  />
                </KitRecord>
              </details>
            {/each}
            {#if kit.editable}
              <p class="mt-2 text-sm">
                <span class="text-soft">Add a mode:</span>
                {#each FORMATS as format (format.name)}
                  <button class="ml-2 underline" onclick={() => kit.addMode(entry, format)}
                    >{format.name}</button
                  >
                {/each}
              </p>
            {/if}
          </KitRecord>
        {/each}
      </div>
    </section>
    <section class="mt-8" aria-label="Lenses">
      <div class="flex items-baseline justify-between">
        <h2 class="text-lg">Lenses</h2>
        {#if kit.editable}<button class="btn" onclick={() => kit.lenses.add()}>Add a lens</button
          >{/if}
      </div>
      {#if kit.lenses.records.length === 0}
        <p class="text-soft">No lens yet.</p>
      {/if}
      <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
        {#each kit.lenses.records as lens (lens.id)}
          <KitRecord
            record={lens}
            specs={LENS}
            what="lens"
            follows={(was, typed) => follows(was, typed)}
            disabled={!kit.editable}
            onremove={() =>
              (doomed = { name: lens.draft.name, remove: () => kit.lenses.remove(lens) })}
          >
            <Loan record={lens} disabled={!kit.editable} />
            <Measured
              record={lens}
              href="/productions/{production}/kit/lenses/{lens.id}"
              disabled={!kit.editable}
            />
          </KitRecord>
        {/each}
      </div>
    </section>
    <section class="mt-8" aria-label="Lamps">
      <div class="flex items-baseline justify-between">
        <h2 class="text-lg">Lamps</h2>
        {#if kit.editable}<button class="btn" onclick={() => kit.lamps.add()}>Add a lamp</button
          >{/if}
      </div>
      {#if kit.lamps.records.length === 0}
        <p class="text-soft">No lamp yet. Meter each once, one metre in front of it.</p>
      {/if}
      <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
        {#each kit.lamps.records as lamp (lamp.id)}
          <KitRecord
            record={lamp}
            specs={LAMP}
            what="lamp"
            disabled={!kit.editable}
            onremove={() =>
              (doomed = { name: lamp.draft.name, remove: () => kit.lamps.remove(lamp) })}
          >
            <label class="flex min-h-7 items-center gap-1.5">
              <input
                type="checkbox"
                disabled={!kit.editable}
                checked={lamp.draft.flicker_free ?? true}
                onchange={(event) => {
                  lamp.set('flicker_free', event.currentTarget.checked);
                  void lamp.commit();
                }}
              />
              does not pulse with the mains
            </label>
            <ChoiceField
              label="Kind"
              value={lamp.draft.kind ?? 'panel'}
              options={LAMP_KINDS}
              disabled={!kit.editable}
              onchange={(value) => {
                lamp.set('kind', (value ?? 'panel') as Lamp['kind']);
                void lamp.commit();
              }}
            />
            <Loan record={lamp} disabled={!kit.editable} />
          </KitRecord>
        {/each}
      </div>
    </section>
    <ShelfList
      title="Rooms"
      shelf={kit.rooms}
      add="Add a room:"
      starts={ROOMS}
      empty="No room yet. With one, the Bench says whether a stage fits between its walls."
      what="room"
      specs={() => ROOM}
      editable={kit.editable}
      onremove={doom}
    >
      {#snippet children(room)}
        <RoomPlace record={room} disabled={!kit.editable} />
        <Loan record={room} disabled={!kit.editable} />
      {/snippet}
    </ShelfList>
    <ShelfList
      title="Rigs that move"
      shelf={kit.rigs}
      add="Add a rig:"
      starts={RIGS}
      empty="No rig yet. With one, the exposure sheet counts a move in whole steps and turns."
      what="rig"
      specs={(rig) => rigSpecs(rig.draft.axis)}
      editable={kit.editable}
      onremove={doom}
    >
      {#snippet children(rig)}
        <ChoiceField
          label="What it moves"
          value={rig.draft.axis}
          options={RIG_AXES}
          disabled={!kit.editable}
          onchange={(value) => {
            rig.set('axis', (value ?? 'track') as Rig['axis']);
            void rig.commit();
          }}
        />
        <Loan record={rig} disabled={!kit.editable} />
      {/snippet}
    </ShelfList>
    <Grip {kit} onremove={doom} />
    <Persons {kit} onremove={doom} />
  {:else if !kit.problem}
    <p class="text-soft mt-4">Loading</p>
  {/if}
</main>

<Modal
  open={doomed !== null}
  title={`Remove ${doomed?.name}?`}
  description="Plates that use it will ask for another. Cards already issued keep it."
  onclose={() => (doomed = null)}
>
  <div class="flex justify-end gap-2">
    <button class="btn" onclick={() => (doomed = null)}>Keep it</button>
    <button class="btn btn-main" onclick={removeNow}>Remove it</button>
  </div>
</Modal>
