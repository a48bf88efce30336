<script lang="ts">
  import { untrack } from 'svelte';
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import Clashes from '../../lib/shot/Clashes.svelte';
  import { OpenShot } from '../../lib/shot/open-shot.svelte';
  import { WORLD } from '../../lib/shot/plan';
  import ViewChoice from '../../lib/shot/ViewChoice.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import { route } from '../../router';
  import ColumnPanel from './ColumnPanel.svelte';
  import Comes from './Comes.svelte';
  import { SheetDesk } from './desk.svelte';
  import type { Column } from './marks';
  import LapsePanel from './LapsePanel.svelte';
  import PacePanel from './PacePanel.svelte';
  import ReferencePanel from './ReferencePanel.svelte';
  import SheetGrid from './SheetGrid.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let bench = $state.raw<OpenShot | null>(null);
  let desk = $state.raw<SheetDesk | null>(null);
  let problem = $state('');

  $effect(() => {
    if (!production || !shot) return;
    const opened = new OpenShot(production, shot);
    problem = '';
    bench = null;
    desk = null;
    opened
      .load()
      .then(() => {
        const named = new URLSearchParams(location.search).get('plate');
        const asked = opened.allPlates.find((plate) => plate.id === named);
        if (asked) opened.look(asked.draft.view_id ?? null);
        const puppet = opened.plates.find((plate) => plate.draft.kind === 'puppet');
        opened.selected = (asked ?? puppet ?? opened.plates[0])?.id ?? WORLD;
        bench = opened;
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
  /** The plate in hand: another one has a sheet of its own, and nothing goes into the one before. */
  const plateId = $derived(bench?.plate?.id ?? null);
  $effect(() => {
    desk = null;
    if (!bench || !plateId) return;
    const opened = new SheetDesk(bench, plateId);
    let left = false;
    opened
      .load()
      .then(() => {
        if (!left) desk = opened;
      })
      .catch((error: Error) => (problem = error.message));
    return () => {
      left = true;
      opened.record?.dispose();
    };
  });
  $effect(() => {
    if (!desk) return;
    desk.question();
    void desk.compute();
  });
  const beside = $derived(desk?.reference?.picture_id ?? null);
  $effect(() => {
    void beside;
    const opened = desk;
    // What else changes on the sheet is no reason to fetch them again.
    untrack(() => void opened?.seeBeside());
  });
  const beats = $derived(
    Object.fromEntries(
      (bench?.shot.draft.beats ?? [])
        .filter((beat) => !beat.plate_id || beat.plate_id === desk?.plateId)
        .map((beat) => [beat.frame, beat.name]),
    ),
  );
  const ADD: { value: Column['kind']; name: string }[] = [
    { value: 'part', name: 'a puppet or a part of it' },
    { value: 'piece', name: 'replacements: mouths, eyes' },
    { value: 'axis', name: 'a move by counted steps' },
    { value: 'words', name: 'sound and words' },
    { value: 'note', name: 'notes' },
  ];
  const HOLDS = [
    { value: '1', name: 'on ones' },
    { value: '2', name: 'on twos' },
    { value: '3', name: 'on threes' },
    { value: '4', name: 'on fours' },
  ];
</script>

<svelte:window onkeydown={(event) => desk?.history.take(event)} />
<svelte:head>
  <title>{bench ? `Frames: ${bench.shot.draft.number}` : 'Frames'} · Jungoptic</title>
</svelte:head>

{#if problem}
  <TopStrip crumbs={[]} />
  <main class="p-8">
    <p role="alert">{problem}</p>
    <p class="mt-2"><a class="underline" href="/productions/{production}">To the shots</a></p>
  </main>
{:else if bench}
  {@const b = bench}
  <div class="flex min-h-dvh flex-col md:h-dvh">
    <TopStrip
      crumbs={[
        { name: b.production.name, href: `/productions/${production}` },
        { name: `${b.shot.draft.number} ${b.shot.draft.title}` },
      ]}
    >
      <Rooms {production} {shot} here="frames" />
      <SavedMark />
      {#if desk && b.editable}
        {@const d = desk}
        <UndoRedo
          undo={d.history.canUndo ? d.history.undoLabel : null}
          redo={d.history.canRedo ? d.history.redoLabel : null}
          onundo={() => d.history.undo()}
          onredo={() => d.history.redo()}
        />
      {/if}
    </TopStrip>
    <main
      class="grid min-h-0 grow grid-cols-1 md:grid-cols-[12rem_minmax(0,1fr)] lg:grid-cols-[12rem_minmax(0,1fr)_25rem]"
    >
      <h1 class="sr-only">Frames of shot {b.shot.draft.number}: {b.shot.draft.title}</h1>
      <nav
        aria-label="Plates"
        class="border-line bg-card flex flex-col border-r md:overflow-y-auto"
      >
        <div class="px-2 pt-2">
          <ViewChoice
            views={b.views}
            value={b.view?.id ?? null}
            onchange={(id) => {
              b.look(id);
              b.selected = b.plates[0]?.id ?? WORLD;
            }}
          />
        </div>
        <h2 class="text-soft px-2 pt-2 text-sm font-normal">The sheet of</h2>
        <ul>
          {#each b.plates as plate (plate.id)}
            <li class="border-line border-t">
              <button
                class={[
                  'flex w-full items-center gap-2 p-2 text-left text-sm',
                  b.selected === plate.id ? 'bg-well font-semibold' : '',
                ]}
                aria-pressed={b.selected === plate.id}
                onclick={() => (b.selected = plate.id)}
              >
                <PlateSymbol kind={plate.draft.kind} />
                <span class="min-w-0 grow">{plate.draft.name}</span>
              </button>
            </li>
          {/each}
        </ul>
        {#if b.plates.length === 0}
          <p class="text-soft p-2 text-sm">
            No plate yet. A sheet belongs to a plate: add one on the
            <a class="underline" href="/productions/{production}/shots/{shot}">Bench</a>.
          </p>
        {/if}
        {#if b.plate}
          {@const plate = b.plate}
          <div class="border-line mt-auto border-t px-2 py-2 text-sm">
            <ChoiceField
              label="Poses"
              value={String(plate.draft.hold ?? 1)}
              options={HOLDS}
              disabled={!b.editable}
              onchange={(value) => b.change(plate, 'hold', Number(value ?? 1), 'Usual hold')}
            />
            <p class="text-soft text-xs">as a rule; hours and new sheets count by it</p>
          </div>
        {/if}
      </nav>

      {#if desk}
        {@const d = desk}
        <div class="flex min-h-0 min-w-0 flex-col">
          {#if d.problem}<p role="alert" class="bg-well p-2 font-semibold">
              The sheet shows the last numbers that could be computed. {d.problem}
            </p>{/if}
          {#each Object.values(d.record.problems) as refused, i (i)}
            <p role="alert" class="bg-well p-2 font-semibold">Not saved: {refused}</p>
          {/each}
          <div class="border-line flex flex-wrap items-center gap-x-4 gap-y-1 border-b px-2 py-1">
            {#if b.editable}
              <label class="flex items-center gap-1 text-sm"
                >Add a column
                <select
                  class="field w-auto! min-h-8! py-0!"
                  value=""
                  onchange={(event) => {
                    if (event.currentTarget.value)
                      d.add(event.currentTarget.value as Column['kind']);
                    event.currentTarget.value = '';
                  }}
                >
                  <option value="">…</option>
                  {#each ADD as one (one.value)}<option value={one.value}>{one.name}</option>{/each}
                </select></label
              >
            {/if}
            <span class="grow"></span>
            <a
              class="btn min-h-8! py-0!"
              href="/productions/{production}/shots/{shot}/frames/{d.plateId}">Take its pictures</a
            >
            <a
              class="btn min-h-8! py-0!"
              href="/productions/{production}/shots/{shot}/frames/{d.plateId}/set">Its set map</a
            >
            <a
              class="text-sm underline"
              target="_blank"
              href="/api/productions/{production}/shots/{shot}/plates/{d.plateId}/sheet.pdf"
              >Sheet on paper</a
            >
            <a
              class="text-sm underline"
              href="/api/productions/{production}/shots/{shot}/plates/{d.plateId}/sheet.csv">CSV</a
            >
          </div>
          {#if d.columns.length === 0 && b.editable && !d.record.draft.lapse}
            <div class="p-4">
              <h2 class="text-lg">Nothing is on this sheet yet</h2>
              <p class="max-w-prose">
                A row is a frame. A mark begins a pose and lasts until the next, as a line drawn
                down a paper sheet does. What the shot decides already, its camera's move, things on
                a course and lamps that play, stands on it by itself.
              </p>
              <button class="btn btn-main mt-2" disabled={!d.answer} onclick={() => d.begin()}
                >Begin with what stands in this plate</button
              >
            </div>
          {/if}
          <SheetGrid desk={d} {beats} />
          <p class="text-soft border-line border-t px-2 py-0.5 text-xs">
            Arrows walk, with Shift they mark · Enter writes · 1 2 3 4 new poses on · H hold · C V R
            copy, paste, repeat · I X frames in and out · B blink
          </p>
        </div>
        <aside
          class="border-line bg-card min-w-0 border-l md:col-span-2 lg:col-span-1 lg:overflow-y-auto"
          aria-label="About the sheet"
        >
          {#if d.answer}<Comes answer={d.answer} />{/if}
          {#if d.column}
            {#key d.column.key}<ColumnPanel desk={d} column={d.column} />{/key}
          {/if}
          {#if b.plate?.draft.kind !== 'puppet' || d.record.draft.lapse}<LapsePanel desk={d} />{/if}
          <ReferencePanel desk={d} />
          <PacePanel desk={d} />
        </aside>
        <ClashDialog record={d.record} name="this sheet" />
      {/if}
    </main>
  </div>
  <Clashes bench={b} />
{:else}
  <TopStrip crumbs={[]} />
  <p class="p-8" role="status">Opening the sheet…</p>
{/if}
