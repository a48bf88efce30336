<script lang="ts">
  import { isTyping } from '../../lib/edit/history.svelte';
  import type { Verdict } from '../../lib/api/client';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';
  import { route } from '../../router';
  import ViewChoice from '../../lib/shot/ViewChoice.svelte';
  import Annotate from './Annotate.svelte';
  import { LOOKS } from './looks';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { Sketches, type Layer, type Mark } from './sketches.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  /** The view that is drawn next. */
  let drawn = $state<string | null>(null);
  let room = $state.raw<Sketches | null>(null);
  let problem = $state('');
  let tool = $state<Layer | null>(null);
  let easel = $state<Annotate | null>(null);
  let removing = $state(false);
  /** Where a text or number of the chosen mark began, for undo. */
  let before: Record<string, unknown> = {};

  $effect(() => {
    if (!production || !shot) return;
    const opened = new Sketches(production, shot);
    room = null;
    problem = '';
    opened
      .load()
      .then(() => (room = opened))
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });

  function choose(layer: Layer | null) {
    easel?.finish();
    tool = layer;
    if (room && layer) room.hidden = room.hidden.filter((l) => l !== layer);
  }
  function key(event: KeyboardEvent) {
    if (!room || isTyping(event) || room.history.take(event)) return;
    const command = event.ctrlKey || event.metaKey;
    if (event.key === 'Enter' && tool) {
      event.preventDefault();
      easel?.finish();
    } else if (event.key === 'Escape') {
      if (easel && easel.pending() > 0) easel.cancel();
      else choose(null);
    } else if (!command && /^[1-7]$/.test(event.key) && room.editable) {
      choose((Object.keys(LOOKS) as Layer[])[Number(event.key) - 1] ?? null);
    }
  }
  function live(
    mark: SavedRecord<Mark>,
    field: 'name' | 'note' | 'distance_m' | 'height_m',
    value: string | number | null,
  ) {
    if (!(field in before)) before[field] = mark.draft[field];
    mark.set(field, value);
  }
  function commit(mark: SavedRecord<Mark>) {
    for (const [field, from] of Object.entries(before)) {
      const name = field as 'name';
      room?.change(mark, name, mark.draft[name], from as string);
    }
    before = {};
  }
  const known = {
    planned: 'Its camera is the planned one, so crossings are said in metres and degrees.',
    thing:
      'Its camera is worked out from the thing of known distance and height, held about level.',
    no: 'Its camera is not known: give one reference point or hold-out its distance and height.',
  };
</script>

<svelte:window onkeydown={key} />
<svelte:head><title>Sketches · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={room
    ? [
        { name: room.about.name, href: `/productions/${production}` },
        {
          name: `${room.page.number} ${room.page.title}`,
          href: `/productions/${production}/shots/${shot}`,
        },
        { name: 'Sketches' },
      ]
    : []}
>
  {#if shot}<Rooms {production} {shot} here="sketches" />{/if}
  <SavedMark />
  <UndoRedo
    undo={room?.history.canUndo ? room.history.undoLabel : null}
    redo={room?.history.canRedo ? room.history.redoLabel : null}
    onundo={() => room?.history.undo()}
    onredo={() => room?.history.redo()}
  />
</TopStrip>
{#if problem}
  <main class="p-6"><p role="alert" class="font-semibold">{problem}</p></main>
{:else if room}
  {@const r = room}
  <main class="grid gap-3 p-3 xl:grid-cols-[minmax(0,1fr)_22rem]">
    <h1 class="sr-only">Sketches of shot {r.page.number}</h1>
    <div class="min-w-0">
      <div class="flex flex-wrap items-center gap-2">
        {#each r.page.sketches as sketch (sketch.id)}
          <button
            class={['border-2', r.open?.id === sketch.id ? 'border-ochre' : 'border-line']}
            aria-pressed={r.open?.id === sketch.id}
            title={sketch.title}
            onclick={() => r.show(r.page.sketches.find((s) => s.id === sketch.id) ?? null)}
          >
            <img
              class="paper h-12 w-20 object-cover"
              src="/api/productions/{production}/sketches/{sketch.id}/picture?size=thumb&r={sketch.revision}"
              alt={sketch.title}
            />
          </button>
        {/each}
        {#if r.editable}
          <label class="btn">
            Add a picture
            <input
              id="sketch-file"
              type="file"
              class="sr-only"
              accept="image/png,image/jpeg,image/webp"
              multiple
              onchange={(event) => {
                const files = [...(event.currentTarget.files ?? [])];
                event.currentTarget.value = '';
                void r.upload(files);
              }}
            />
          </label>
          <ViewChoice views={r.page.views} value={drawn} onchange={(id) => (drawn = id)} />
          <button class="btn" onclick={() => r.draw(drawn)}>Draw from the Frame</button>
        {/if}
        {#if r.page.sketches.length > 0}
          {@const pdf = `/api/productions/${production}/shots/${shot}/sketches.pdf`}
          <span class="ml-auto flex gap-3 text-sm">
            <a class="underline" href="{pdf}?marks=true" target="_blank">PDF with marks</a>
            <a class="underline" href="{pdf}?marks=false" target="_blank">PDF clean</a>
          </span>
        {/if}
        {#if r.busy}<span role="status" class="text-soft">{r.busy} …</span>{/if}
      </div>
      {#if r.notice}
        <p role="alert" class="bg-well mt-2 flex justify-between p-2 font-semibold">
          {r.notice}
          <button class="underline" onclick={() => (r.notice = '')}>Understood</button>
        </p>
      {/if}
      {#if r.open}
        {#if r.open.draft.stale}
          <p class="bg-well mt-2 flex items-center justify-between gap-2 p-2">
            The world camera has changed since this was drawn.
            {#if r.editable}<button class="btn" onclick={() => r.redraw()}>Draw it again</button
              >{/if}
          </p>
        {/if}
        {#if r.editable}
          <div class="mt-2 flex flex-wrap gap-1" role="toolbar" aria-label="Draw on a layer">
            <button
              class={['btn', tool === null ? 'btn-main' : '']}
              aria-pressed={tool === null}
              onclick={() => choose(null)}>Pick and move</button
            >
            {#each r.page.layers as layer, i (layer.key)}
              <button
                class={['btn', tool === layer.key ? 'btn-main' : '']}
                aria-pressed={tool === layer.key}
                title={`${layer.meaning} (${i + 1})`}
                onclick={() => choose(layer.key as Layer)}
              >
                <svg width="20" height="8" aria-hidden="true"
                  ><path
                    d="M0 4h20"
                    stroke={tool === layer.key ? 'currentColor' : LOOKS[layer.key as Layer].colour}
                    stroke-width={LOOKS[layer.key as Layer].width}
                    stroke-dasharray={LOOKS[layer.key as Layer].dash === '22 6'
                      ? '8 3'
                      : LOOKS[layer.key as Layer].dash}
                  /></svg
                >
                {layer.name}
              </button>
            {/each}
            {#if tool}
              <button class="btn" onclick={() => easel?.finish()}>Finish the mark (Enter)</button>
            {/if}
          </div>
        {/if}
        <div class="mt-2"><Annotate bind:this={easel} room={r} {tool} looks={LOOKS} /></div>
        <p class="text-soft mt-1 text-sm">
          {#if tool}
            {LOOKS[tool].name}: {r.page.layers.find((l) => l.key === tool)?.meaning}. Click from
            point to point; double click, or Enter, ends it.
          {:else}
            {r.report ? known[r.report.camera_known] : ''} Drag a mark or its points; double click a line
            for one more point.
          {/if}
        </p>
      {:else}
        <div class="bg-card border-line mt-3 max-w-prose border p-4">
          <p class="font-semibold">No pictures yet.</p>
          <p class="mt-1">
            Photograph the place or the board, or draw what the world camera sees. Then draw the
            lines that matter: where the real set ends, who walks where, what must be taken out. The
            crossings are found for you.
          </p>
        </div>
      {/if}
    </div>
    {#if r.open}
      {@const o = r.open}
      <aside class="grid content-start gap-3">
        <section aria-label="What the marks say">
          <h2 class="font-semibold">What the marks say</h2>
          {#if r.report && r.report.findings.length === 0}
            <p class="text-soft text-sm">
              {r.marks.length === 0 ? 'No marks yet.' : 'Nothing crosses anything.'}
            </p>
          {/if}
          <ul class="grid gap-2 text-sm">
            {#each r.report?.findings ?? [] as finding (finding.key)}
              <li
                class="border-line border-b pb-1"
                data-finding={finding.key}
                data-verdict={finding.verdict}
              >
                <p class="flex items-start gap-2">
                  <VerdictMark verdict={finding.verdict as Verdict} />
                  <span>
                    {finding.sentence}
                    {#if (finding.workings ?? []).length > 0}
                      <WorkingCard workings={finding.workings ?? []} />
                    {/if}
                  </span>
                </p>
                {#each finding.remedies ?? [] as remedy (remedy.sentence)}
                  <p class="pl-7"><b>{remedy.sentence}</b> {remedy.effect}</p>
                {/each}
              </li>
            {/each}
          </ul>
        </section>
        <section aria-label="Notes beside the picture">
          <h2 class="font-semibold">Marks and notes</h2>
          <ol class="text-sm">
            {#each r.marks as mark, i (mark.id)}
              <li>
                <button
                  class={['w-full p-1 text-left', r.selected === mark.id ? 'bg-well' : '']}
                  aria-pressed={r.selected === mark.id}
                  onclick={() => (r.selected = r.selected === mark.id ? null : mark.id)}
                >
                  <b>{i + 1}. {mark.draft.name || LOOKS[mark.draft.layer].name}</b>
                  {#if mark.draft.name}<span class="text-soft">{LOOKS[mark.draft.layer].name}</span
                    >{/if}
                  {#if mark.draft.note}<span class="text-soft block">{mark.draft.note}</span>{/if}
                </button>
              </li>
            {/each}
          </ol>
          {#if r.chosen}
            {@const mark = r.chosen}
            {#key mark.id}
              <div class="bg-card border-line mt-1 border p-2" data-testid="mark-sheet">
                <TextField
                  label="Name"
                  value={mark.draft.name ?? ''}
                  disabled={!r.editable}
                  problem={mark.problems['name'] ?? ''}
                  onlive={(v) => live(mark, 'name', v)}
                  oncommit={() => commit(mark)}
                />
                <NumberField
                  label="Distance"
                  kind="length"
                  nullable
                  value={mark.draft.distance_m ?? null}
                  disabled={!r.editable}
                  problem={mark.problems['distance_m'] ?? ''}
                  onlive={(v) => live(mark, 'distance_m', v)}
                  oncommit={() => commit(mark)}
                />
                <NumberField
                  label="Height of the thing"
                  kind="length"
                  nullable
                  value={mark.draft.height_m ?? null}
                  disabled={!r.editable}
                  problem={mark.problems['height_m'] ?? ''}
                  onlive={(v) => live(mark, 'height_m', v)}
                  oncommit={() => commit(mark)}
                />
                <TextField
                  label="Note"
                  rows={2}
                  value={mark.draft.note ?? ''}
                  disabled={!r.editable}
                  problem={mark.problems['note'] ?? ''}
                  onlive={(v) => live(mark, 'note', v)}
                  oncommit={() => commit(mark)}
                />
                {#if r.editable}
                  <button class="btn mt-1" onclick={() => r.remove(mark)}>Remove this mark</button>
                {/if}
              </div>
            {/key}
          {/if}
        </section>
        <section aria-label="Layers" class="text-sm">
          <h2 class="font-semibold">Layers shown</h2>
          <div class="grid grid-cols-2">
            {#each r.page.layers as layer (layer.key)}
              <label class="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={!r.hidden.includes(layer.key as Layer)}
                  onchange={(event) =>
                    (r.hidden = event.currentTarget.checked
                      ? r.hidden.filter((l) => l !== layer.key)
                      : [...r.hidden, layer.key as Layer])}
                />
                {layer.name}
              </label>
            {/each}
          </div>
        </section>
        <section aria-label="The picture" class="text-sm">
          <h2 class="font-semibold">The picture</h2>
          <TextField
            label="Title"
            value={o.draft.title}
            disabled={!r.editable}
            problem={o.problems['title'] ?? ''}
            onlive={(v) => o.set('title', v)}
            oncommit={() => void o.commit()}
          />
          <TextField
            label="Note"
            rows={2}
            value={o.draft.note ?? ''}
            disabled={!r.editable}
            problem={o.problems['note'] ?? ''}
            onlive={(v) => o.set('note', v)}
            oncommit={() => void o.commit()}
          />
          <label class="mt-1 flex items-center gap-1.5">
            <input
              type="checkbox"
              disabled={!r.editable || o.draft.drawn}
              checked={o.draft.planned}
              onchange={(event) => {
                o.set('planned', event.currentTarget.checked);
                void o.commit();
              }}
            />
            It shows exactly what the world camera sees
          </label>
          {#if r.editable}
            <button class="btn mt-2" onclick={() => (removing = true)}>Remove the picture</button>
          {/if}
        </section>
      </aside>
    {/if}
  </main>
  {#if r.open}<ClashDialog record={r.open} name="this picture" />{/if}
  {#each r.marks as mark (mark.id)}<ClashDialog record={mark} name="this mark" />{/each}
  <Modal
    open={removing}
    title="Remove this picture?"
    description={`Its ${r.marks.length} marks go with it. This cannot be undone.`}
    onclose={() => (removing = false)}
  >
    <div class="flex justify-end gap-2">
      <button class="btn" onclick={() => (removing = false)}>Keep it</button>
      <button
        class="btn btn-main"
        onclick={() => {
          removing = false;
          void r.removeSketch();
        }}>Remove it</button
      >
    </div>
  </Modal>
{:else}<p class="text-soft p-6">Loading</p>{/if}
