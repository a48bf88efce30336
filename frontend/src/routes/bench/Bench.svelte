<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import ClipboardCopy from '@lucide/svelte/icons/clipboard-copy';
  import Printer from '@lucide/svelte/icons/printer';
  import type { Verdict } from '../../lib/api/client';
  import DepthRail, { type Thing } from '../../lib/drawings/DepthRail.svelte';
  import type { Shown } from '../../lib/drawings/FramePlate.svelte';
  import FrameView, { paperAspect } from '../../lib/drawings/FrameView.svelte';
  import { closer, WHOLE } from '../../lib/drawings/zoom';
  import { isTyping } from '../../lib/edit/history.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { units } from '../../lib/units.svelte';
  import { route } from '../../router';
  import { OpenShot } from '../../lib/shot/open-shot.svelte';
  import { WORLD } from '../../lib/shot/plan';
  import { asText } from './copy';
  import Clashes from '../../lib/shot/Clashes.svelte';
  import Findings from '../../lib/shot/Findings.svelte';
  import FrameBar from './FrameBar.svelte';
  import Keys from './Keys.svelte';
  import Lower from './Lower.svelte';
  import { Planner } from './planner.svelte';
  import PlateList from './PlateList.svelte';
  import PlateSheet from './PlateSheet.svelte';
  import Scrubber from '../../lib/shot/Scrubber.svelte';
  import StandInSheet from './StandInSheet.svelte';
  import { BenchView, STUDIED, TABS } from './view.svelte';
  import WorldSheet from './WorldSheet.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let bench = $state.raw<OpenShot | null>(null);
  let problem = $state('');
  let help = $state(false);
  let copied = $state(false);
  let view = $state.raw<BenchView | null>(null);
  let planner = $state.raw<Planner | null>(null);

  $effect(() => {
    if (!production || !shot) return;
    const opened = new OpenShot(production, shot);
    problem = '';
    bench = null;
    view = new BenchView(shot);
    planner = new Planner(opened);
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

  $effect(() => view?.keep());
  $effect(() => {
    if (!bench || !view) return;
    bench.mapped = view.tab === 'stage' && view.map;
    bench.drawn = view.tab === 'stage';
    bench.studied = STUDIED.includes(view.tab);
    bench.toned = view.layers.tone;
  });
  $effect(() => {
    // Another plate: nothing that was found for the last one stays.
    if (bench?.selected) planner?.clear();
  });

  const verdicts: Verdict[] = ['breaks', 'strains', 'holds'];
  const counts = $derived.by(() => {
    const all = bench?.report?.plates.flatMap((p) => p.findings) ?? [];
    return verdicts.map((verdict) => ({
      verdict,
      count: all.filter((f) => f.verdict === verdict).length,
    }));
  });
  const shownOf = (
    p: NonNullable<OpenShot['answer']>,
    id: string,
    whiskers: boolean,
    fitted: boolean,
  ): Shown[] =>
    p.picture
      ? [
          {
            id,
            name: '',
            picture: p.picture,
            whiskers: whiskers ? p.whiskers : [],
            screen: p.screen,
            match: p.findings.find((f) => f.key === 'mismatch')?.verdict ?? 'holds',
            fit: fitted ? p.fit : null,
          },
        ]
      : [];
  const framed = $derived(
    (bench?.report?.plates ?? [])
      .filter((p) => !view?.hidden.includes(p.plate_id))
      .flatMap((p) =>
        shownOf(p, p.plate_id, p.plate_id === bench?.selected, view?.layers.fitted ?? false),
      ),
  );
  const overlays = $derived(
    view?.tab === 'planner' && planner && planner.answers.length === planner.compared.length
      ? planner.answers.flatMap((p, i) => shownOf(p, `way-${i}`, true, false))
      : [],
  );
  const tones = $derived(
    (bench?.report?.plates ?? [])
      .filter((p) => !view?.hidden.includes(p.plate_id))
      .flatMap((p) => p.tones),
  );
  const air = $derived(
    Object.fromEntries((bench?.report?.depths ?? []).map((d) => [d.stand_in_id, d.air])),
  );
  /** What the rail tells is of this camera: of what post places, the one that films it. */
  const filmedNear = $derived((bench?.report?.depths ?? []).some((d) => d.filmed_m));
  const things = $derived<Thing[]>(
    (bench?.report?.depths ?? []).flatMap((d) => {
      const record = bench?.standIns.find((s) => s.id === d.stand_in_id);
      if (!record || (filmedNear && !d.filmed_m)) return [];
      return [
        {
          id: d.stand_in_id,
          name: record.draft.name,
          plate: record.draft.plate_id ?? null,
          nearM: d.filmed_m?.[0] ?? d.near_m,
          farM: d.filmed_m?.[1] ?? d.far_m,
          perM: d.per_m,
          fixed: filmedNear,
        },
      ];
    }),
  );
  async function copy() {
    if (!bench?.plate || !bench.answer) return;
    const text = asText(bench.shot.draft, bench.plate.draft, bench.answer, bench.kit);
    try {
      await navigator.clipboard.writeText(text);
      copied = true;
      setTimeout(() => (copied = false), 2000);
    } catch {
      // Away from this machine browsers want https for this.
      bench.notice = 'This browser does not let the page copy here. Print the Bench instead.';
    }
  }

  function key(event: KeyboardEvent) {
    if (!bench) return;
    if (bench.history.take(event)) return;
    const typing = isTyping(event);
    const command = event.ctrlKey || event.metaKey;
    if (!typing && !command && event.key === '?') {
      help = true;
    } else if (!typing && !command && event.key === 'w') {
      bench.selected = WORLD;
      bench.standIn = null;
    } else if (typing || command || event.altKey || !view) {
      return;
    } else if (event.key === '+' || event.key === '=') {
      view.frame = closer(view.frame, 1.5);
    } else if (event.key === '-') {
      view.frame = closer(view.frame, 1 / 1.5);
    } else if (event.key === '0') {
      view.frame = WHOLE;
    } else if (event.key === 'l') {
      view.loupe = !view.loupe;
    } else if (event.key === 'n') {
      view.toggle('tone');
    } else if (event.key === 'f') {
      view.toggle('fitted');
    } else if (event.key === 'h' && bench.plate) {
      view.togglePlate(bench.plate.id);
    } else if (event.key === ',' || event.key === '.') {
      const step = (event.key === ',' ? -1 : 1) / Math.max(bench.frames - 1, 1);
      bench.at = Math.min(Math.max(bench.at + step, 0), 1);
    } else if (event.key === 't') {
      const now = TABS.findIndex((t) => t.key === view?.tab);
      view.tab = TABS[(now + 1) % TABS.length]!.key;
    } else if (/^[1-9]$/.test(event.key)) {
      const plate = bench.plates[Number(event.key) - 1];
      if (plate) bench.selected = plate.id;
    }
  }
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
      tight
      crumbs={[
        { name: b.production.name, href: `/productions/${production}`, short: 'Board' },
        { name: `${b.shot.draft.number} ${b.shot.draft.title}` },
      ]}
    >
      <Rooms {production} {shot} />
      <div class="flex items-center gap-3" role="group" aria-label="Findings of all plates">
        {#each counts as { verdict, count } (verdict)}
          <span class="flex items-center gap-1" data-testid={`count-${verdict}`}>
            <VerdictMark {verdict} named={false} />
            <b class="inline-block min-w-[2ch]">{count}</b><span class="sr-only">{verdict}</span>
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
      <!-- Their place is kept while there is nothing to copy, so that the strip stands still. -->
      <div class={['flex items-center gap-2.5', !(b.plate && b.answer?.stage) && 'invisible']}>
        <button
          class="p-1"
          aria-label="Copy the numbers as text"
          title="Copy the numbers as text"
          onclick={copy}
        >
          {#if copied}<Check size={17} />{:else}<ClipboardCopy size={17} />{/if}
        </button>
        <a
          class="p-1"
          aria-label="Print the Bench, one page of A4"
          title="Print the Bench, one page of A4"
          target="_blank"
          href="/api/productions/{production}/shots/{shot}/bench.pdf?plate={b.selected}&at={b.moving
            ? b.at
            : 0}&{units.query}"><Printer size={17} /></a
        >
      </div>
      <button class="p-1" aria-label="Keys" title="Keys (?)" onclick={() => (help = true)}>?</button
      >
    </TopStrip>

    <main
      class="grid min-h-0 grow grid-cols-1 md:grid-cols-[13rem_minmax(0,1fr)] xl:grid-cols-[13rem_minmax(0,1fr)_22rem]"
    >
      <h1 class="sr-only">Shot {b.shot.draft.number}: {b.shot.draft.title}</h1>
      {#if view}<PlateList bench={b} {view} />{/if}

      <div class="relative flex min-h-0 min-w-0 flex-col xl:overflow-y-auto">
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
        {#if b.report && view && planner}
          {@const v = view}
          <section aria-label="Frame" class="flex min-h-0 flex-col xl:max-h-[47%] xl:shrink-0">
            <FrameBar
              view={v}
              air={(b.shot.draft.visibility_m ?? null) !== null}
              shadows={b.report.key !== null || (b.answer?.shadows.length ?? 0) > 0}
              fit={(b.answer?.whiskers.length ?? 0) > 0}
              marks={b.report.marks.length > 0}
            />
            <div class="min-h-0 grow" style:aspect-ratio={paperAspect(b.shot.draft)}>
              <FrameView
                widthPx={b.shot.draft.delivery_width_px ?? 1920}
                heightPx={b.shot.draft.delivery_height_px ?? 1080}
                world={b.report.world}
                plates={framed}
                {overlays}
                grips={b.report.grips}
                names={b.names}
                selectedPlate={b.selected === WORLD ? null : b.selected}
                selectedStandIn={b.standIn}
                editable={b.editable && (!b.moving || b.at === 0)}
                padding={b.shot.draft.padding ?? 0}
                keyLight={b.report.key}
                marks={v.layers.marks ? b.report.marks : []}
                shadows={b.answer?.shadows ?? []}
                tones={v.layers.tone ? tones : []}
                air={v.layers.air ? air : {}}
                layers={v.layers}
                look={v.frame}
                onlook={(look) => (v.frame = look)}
                loupe={v.loupe}
                onselect={(id) => (b.standIn = id)}
                onmove={(id, right, away) => b.drags.move(id, right, away)}
                ondrop={(id) => b.drags.drop(id)}
              />
            </div>
          </section>
          {#if b.moving}<Scrubber bench={b} />{/if}
          {#if !b.plate || !v.roomy}
            <section aria-label="Depth rail" class="border-line shrink-0 border-y">
              <DepthRail
                rail={b.answer?.rail ?? null}
                {things}
                plates={b.plates.map((p) => ({ id: p.id, name: p.draft.name }))}
                selectedPlate={b.selected === WORLD ? null : b.selected}
                selectedStandIn={b.standIn}
                editable={b.editable}
                span={v.span}
                onspan={(span) => (v.span = span)}
                onselect={(id) => (b.standIn = id)}
                onmove={(id, away) => b.drags.move(id, 0, away)}
                ondrop={(id) => b.drags.drop(id)}
                onshift={(id, away) => b.drags.shift(id, away)}
                onshifted={(id) => b.drags.shifted(id)}
                onfocus={(metres) => b.plate && b.drags.focus(b.plate, metres)}
                onfocused={() => b.plate && b.drags.focused(b.plate)}
                onfocusback={() => b.plate && b.change(b.plate, 'focus_world_m', null, 'Focus')}
              />
            </section>
          {/if}
          {#if b.plate}
            {#key b.plate.id}
              <Lower bench={b} view={v} {planner} record={b.plate} />
            {/key}
          {:else}
            <p class="text-soft max-w-prose p-4">
              This is the story's own world at full size. Drag the ochre feet in the picture, or the
              dots on the rail, to move things on the ground; choose a plate on the left to see its
              stage.
            </p>
            {#if b.plates.length === 0}
              <p class="px-4">
                No plates yet.
                <a class="underline" href="/productions/{production}/shots/{shot}/method"
                  >Choose how to build this shot</a
                >, or add a plate on the left.
              </p>
            {/if}
          {/if}
        {/if}
      </div>

      <aside
        aria-label="Sheet and findings"
        class="border-line bg-card flex min-h-0 flex-col border-l md:col-span-2 xl:col-span-1"
      >
        <div class="min-h-0 xl:basis-7/12 relative xl:overflow-y-auto {b.plate ? '' : 'grow'}">
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
            <div
              class="border-ink min-h-0 grow border-t-2 xl:basis-5/12 relative xl:overflow-y-auto"
            >
              <Findings
                bench={b}
                record={b.plate}
                findings={b.answer?.findings ?? []}
                unasked={b.answer?.unasked ?? []}
              />
            </div>
          {/key}
        {/if}
      </aside>
    </main>
  </div>
  <Clashes bench={b} />
  <Keys open={help} onclose={() => (help = false)} />
{:else}
  <TopStrip crumbs={[]} />
  <p class="text-soft p-8">Loading</p>
{/if}
