<script lang="ts">
  import { OpenShot } from '../../lib/shot/open-shot.svelte';
  import { isTyping } from '../../lib/edit/history.svelte';
  import { dropped } from '../../lib/pictures/groups';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import { route } from '../../router';
  import BlockPanel from './BlockPanel.svelte';
  import Film from './Film.svelte';
  import Finder, { type Over } from './Finder.svelte';
  import { Player } from './player.svelte';
  import Rebuild from './Rebuild.svelte';
  import Said from './Said.svelte';
  import { cameras, Device, Simulated, SIMULATED, type Choice, type Source } from './sources';
  import { Table } from './table.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  const plateId = $derived(route.params.plate ?? '');
  let bench = $state.raw<OpenShot | null>(null);
  let table = $state.raw<Table | null>(null);
  let player = $state.raw<Player | null>(null);
  let problem = $state('');

  $effect(() => {
    if (!production || !shot || !plateId) return;
    const opened = new OpenShot(production, shot);
    const own = new Table(production, plateId);
    const film = new Player((shown) => own.look(shown.block.id, shown.row.number));
    let left = false;
    problem = '';
    bench = null;
    table = null;
    Promise.all([opened.load(), own.load()])
      .then(() => {
        if (left) return;
        const plate = opened.allPlates.find((one) => one.id === plateId);
        opened.look(plate?.draft.view_id ?? null);
        opened.selected = plateId;
        bench = opened;
        table = own;
        player = film;
      })
      .catch((error: Error) => (problem = error.message));
    return () => {
      left = true;
      film.dispose();
      opened.dispose();
    };
  });
  // What the sheet asks follows what comes next.
  $effect(() => {
    const own = table;
    if (!own || own.next < 1) return;
    own.ask().catch((error: Error) => (own.problem = error.message));
  });
  // The planned outlines follow the frame of the next picture.
  $effect(() => {
    if (!bench || !outlined) return;
    const shown = table?.inHand ? table.told?.asked : table?.asked;
    const frame = shown?.frame ?? 1;
    bench.at = bench.frames > 1 ? (frame - 1) / (bench.frames - 1) : 0;
    bench.question();
    void bench.compute();
  });

  let choices = $state.raw<Choice[]>([]);
  let chosen = $state('');
  let source = $state.raw<Source | null>(null);
  let trouble = $state('');
  /** The button that takes: what is in hand once a camera is chosen. */
  let taker = $state<HTMLButtonElement>();
  let knock = $state(false);
  let light = $state(false);
  let forgot = $state(false);
  async function look() {
    choices = await cameras().catch(() => []);
  }
  $effect(() => {
    void look();
    navigator.mediaDevices?.addEventListener?.('devicechange', look);
    return () => navigator.mediaDevices?.removeEventListener?.('devicechange', look);
  });
  $effect(() => {
    const key = chosen;
    const own = table;
    trouble = '';
    if (!own || !key) return;
    const told = (sentence: string) => (trouble = sentence);
    const opened: Source =
      key === SIMULATED
        ? new Simulated(
            `${own.path}/plates/${plateId}/finder/look`,
            () => own.next,
            () => own.block?.width_px || own.continues?.block.width_px || 0,
            () => ({ knock, light, forgot }),
            told,
          )
        : new Device(key === 'any' ? '' : key, told);
    let left = false;
    opened
      .start()
      .then(() => {
        if (left) return opened.stop();
        source = opened;
        void look();
      })
      .catch((error: Error) => told(error.message));
    return () => {
      left = true;
      opened.stop();
      source = null;
    };
  });

  let over = $state<Over>('ghosts');
  let ghosts = $state(1);
  let strength = $state(0.4);
  let grid = $state(false);
  let outlined = $state(false);
  const OVERS: { value: Over; name: string }[] = [
    { value: 'plain', name: 'As it is' },
    { value: 'ghosts', name: 'Ghosts' },
    { value: 'difference', name: 'Difference' },
    { value: 'blink', name: 'Blink' },
  ];
  const delivery = $derived(bench?.shot.draft);
  const answer = $derived(outlined ? bench?.answer : null);
  const editable = $derived(bench?.editable ?? false);

  const label = $derived.by(() => {
    if (!table) return '';
    if (table.busy) return 'Keeping…';
    return table.aim.kind === 'instead' ? `Take ${table.next} again` : `Take picture ${table.next}`;
  });

  async function take() {
    if (!table || !source || !editable) return;
    player?.hold();
    await table.choose(null);
    await table.take(source, chosen === SIMULATED);
    forgot = false;
    light = false;
  }
  function play() {
    if (!table?.all || !player) return;
    if (player.playing) return player.hold();
    void table.choose(null);
    const { taken, frames, fps } = table.all;
    void player.play(table.film, taken, frames, fps);
  }
  function drop() {
    const shown = table?.inHand;
    if (table && shown && editable) void table.drop(shown);
  }
  function keys(event: KeyboardEvent) {
    if (!table || table.history.take(event) || isTyping(event)) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const on = event.target as HTMLElement;
    const does: Record<string, () => void> = {
      ' ': () => void take(),
      p: play,
      ArrowLeft: () => void table?.step(-1),
      ArrowRight: () => void table?.step(1),
      Delete: drop,
      Backspace: drop,
      Escape: () => {
        player?.hold();
        void table?.choose(null);
      },
      g: () => (over = over === 'ghosts' ? 'plain' : 'ghosts'),
      d: () => (over = over === 'difference' ? 'plain' : 'difference'),
      b: () => (over = over === 'blink' ? 'plain' : 'blink'),
    };
    const one = does[event.key];
    if (!one || (on.matches?.('input[type=range]') && event.key.startsWith('Arrow'))) return;
    // Space presses the button in hand only where that is another than the one that takes.
    if (event.key === ' ' && on.matches?.('button:not([data-take]), a, input, summary')) return;
    event.preventDefault();
    if (event.repeat && event.key === ' ') return;
    one();
  }
  /** A box ticked with a pointer hands Space back to the button that takes. */
  function handBack(event: MouseEvent) {
    if (event.detail > 0) taker?.focus();
  }
  let hovered = $state(false);
  async function drag(event: DragEvent) {
    event.preventDefault();
    hovered = false;
    const files = event.dataTransfer ? await dropped(event.dataTransfer) : [];
    if (files.length && editable) await table?.files(files);
  }
</script>

<svelte:window
  onkeydown={keys}
  onbeforeunload={(event) => table && (table.busy || table.unsent.length) && event.preventDefault()}
/>
<svelte:head>
  <title>{bench ? `Camera: ${bench.shot.draft.number}` : 'Camera'} · Jungoptic</title>
</svelte:head>

{#if problem}
  <TopStrip crumbs={[]} />
  <main class="p-8"><p role="alert">{problem}</p></main>
{:else if bench && table?.all && player && delivery}
  {@const t = table}
  {@const film = player}
  {@const b = bench}
  <div class="flex min-h-dvh flex-col lg:h-dvh">
    <TopStrip
      crumbs={[
        { name: b.production.name, href: `/productions/${production}` },
        { name: `${b.shot.draft.number} ${b.shot.draft.title}` },
      ]}
    >
      <Rooms {production} {shot} here="frames" />
      {#if editable}
        <UndoRedo
          undo={t.history.canUndo ? t.history.undoLabel : null}
          redo={t.history.canRedo ? t.history.redoLabel : null}
          onundo={() => t.history.undo()}
          onredo={() => t.history.redo()}
        />
      {/if}
    </TopStrip>
    <main
      class="grid min-h-0 grow grid-cols-1 lg:grid-cols-[13rem_minmax(0,1fr)]"
      data-testid="camera-room"
    >
      <div class="border-line flex min-h-0 flex-col border-r max-lg:order-last">
        <div class="border-line border-b px-2 py-1">
          <h1 class="font-semibold">
            <span class="sr-only">Taking pictures of shot {b.shot.draft.number}: </span>
            {b.plate?.draft.name ?? 'Plate'}
          </h1>
          <p class="text-sm">
            {t.film.length} of {t.all?.taken.length ?? 0} taken ·
            <a
              class="underline"
              href="/productions/{production}/shots/{shot}/frames?plate={plateId}">its sheet</a
            >
          </p>
        </div>
        <Film table={t} />
      </div>
      <div
        class={['flex min-h-0 min-w-0 flex-col', hovered && 'bg-well']}
        role="group"
        aria-label="The camera"
        ondragover={(event) => {
          event.preventDefault();
          hovered = true;
        }}
        ondragleave={() => (hovered = false)}
        ondrop={(event) => void drag(event)}
      >
        <div class="border-line flex flex-wrap items-center gap-x-4 gap-y-1 border-b px-2 py-1">
          <label class="flex items-center gap-1 text-sm"
            >Camera
            <select
              class="field w-44! min-h-8! py-0!"
              bind:value={chosen}
              onchange={() => taker?.focus()}
            >
              <option value="">choose…</option>
              <option value={SIMULATED}>the simulated one</option>
              {#each choices as one, i (one.key || i)}
                <option value={one.key || 'any'}>{one.name}</option>
              {/each}
              {#if choices.length === 0}<option value="any">at this machine</option>{/if}
            </select></label
          >
          <span class="flex" role="group" aria-label="What is laid over the live picture">
            {#each OVERS as one (one.value)}
              <button
                class={['btn min-h-8! py-0!', over === one.value && 'btn-main']}
                aria-pressed={over === one.value}
                onclick={() => (over = one.value)}>{one.name}</button
              >
            {/each}
          </span>
          {#if over === 'ghosts'}
            <label class="flex items-center gap-1 text-sm"
              >of
              <select class="field w-auto! min-h-8! py-0!" bind:value={ghosts}>
                {#each [1, 2, 3, 5] as one (one)}<option value={one}>{one}</option>{/each}
              </select>
              <input
                type="range"
                min="0.1"
                max="0.9"
                step="0.05"
                class="w-20"
                aria-label="Strength of the ghosts"
                bind:value={strength}
              /></label
            >
          {/if}
          <label class="flex items-center gap-1 text-sm"
            ><input type="checkbox" bind:checked={grid} />thirds</label
          >
          <label class="flex items-center gap-1 text-sm"
            ><input type="checkbox" bind:checked={outlined} />as planned</label
          >
        </div>
        {#if trouble}<p role="alert" class="bg-well p-2 font-semibold">{trouble}</p>{/if}
        {#if t.problem}<p role="alert" class="bg-well p-2 font-semibold">
            {t.problem}
            {#if t.unsent.length && !t.busy}
              <button class="underline" onclick={() => void t.goOn()}
                >{t.unsent.length === 1
                  ? 'Keep it'
                  : `Go on with ${t.unsent.length} pictures`}</button
              >
              <button
                class="underline"
                onclick={() => {
                  t.unsent = [];
                  t.problem = '';
                }}>Leave {t.unsent.length === 1 ? 'it' : 'them'}</button
              >
            {:else}
              <button class="underline" onclick={() => (t.problem = '')}>Understood</button>
            {/if}
          </p>{/if}
        {#if t.all?.trouble}<p role="alert" class="bg-well p-2 font-semibold">
            Its sheet cannot be computed, so nothing is asked by it: {t.all.trouble}
          </p>{/if}
        {#if t.notice}<p role="alert" class="bg-well p-2 font-semibold">
            {t.notice} <button class="underline" onclick={() => (t.notice = '')}>Understood</button>
          </p>{/if}
        <div class="bg-well flex min-h-60 grow items-center justify-center p-2">
          {#if source || t.inHand || film.playing}
            <Finder
              table={t}
              player={film}
              {source}
              {over}
              {ghosts}
              {strength}
              {grid}
              outlines={(answer?.filmed ?? answer?.picture)?.outlines ?? []}
              widthPx={answer?.filmed?.width_px ?? delivery.delivery_width_px ?? 1920}
              heightPx={answer?.filmed?.height_px ?? delivery.delivery_height_px ?? 1080}
              places={(t.inHand ? t.told?.told?.changed : []) ?? []}
            />
          {:else}
            <div class="max-w-prose">
              <h2 class="text-lg">No camera looks yet</h2>
              <p>
                Choose one above. The simulated camera shows this plate as it is planned, posed as
                its sheet says: a place to try how taking works before the table is built. Or drop
                the numbered files of a camera's card here.
              </p>
            </div>
          {/if}
        </div>
        <div class="border-line flex flex-wrap items-center gap-2 border-t px-2 py-1.5">
          {#if editable}
            <button
              bind:this={taker}
              class={['btn btn-main min-h-11 px-6!', (!source || t.busy) && 'opacity-50']}
              data-take
              aria-disabled={!source || t.busy}
              title="Space"
              onclick={() => void take()}
            >
              {label}</button
            >
          {/if}
          <button class="btn" title="p" disabled={t.film.length === 0} onclick={play}
            >{film.playing ? 'Hold' : 'Play'}</button
          >
          {#if t.inHand && editable}
            {@const shown = t.inHand}
            <button
              class="btn"
              onclick={() => {
                t.blockId = shown.block.id;
                t.aim = { kind: 'instead', number: shown.row.number };
                void t.choose(null);
              }}>Take it again</button
            >
            <button
              class="btn"
              onclick={() => {
                t.blockId = shown.block.id;
                t.aim = { kind: 'after', number: shown.row.number };
                void t.choose(null);
              }}>Put one in behind</button
            >
            <button class="btn" title="Delete" onclick={drop}>Drop it</button>
            {#if shown.block.reference !== shown.row.number}
              <button class="btn" onclick={() => void t.compare(shown.block, shown.row.number)}
                >Compare the block with it</button
              >
            {/if}
          {/if}
          {#if t.inHand}
            <button class="btn" title="Escape" onclick={() => void t.choose(null)}>Live</button>
          {/if}
          {#if t.card}
            <span class="flex items-center gap-2" role="status">
              <progress max={t.card.of} value={t.card.done}></progress>
              {t.card.done} of {t.card.of} files
              <button class="btn" onclick={() => t.stop()}>Stop</button>
            </span>
          {:else if editable}
            <label class="btn ml-auto"
              >Files of a card<input
                type="file"
                multiple
                class="sr-only"
                aria-label="Files of a camera's card"
                onchange={(event) => {
                  const files = [...(event.currentTarget.files ?? [])];
                  event.currentTarget.value = '';
                  if (files.length) void t.files(files);
                }}
              /></label
            >
          {/if}
          {#if chosen === SIMULATED && editable}
            <fieldset class="flex w-full flex-wrap items-center gap-x-3 text-sm">
              <legend class="sr-only">What goes wrong with the simulated camera</legend>
              <span class="text-soft" aria-hidden="true">In the simulation, try:</span>
              <label class="flex items-center gap-1"
                ><input type="checkbox" bind:checked={knock} onclick={handBack} />knock the camera</label
              >
              <label class="flex items-center gap-1"
                ><input type="checkbox" bind:checked={light} onclick={handBack} />a flicker of the
                lamps</label
              >
              <label class="flex items-center gap-1"
                ><input type="checkbox" bind:checked={forgot} onclick={handBack} />forget the move</label
              >
            </fieldset>
          {/if}
        </div>
        <div
          class="border-line bg-card grid shrink-0 border-t md:grid-cols-3 lg:h-58 lg:overflow-y-auto"
        >
          <Said table={t}>
            {#if t.continues && editable}<Rebuild table={t} {source} then={t.continues} />{/if}
          </Said>
          <BlockPanel table={t} {editable} />
        </div>
        <p class="text-soft border-line border-t px-2 py-0.5 text-xs">
          Space takes · ← → through the film · P plays · G ghosts · D difference · B blinks · Delete
          drops · Escape back to the live picture
        </p>
      </div>
    </main>
  </div>
{:else}
  <TopStrip crumbs={[]} />
  <p class="p-8" role="status">Opening the table…</p>
{/if}
