<script lang="ts">
  import FrameView, { paperAspect } from '../../lib/drawings/FrameView.svelte';
  import DividerGrips from '../../lib/drawings/DividerGrips.svelte';
  import { closer, keyFor, pointsAt, type Point } from '../../lib/drawings/divider';
  import StagePair from '../../lib/drawings/StagePair.svelte';
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import { WHOLE, type Look } from '../../lib/drawings/zoom';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { Verdict } from '../../lib/api/client';
  import { route } from '../../router';
  import { OpenShot } from '../../lib/shot/open-shot.svelte';
  import Clashes from '../../lib/shot/Clashes.svelte';
  import { WORLD } from '../../lib/shot/plan';
  import ViewChoice from '../../lib/shot/ViewChoice.svelte';
  import Findings from '../../lib/shot/Findings.svelte';
  import Scrubber from '../../lib/shot/Scrubber.svelte';
  import CrowdPanel from './CrowdPanel.svelte';
  import CutPanel from './CutPanel.svelte';
  import LockPanel from './LockPanel.svelte';
  import ReframePanel from './ReframePanel.svelte';
  import RigPanel from './RigPanel.svelte';
  import SplitPanel from './SplitPanel.svelte';
  import TimingPanel from './TimingPanel.svelte';
  import { firstSection, SECTIONS, TrickAnswers, type Section } from './tricks.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let bench = $state.raw<OpenShot | null>(null);
  let tricks = $state.raw<TrickAnswers | null>(null);
  let problem = $state('');
  let section = $state<Section>('lock');
  let look = $state.raw<Look>(WHOLE);
  let stage = $state.raw<Look>(WHOLE);

  $effect(() => {
    if (!production || !shot) return;
    const opened = new OpenShot(production, shot);
    problem = '';
    bench = null;
    opened
      .load()
      .then(() => {
        tricks = new TrickAnswers(opened);
        section = firstSection(opened);
        bench = opened;
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
  $effect(() => {
    if (!bench || !tricks) return;
    bench.question();
    void bench.compute();
    void tricks.compute();
  });

  const findings = $derived(bench?.answer?.findings ?? []);
  const here = $derived(SECTIONS.find((s) => s.key === section)!);
  const own = $derived(findings.filter((f) => here.findings.includes(f.key)));
  const rank: Record<Verdict, number> = { holds: 0, strains: 1, breaks: 2 };
  function worst(keys: string[], plateId?: string): Verdict | null {
    const all = (bench?.report?.plates ?? [])
      .filter((p) => plateId === undefined || p.plate_id === plateId)
      .flatMap((p) => p.findings)
      .filter((f) => keys.includes(f.key));
    return all.reduce<Verdict | null>(
      (w, f) => (w === null || rank[f.verdict] > rank[w] ? f.verdict : w),
      null,
    );
  }
  const everyKey = SECTIONS.flatMap((s) => s.findings);

  const framed = $derived(
    (bench?.report?.plates ?? []).flatMap((p) =>
      p.picture
        ? [
            {
              id: p.plate_id,
              name: '',
              picture: p.picture,
              whiskers: [],
              screen: p.screen,
              match: 'holds' as const,
              fit: null,
            },
          ]
        : [],
    ),
  );
  const frame = $derived(bench?.frame ?? 1);
  const zoomed = $derived(bench?.report?.zoomed ?? 1);
  /** The split whose line is under the hand. */
  let chosen = $state<string | null>(null);
  const split = $derived.by(() => {
    const all = bench?.shot.draft.splits ?? [];
    return all.find((s) => s.id === chosen) ?? all[0] ?? null;
  });
  function redraw(points: Point[]) {
    if (!bench || !split) return;
    const keys = split.keys ?? [];
    const at = keyFor(keys, frame);
    const mine = {
      frame: at >= 0 ? (keys[at]?.frame ?? 1) : frame,
      points: closer(points, 1 / zoomed).map((p) => [...p]),
    };
    const next = at >= 0 ? keys.map((k, i) => (i === at ? mine : k)) : [...keys, mine];
    bench.dragging = true;
    bench.live(
      bench.shot,
      'splits',
      (bench.shot.draft.splits ?? []).map((s) => (s.id === split.id ? { ...s, keys: next } : s)),
    );
  }
  function redrawn() {
    if (!bench) return;
    bench.dragging = false;
    bench.commit(bench.shot, 'Move the line');
  }
</script>

<svelte:window onkeydown={(event) => bench?.history.take(event)} />
<svelte:head>
  <title>{bench ? `Lock-off: ${bench.shot.draft.number}` : 'Lock-off'} · Jungoptic</title>
</svelte:head>

{#if problem}
  <TopStrip crumbs={[]} />
  <main class="p-8">
    <p role="alert">{problem}</p>
    <p class="mt-2"><a class="underline" href="/productions/{production}">To the shots</a></p>
  </main>
{:else if bench && tricks}
  {@const b = bench}
  {@const t = tricks}
  <div class="flex min-h-dvh flex-col xl:h-dvh">
    <TopStrip
      crumbs={[
        { name: b.production.name, href: `/productions/${production}` },
        { name: `${b.shot.draft.number} ${b.shot.draft.title}` },
      ]}
    >
      <Rooms {production} {shot} here="lockoff" />
      <SavedMark />
      <UndoRedo
        undo={b.history.canUndo ? b.history.undoLabel : null}
        redo={b.history.canRedo ? b.history.redoLabel : null}
        onundo={() => b.history.undo()}
        onredo={() => b.history.redo()}
      />
    </TopStrip>
    <main
      class="grid min-h-0 grow grid-cols-1 md:grid-cols-[12rem_minmax(0,1fr)] xl:grid-cols-[12rem_minmax(0,1fr)_27rem]"
    >
      <h1 class="sr-only">Lock-off of shot {b.shot.draft.number}: {b.shot.draft.title}</h1>
      <nav
        aria-label="Tricks and plates"
        class="border-line bg-card relative flex flex-col border-r xl:overflow-y-auto"
      >
        <ul>
          {#each SECTIONS as s (s.key)}
            {@const verdict = worst(s.findings)}
            <li class="border-line border-b">
              <button
                class={[
                  'flex min-h-9 w-full items-center justify-between gap-1 px-2 py-1 text-left',
                  section === s.key ? 'bg-well font-semibold' : '',
                ]}
                aria-pressed={section === s.key}
                onclick={() => (section = s.key)}
              >
                {s.name}
                {#if verdict}<VerdictMark {verdict} size={16} />{/if}
              </button>
            </li>
          {/each}
        </ul>
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
        <h2 class="text-soft px-2 pt-3 text-sm font-normal">Seen from this plate</h2>
        <ul>
          {#each b.plates as plate (plate.id)}
            {@const verdict = worst(everyKey, plate.id)}
            <li class="border-line border-t">
              <button
                class={[
                  'flex w-full items-center gap-2 p-2 text-left text-sm',
                  b.selected === plate.id ? 'bg-well font-semibold' : '',
                ]}
                aria-pressed={b.selected === plate.id}
                onclick={() => {
                  b.selected = plate.id;
                  b.standIn = null;
                }}
              >
                <PlateSymbol kind={plate.draft.kind} />
                <span class="min-w-0 grow">
                  {plate.draft.name}
                  {#if plate.draft.lock_group}<span class="text-soft block text-xs font-normal"
                      >lock-off {plate.draft.lock_group}{plate.draft.filmed ? ', filmed' : ''}</span
                    >{/if}
                </span>
                {#if verdict}<VerdictMark {verdict} size={14} />{/if}
              </button>
            </li>
          {/each}
        </ul>
      </nav>

      <div class="relative flex min-h-0 min-w-0 flex-col xl:overflow-y-auto">
        {#if b.trouble}<p role="alert" class="bg-well p-2 font-semibold">
            The drawings show the last numbers that could be computed. {b.trouble}
          </p>{/if}
        {#if b.report}
          <section aria-label="Frame" class="flex min-h-0 flex-col xl:max-h-[56%] xl:shrink-0">
            <div class="min-h-0 grow" style:aspect-ratio={paperAspect(b.shot.draft)}>
              <FrameView
                widthPx={b.shot.draft.delivery_width_px ?? 1920}
                heightPx={b.shot.draft.delivery_height_px ?? 1080}
                world={b.report.world}
                plates={framed}
                grips={b.report.grips}
                names={b.names}
                selectedPlate={null}
                selectedStandIn={b.standIn}
                editable={b.editable && (!b.moving || b.at === 0)}
                padding={b.shot.draft.padding ?? 0}
                keyLight={b.report.key}
                marks={b.report.marks}
                layers={{ world: false, thirds: false, whiskers: false, shadows: true }}
                {look}
                onlook={(now) => (look = now)}
                onselect={(id) => (b.standIn = id)}
                onmove={(id, right, away) => b.drags.move(id, right, away)}
                ondrop={(id) => b.drags.drop(id)}
              >
                {#snippet over(k: number)}
                  {#if section === 'split' && split?.keys?.length && b.editable}
                    <DividerGrips
                      points={closer(pointsAt(split.keys, frame), zoomed)}
                      widthPx={b.shot.draft.delivery_width_px ?? 1920}
                      heightPx={b.shot.draft.delivery_height_px ?? 1080}
                      {k}
                      name={split.name ?? 'Divider'}
                      onlive={redraw}
                      oncommit={redrawn}
                    />
                  {/if}
                {/snippet}
              </FrameView>
            </div>
          </section>
          <Scrubber bench={b} />
          {#if b.answer?.elevation && b.answer.plan}
            <section aria-label="Stage" class="min-h-64 grow overflow-hidden">
              <StagePair
                elevation={b.answer.elevation}
                plan={b.answer.plan}
                name={b.plate?.draft.name ?? ''}
                planOnly
                selectedStandIn={b.standIn}
                editable={b.editable}
                onselect={(id) => (b.standIn = id)}
                onmove={(id, right, away) =>
                  b.drags.move(
                    id,
                    right * (b.plate?.draft.scale ?? 1),
                    away * (b.plate?.draft.scale ?? 1),
                  )}
                ondrop={(id) => b.drags.drop(id)}
                look={stage}
                onlook={(now) => (stage = now)}
              />
            </section>
          {:else if b.plates.length === 0}
            <p class="max-w-prose p-4">
              No plates yet.
              <a class="underline" href="/productions/{production}/shots/{shot}/method"
                >Choose how to build this shot</a
              >: its recipe brings the passes that share a lock-off.
            </p>
          {:else}
            <p class="text-soft max-w-prose p-4">
              The stage appears once this plate has a body, a mode and a lens: choose them on its
              <a class="underline" href="/productions/{production}/shots/{shot}">Bench</a>.
            </p>
          {/if}
        {/if}
      </div>

      <aside
        aria-label="Decisions and findings"
        class="border-line bg-card flex min-h-0 flex-col border-l md:col-span-2 xl:col-span-1"
      >
        {#if b.plate}
          {#key b.plate.id}
            <div
              class="relative min-h-0 grow xl:overflow-y-auto {own.length > 0
                ? 'xl:basis-7/12'
                : ''}"
            >
              {#if t.problem}<p role="alert" class="bg-well p-2 font-semibold">{t.problem}</p>{/if}
              {#if section === 'lock'}<LockPanel bench={b} record={b.plate} answer={t.answer} />
              {:else if section === 'split'}<SplitPanel
                  bench={b}
                  record={b.plate}
                  answer={t.answer}
                  {split}
                  {frame}
                  onchoose={(id) => (chosen = id)}
                />
              {:else if section === 'crowd'}<CrowdPanel
                  bench={b}
                  record={b.plate}
                  answer={t.answer}
                />
              {:else if section === 'rig'}<RigPanel bench={b} record={b.plate} answer={t.answer} />
              {:else if section === 'reframe'}<ReframePanel bench={b} answer={t.answer} {frame} />
              {:else if section === 'cut'}<CutPanel bench={b} record={b.plate} answer={t.answer} />
              {:else}<TimingPanel bench={b} record={b.plate} answer={t.answer} {frame} />{/if}
            </div>
            {#if own.length > 0}
              <div
                class="border-ink relative min-h-0 shrink-0 border-t-2 xl:max-h-[42%] xl:overflow-y-auto"
              >
                <Findings bench={b} record={b.plate} findings={own} />
              </div>
            {/if}
          {/key}
        {:else}
          <p class="text-soft p-4">Choose a plate on the left.</p>
        {/if}
      </aside>
    </main>
  </div>
  <Clashes bench={b} />
{:else}
  <TopStrip crumbs={[]} />
  <p class="text-soft p-8">Loading</p>
{/if}
