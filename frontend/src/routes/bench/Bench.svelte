<script lang="ts">
  import type { Verdict } from '../../lib/api/client';
  import FrameView from '../../lib/drawings/FrameView.svelte';
  import MarkTable from '../../lib/drawings/MarkTable.svelte';
  import StagePair from '../../lib/drawings/StagePair.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { route } from '../../router';
  import { Bench, WORLD } from './bench.svelte';
  import Findings from './Findings.svelte';
  import PlateList from './PlateList.svelte';
  import PlateSheet from './PlateSheet.svelte';
  import StandInSheet from './StandInSheet.svelte';
  import WorldSheet from './WorldSheet.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let bench = $state.raw<Bench | null>(null);
  let problem = $state('');
  let help = $state(false);

  $effect(() => {
    if (!production || !shot) return;
    const opened = new Bench(production, shot);
    problem = '';
    bench = null;
    opened
      .load()
      .then(() => (bench = opened))
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
  $effect(() => {
    if (!bench) return;
    bench.question();
    void bench.compute();
  });

  const verdicts: Verdict[] = ['breaks', 'strains', 'holds'];
  const counts = $derived.by(() => {
    const all = bench?.report?.plates.flatMap((p) => p.findings) ?? [];
    return verdicts.map((verdict) => ({
      verdict,
      count: all.filter((f) => f.verdict === verdict).length,
    }));
  });
  const framed = $derived(
    (bench?.report?.plates ?? []).flatMap((p) =>
      p.picture
        ? [
            {
              id: p.plate_id,
              name: '',
              picture: p.picture,
              whiskers: p.plate_id === bench?.selected ? p.whiskers : [],
              screen: p.screen,
              match: p.findings.find((f) => f.key === 'mismatch')?.verdict ?? 'holds',
            } as const,
          ]
        : [],
    ),
  );

  function key(event: KeyboardEvent) {
    if (!bench) return;
    const typing =
      event.target instanceof HTMLElement && /INPUT|TEXTAREA|SELECT/.test(event.target.tagName);
    const command = event.ctrlKey || event.metaKey;
    if (command && event.key.toLowerCase() === 'z' && !typing) {
      event.preventDefault();
      if (event.shiftKey) bench.history.redo();
      else bench.history.undo();
    } else if (!typing && !command && event.key === '?') {
      help = true;
    } else if (!typing && !command && event.key === 'w') {
      bench.selected = WORLD;
      bench.standIn = null;
    } else if (!typing && !command && /^[1-9]$/.test(event.key)) {
      const plate = bench.plates[Number(event.key) - 1];
      if (plate) bench.selected = plate.id;
    }
  }

  const scaleOf = (b: Bench) => b.plate?.draft.scale ?? 1;
</script>

<svelte:window onkeydown={key} />
<svelte:head>
  <title
    >{bench ? `${bench.shot.draft.number} ${bench.shot.draft.title}` : 'Shot'} · Jungoptic</title
  >
</svelte:head>

{#if problem}
  <TopStrip crumbs={[]} />
  <main class="p-8">
    <p role="alert">{problem}</p>
    <p class="mt-2"><a class="underline" href="/productions/{production}">To the shots</a></p>
  </main>
{:else if bench}
  {@const b = bench}
  <div class="flex min-h-dvh flex-col xl:h-dvh">
    <TopStrip
      crumbs={[
        { name: b.production.name, href: `/productions/${production}` },
        { name: `${b.shot.draft.number} ${b.shot.draft.title}` },
      ]}
    >
      <Rooms {production} {shot} />
      <div class="flex items-center gap-3" role="group" aria-label="Findings of all plates">
        {#each counts as { verdict, count } (verdict)}
          <span class="flex items-center gap-1" data-testid={`count-${verdict}`}>
            <VerdictMark {verdict} named={false} />
            <b>{count}</b><span class="sr-only">{verdict}</span>
          </span>
        {/each}
      </div>
      <SavedMark />
      <UndoRedo
        undo={b.history.canUndo ? b.history.undoLabel : null}
        redo={b.history.canRedo ? b.history.redoLabel : null}
        onundo={() => b.history.undo()}
        onredo={() => b.history.redo()}
      />
      <button class="p-1.5" aria-label="Keys" title="Keys (?)" onclick={() => (help = true)}
        >?</button
      >
    </TopStrip>

    <main
      class="grid min-h-0 grow grid-cols-1 md:grid-cols-[13rem_minmax(0,1fr)] xl:grid-cols-[13rem_minmax(0,1fr)_22rem]"
    >
      <h1 class="sr-only">Shot {b.shot.draft.number}: {b.shot.draft.title}</h1>
      <PlateList bench={b} />

      <div class="flex min-h-0 min-w-0 flex-col">
        {#if b.trouble}
          <p role="alert" class="bg-well p-2 font-semibold">
            The drawings show the last numbers that could be computed. {b.trouble}
          </p>
        {/if}
        {#if b.notice}
          <p role="alert" class="bg-well flex justify-between p-2 font-semibold">
            {b.notice}
            <button class="underline" onclick={() => (b.notice = '')}>Understood</button>
          </p>
        {/if}
        {#if b.report}
          <section aria-label="Frame" class="border-line border-b">
            <FrameView
              widthPx={b.shot.draft.delivery_width_px ?? 1920}
              heightPx={b.shot.draft.delivery_height_px ?? 1080}
              world={b.report.world}
              plates={framed}
              grips={b.report.grips}
              names={b.names}
              selectedPlate={b.selected === WORLD ? null : b.selected}
              selectedStandIn={b.standIn}
              editable={b.editable}
              onselect={(id) => (b.standIn = id)}
              onmove={(id, right, away) => b.move(id, right, away)}
              ondrop={(id) => b.drop(id)}
            />
          </section>
          {@const answer = b.answer}
          {#if answer?.elevation && answer.plan}
            <section
              aria-label="Stage"
              class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_19rem] xl:grow"
            >
              <div class="h-[24rem] min-h-0 xl:h-full">
                <StagePair
                  elevation={answer.elevation}
                  plan={answer.plan}
                  name={b.plate?.draft.name ?? ''}
                  selectedStandIn={b.standIn}
                  editable={b.editable}
                  onselect={(id) => (b.standIn = id)}
                  onmove={(id, right, away) => b.move(id, right * scaleOf(b), away * scaleOf(b))}
                  ondrop={(id) => b.drop(id)}
                  onaxis={(dv) => b.raise(dv)}
                  onaxisdrop={() => b.raised()}
                />
              </div>
              <div class="overflow-y-auto px-3 py-1"><MarkTable marks={answer.marks} /></div>
            </section>
          {:else if b.selected === WORLD}
            <p class="text-soft max-w-prose p-4">
              This is the story's own world at full size. Drag the ochre feet in the picture to move
              things on the ground; choose a plate on the left to see its stage.
            </p>
            {#if b.plates.length === 0}
              <p class="px-4">
                No plates yet.
                <a class="underline" href="/productions/{production}/shots/{shot}/method"
                  >Choose how to build this shot</a
                >, or add a plate on the left.
              </p>
            {/if}
          {:else}
            <p class="text-soft max-w-prose p-4">
              The stage drawing appears once this plate has a body, a mode and a lens.
            </p>
          {/if}
        {/if}
      </div>

      <aside
        aria-label="Sheet and findings"
        class="border-line bg-card flex min-h-0 flex-col border-l md:col-span-2 xl:col-span-1"
      >
        <div class="min-h-0 xl:basis-7/12 xl:overflow-y-auto {b.plate ? '' : 'grow'}">
          {#if b.chosenStandIn}
            <StandInSheet bench={b} record={b.chosenStandIn} />
          {/if}
          {#if b.plate}
            {#key b.plate.id}
              <PlateSheet bench={b} record={b.plate} answer={b.answer} />
            {/key}
          {:else}
            <WorldSheet bench={b} />
          {/if}
        </div>
        {#if b.plate}
          {#key b.plate.id}
            <div class="border-ink min-h-0 grow border-t-2 xl:basis-5/12 xl:overflow-y-auto">
              <Findings bench={b} record={b.plate} findings={b.answer?.findings ?? []} />
            </div>
          {/key}
        {/if}
      </aside>
    </main>
  </div>
  <ClashDialog record={b.shot} name="this shot" />
  {#each b.plates as plate (plate.id)}
    <ClashDialog record={plate} name={plate.draft.name} />
  {/each}
  {#each b.standIns as standIn (standIn.id)}
    <ClashDialog record={standIn} name={standIn.draft.name} />
  {/each}
  <Modal open={help} title="Keys" onclose={() => (help = false)}>
    <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
      <dt><kbd>w</kbd></dt>
      <dd>the world</dd>
      <dt><kbd>1</kbd> to <kbd>9</kbd></dt>
      <dd>the plates, in order</dd>
      <dt><kbd>↑</kbd> <kbd>↓</kbd> in a number</dt>
      <dd>one step; with Shift ten</dd>
      <dt>arrows on an ochre foot</dt>
      <dd>move it 5 cm in the world; with Shift 50 cm</dd>
      <dt><kbd>Ctrl+Z</kbd></dt>
      <dd>undo; with Shift redo</dd>
      <dt><kbd>Esc</kbd> in a number</dt>
      <dd>forget what was typed</dd>
    </dl>
  </Modal>
{:else}
  <TopStrip crumbs={[]} />
  <p class="text-soft p-8">Loading</p>
{/if}
