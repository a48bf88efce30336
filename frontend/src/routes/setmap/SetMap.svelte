<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { alone } from '../../lib/drawings/geometry';
  import StageDrawing from '../../lib/drawings/StageDrawing.svelte';
  import { WHOLE, type Look } from '../../lib/drawings/zoom';
  import { length } from '../../lib/quantities';
  import Clashes from '../../lib/shot/Clashes.svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import { OpenShot } from '../../lib/shot/open-shot.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import { route } from '../../router';
  import Angles from './Angles.svelte';
  import { SetDesk } from './desk.svelte';
  import EdgePanel from './EdgePanel.svelte';
  import PiecePanel from './PiecePanel.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  const plateId = $derived(route.params.plate ?? '');
  let desk = $state.raw<SetDesk | null>(null);
  let problem = $state('');
  let wide = $state(640);
  let high = $state(480);
  let look = $state.raw<Look>(WHOLE);
  /** Camera and ends of the tapes too. */
  let whole = $state(false);

  $effect(() => {
    if (!production || !shot || !plateId) return;
    const bench = new OpenShot(production, shot);
    const opened = new SetDesk(bench, plateId);
    let left = false;
    problem = '';
    desk = null;
    Promise.all([bench.load(), opened.load()])
      .then(() => {
        if (left) return;
        const plate = bench.allPlates.find((one) => one.id === plateId);
        bench.look(plate?.draft.view_id ?? null);
        bench.selected = plateId;
        desk = opened;
      })
      .catch((error: Error) => (problem = error.message));
    return () => {
      left = true;
      opened.record?.dispose();
      bench.dispose();
    };
  });
  $effect(() => {
    if (!desk) return;
    desk.question();
    void desk.compute();
  });
  const shown = (drawing: Schemas['Drawing']) =>
    whole ? (drawing.room ?? drawing.bounds) : drawing.bounds;
  /** How far off a place may come out. */
  const sure = (error: number | null) => (error === null ? 'flat' : length(error));
  const files = $derived(`/api/productions/${production}/shots/${shot}/plates/${plateId}`);
  const named = $derived(desk?.answer?.rows.filter((row) => row.kind !== 'piece') ?? []);
</script>

<svelte:window onkeydown={(event) => desk?.bench.history.take(event)} />
<svelte:head>
  <title>{desk ? `Set map: ${desk.bench.shot.draft.number}` : 'Set map'} · Jungoptic</title>
</svelte:head>

{#if problem}
  <TopStrip crumbs={[]} />
  <main class="p-8">
    <p role="alert">{problem}</p>
    <p class="mt-2"><a class="underline" href="/productions/{production}">To the shots</a></p>
  </main>
{:else if desk}
  {@const d = desk}
  {@const b = d.bench}
  {@const drawing = d.answer?.drawing}
  <div class="flex min-h-dvh flex-col md:h-dvh">
    <TopStrip
      crumbs={[
        { name: b.production.name, href: `/productions/${production}` },
        { name: `${b.shot.draft.number} ${b.shot.draft.title}` },
        {
          name: 'Frames',
          href: `/productions/${production}/shots/${shot}/frames?plate=${plateId}`,
        },
      ]}
    >
      <Rooms {production} {shot} here="frames" />
      <SavedMark />
      {#if b.editable}
        <UndoRedo
          undo={b.history.canUndo ? b.history.undoLabel : null}
          redo={b.history.canRedo ? b.history.redoLabel : null}
          onundo={() => b.history.undo()}
          onredo={() => b.history.redo()}
        />
      {/if}
    </TopStrip>
    <main
      class="grid min-h-0 grow grid-cols-1 md:grid-cols-[21rem_minmax(0,1fr)] lg:grid-cols-[21rem_minmax(0,1fr)_21rem]"
    >
      <h1 class="sr-only">Set map of {b.plate?.draft.name}</h1>
      <section
        aria-label="Everything with its two tapes"
        class="border-line bg-card border-r md:overflow-y-auto"
      >
        <div class="flex flex-wrap items-center gap-x-3 gap-y-1 px-2 pt-2">
          <h2 class="grow text-lg">{b.plate?.draft.name}</h2>
          <a class="text-sm underline" target="_blank" href="{files}/set-map.pdf">On paper</a>
          <a class="text-sm underline" href="{files}/set-map.csv">CSV</a>
        </div>
        {#if d.pieces.length === 0}
          <div class="px-2 py-1">
            <p class="text-sm">
              Nothing is on this map yet. Each piece of the set gets two tapes from two ends that
              stay, so that it stands again after months; and who animates is told what an arm
              reaches.
            </p>
            {#if b.editable}
              <div class="mt-1 flex flex-wrap gap-2">
                {#if d.answer?.begin_with.length}<button
                    class="btn btn-main"
                    onclick={() => d.begin()}>Begin with what stands there</button
                  >{/if}
                <button class="btn" onclick={() => d.add()}>Add a piece</button>
              </div>
            {/if}
          </div>
        {/if}
        {#if d.answer}
          <table class="mt-1 w-full text-sm">
            <thead class="text-soft text-xs">
              <tr>
                <th class="pl-2 text-left font-normal">Piece</th>
                <th class="text-right font-normal whitespace-nowrap">from left</th>
                <th class="pl-2 text-right font-normal whitespace-nowrap">from right</th>
                <th class="px-2 text-right font-normal whitespace-nowrap">found to</th>
              </tr>
            </thead>
            <tbody>
              {#each d.pieces as piece (piece.key)}
                {@const row = d.answer.rows.find((one) => one.key === piece.key)}
                <tr class={['border-line border-t', d.chosen === piece.key ? 'bg-well' : '']}>
                  <th scope="row" class="p-0 text-left font-normal">
                    <button
                      class={[
                        'w-full py-1.5 pl-2 text-left',
                        d.chosen === piece.key ? 'font-semibold' : '',
                      ]}
                      aria-pressed={d.chosen === piece.key}
                      onclick={() => (d.chosen = piece.key)}>{piece.name}</button
                    >
                  </th>
                  <td class="text-right whitespace-nowrap">{row ? length(row.from_left_m) : ''}</td>
                  <td class="text-right whitespace-nowrap">{row ? length(row.from_right_m) : ''}</td
                  >
                  <td class="text-soft px-2 text-right whitespace-nowrap"
                    >{row ? sure(row.error_m) : ''}</td
                  >
                </tr>
              {/each}
            </tbody>
            <tbody>
              <tr
                ><th
                  colspan="4"
                  scope="colgroup"
                  class="text-soft pt-2 pl-2 text-left text-xs font-normal">as planned</th
                ></tr
              >
              {#each named as row (row.key)}
                <tr class="border-line border-t">
                  <th scope="row" class="py-1 pl-2 text-left font-normal">{row.name}</th>
                  <td class="text-right whitespace-nowrap">{length(row.from_left_m)}</td>
                  <td class="text-right whitespace-nowrap">{length(row.from_right_m)}</td>
                  <td class="text-soft px-2 text-right whitespace-nowrap">{sure(row.error_m)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
          {#if d.pieces.length && b.editable}
            <button class="btn m-2" disabled={d.pieces.length >= 60} onclick={() => d.add()}
              >Add a piece</button
            >
          {/if}
          <div class="border-line border-t px-2 py-2">
            <FindingList findings={d.answer.findings} />
          </div>
        {/if}
      </section>

      <div class="flex min-h-0 min-w-0 flex-col">
        {#if d.problem}
          <p role="alert" class="bg-well p-2 font-semibold">
            {d.answer ? 'The map shows the last numbers that could be computed. ' : ''}{d.problem}
            {#if !d.answer}<a class="underline" href="/productions/{production}/shots/{shot}"
                >To the Bench</a
              >{/if}
          </p>
        {/if}
        {#each Object.values(d.record.problems) as refused, i (i)}
          <p role="alert" class="bg-well p-2 font-semibold">Not saved: {refused}</p>
        {/each}
        <div
          class="relative h-[60vh] min-h-0 overflow-hidden md:h-auto md:grow"
          bind:clientWidth={wide}
          bind:clientHeight={high}
        >
          <label class="bg-card absolute top-1 right-2 z-10 flex items-center gap-1 px-1 text-sm">
            <input type="checkbox" bind:checked={whole} /> with camera and ends of tapes
          </label>
          {#if drawing}
            <StageDrawing
              {drawing}
              title="{b.plate?.draft.name}: the set from above, far is up"
              caption="from above, far is up"
              width={wide}
              height={high}
              scale={alone(shown(drawing), wide, high).scale}
              room={whole}
              covered={230}
              scaleBar
              selectedStandIn={d.chosen}
              editable={b.editable}
              movable={(key) => !d.fromStory(key)}
              onselect={(key) => (d.chosen = key)}
              onmove={(key, right, away) => d.move(key, right, away)}
              ondrop={() => d.rest()}
              {look}
              onlook={(to) => (look = to)}
            />
          {:else if !d.problem}
            <p class="p-4" role="status">Laying out the set…</p>
          {/if}
        </div>
        <p class="text-soft border-line border-t px-2 py-0.5 text-xs">
          Thick edges: somebody can stand there. Red: no arm gets there. Dots: poses. Dashed pieces
          roll out, dotted ones are trap doors.
        </p>
      </div>

      <aside
        class="border-line bg-card min-w-0 border-l md:col-span-2 lg:col-span-1 lg:overflow-y-auto"
        aria-label="About the set"
      >
        {#if d.piece}{#key d.piece.key}<PiecePanel desk={d} piece={d.piece} />{/key}{/if}
        {#if d.answer}<EdgePanel desk={d} />{/if}
        {#if d.answer}<Angles answer={d.answer} />{/if}
      </aside>
      <ClashDialog record={d.record} name="this sheet" />
    </main>
  </div>
  <Clashes bench={b} />
{:else}
  <TopStrip crumbs={[]} />
  <p class="p-8" role="status">Opening the set…</p>
{/if}
