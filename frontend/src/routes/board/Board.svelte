<script lang="ts">
  import Aperture from '@lucide/svelte/icons/aperture';
  import { tick } from 'svelte';
  import { Failure } from '../../lib/api/client';
  import { isTyping, turnOf } from '../../lib/edit/history.svelte';
  import { hours, KINDS } from '../../lib/kinds';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import { navigate, route } from '../../router';
  import { Board } from './board.svelte';
  import BoardRow from './BoardRow.svelte';
  import ChosenBar from './ChosenBar.svelte';
  import { distinct, filtered, landing, NO_FILTER, TROUBLES } from './filter';
  import InAndOut from './InAndOut.svelte';
  import { SeenRows } from './seen.svelte';
  import { shownFirst } from './shown.svelte';

  const production = $derived(route.params.production ?? '');
  let board = $state.raw<Board | null>(null);
  let problem = $state('');
  let number = $state('');
  let title = $state('');
  let making = $state('');
  let help = $state(false);
  let search = $state<HTMLInputElement | null>(null);
  let list = $state<HTMLOListElement | null>(null);
  const near = new SeenRows();
  $effect(() => () => near.dispose());
  /** While rows are dragged: what moves, and before which shot it would land. */
  let drag = $state<{ ids: string[]; before: string | null } | null>(null);

  $effect(() => {
    if (!production) return;
    const opened = new Board(production);
    board = null;
    problem = '';
    opened
      .load()
      .then(() => {
        board = opened;
        number = nextNumber(opened);
      })
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });

  const nextNumber = (b: Board) =>
    String(Math.max(0, ...b.rows.map((row) => parseInt(row.number) || 0)) + 1);
  const shown = $derived(board?.shown ?? []);
  const full = $derived(
    Math.max(1, ...(board?.rows ?? []).flatMap((r) => [r.set_hours.high, r.post_hours.high])),
  );
  const sums = $derived({
    set: shown.reduce((sum, row) => sum + row.set_hours.likely, 0),
    post: shown.reduce((sum, row) => sum + row.post_hours.likely, 0),
    time: shown.reduce((sum, row) => sum + row.screen_time_s, 0),
  });
  const days = $derived(
    distinct((board?.rows ?? []).flatMap((r) => r.plates.map((p) => p.film_on ?? 'none'))),
  );

  async function make(event: SubmitEvent) {
    event.preventDefault();
    if (!board) return;
    making = '';
    try {
      await board.add(number, title);
      title = '';
      number = nextNumber(board);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      making =
        Object.entries(error.fields)
          .map(([field, words]) => `${field} ${words}`)
          .join('; ') || error.message;
    }
  }

  async function focusRow(id: string | null) {
    if (!board || !id) return;
    board.at = id;
    near.show(id);
    await tick();
    list?.querySelector<HTMLElement>(`[data-row-link="${id}"]`)?.focus();
  }

  function key(event: KeyboardEvent) {
    if (!board || help) return;
    const target = event.target as HTMLElement;
    const command = event.ctrlKey || event.metaKey;
    const turn = turnOf(event);
    if (turn) {
      event.preventDefault();
      void board[turn]();
      return;
    }
    if (isTyping(event) || target.closest('[role=dialog],[role=menu]')) return;
    if (event.key === '/' && !command) {
      event.preventDefault();
      search?.focus();
      return;
    }
    if (event.key === '?') {
      help = true;
      return;
    }
    const ids = shown.map((row) => row.id);
    const place = board.at ? ids.indexOf(board.at) : -1;
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const down = event.key === 'ArrowDown';
      if (event.altKey && board.editable) {
        const at = board.at;
        void Promise.resolve(board.nudge(down)).then(() => focusRow(at));
      } else {
        const next = ids[Math.min(Math.max(place + (down ? 1 : -1), 0), ids.length - 1)];
        if (event.shiftKey && next) board.chosen.add(next);
        void focusRow(next ?? null);
      }
    } else if (event.key === ' ' && board.at && !target.closest('button,input')) {
      event.preventDefault();
      board.toggle(board.at);
    } else if (event.key === 'Escape') {
      board.chosen.clear();
    } else if (command && event.key.toLowerCase() === 'a') {
      event.preventDefault();
      board.chooseAll();
    } else if (!command && board.editable && board.targets.length > 0) {
      if (event.key === 'v') void board.duplicate();
      else if (event.key === 'Delete') void board.remove();
      else if (event.key === 'm' && board.at) {
        navigate('/productions/:production/shots/:shot/method', {
          params: { production, shot: board.at },
        });
      }
    }
  }

  function hold(event: PointerEvent, id: string) {
    const b = board;
    if (!b || !list) return;
    event.preventDefault();
    const ids = b.chosen.has(id) ? b.chosenRows.map((row) => row.id) : [id];
    drag = { ids, before: id };
    const follow = (e: PointerEvent) => {
      const rows = [...(list?.querySelectorAll<HTMLElement>('[data-shot]') ?? [])];
      const boxes = rows.map((row) => row.getBoundingClientRect());
      const before = landing(
        rows.map((row) => row.dataset['shot'] ?? ''),
        boxes.map((box) => box.top),
        boxes.map((box) => box.height),
        e.clientY,
      );
      drag = { ids, before };
    };
    const end = (e: PointerEvent) => {
      window.removeEventListener('pointermove', follow);
      window.removeEventListener('pointerup', end);
      window.removeEventListener('pointercancel', end);
      const landed = drag;
      drag = null;
      if (e.type === 'pointerup' && landed) void b.move(landed.ids, landed.before);
    };
    window.addEventListener('pointermove', follow);
    window.addEventListener('pointerup', end);
    window.addEventListener('pointercancel', end);
  }
</script>

<svelte:window onkeydown={key} />
<svelte:head><title>{board?.about?.name ?? 'Board'} · Jungoptic</title></svelte:head>
<TopStrip crumbs={board?.about ? [{ name: board.about.name }] : []}>
  {#if production}<Rooms {production} />{/if}
  {#if board?.editable ?? true}
    <SavedMark />
    <UndoRedo
      undo={board?.steps.undo?.label ?? null}
      redo={board?.steps.redo?.label ?? null}
      onundo={() => board?.undo()}
      onredo={() => board?.redo()}
    />
  {/if}
  <button class="p-1.5" aria-label="Keys" title="Keys (?)" onclick={() => (help = true)}>?</button>
</TopStrip>
<main class="mx-auto max-w-[100rem] p-3 md:p-4">
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if board?.about}
    {@const b = board}
    <h1 class="sr-only">{b.about?.name}: Board</h1>
    <div class="flex flex-wrap items-center gap-2">
      <h2 class="mr-1 text-lg whitespace-nowrap">Shots in story order</h2>
      <input
        id="board-search"
        bind:this={search}
        class="field w-32!"
        type="search"
        placeholder="Search (/)"
        aria-label="Search the shots"
        bind:value={b.filter.words}
      />
      <select id="f-place" class="field w-[7.1rem]!" aria-label="Place" bind:value={b.filter.place}>
        <option value="">any place</option>
        {#each distinct(b.rows.map((r) => r.place)) as place (place)}<option>{place}</option>{/each}
      </select>
      <select
        id="f-day"
        class="field w-[7.1rem]!"
        aria-label="Day of filming"
        bind:value={b.filter.day}
      >
        <option value="">any day</option>
        {#each days as day (day)}
          <option value={day}>{day === 'none' ? 'no day yet' : day}</option>
        {/each}
      </select>
      <select
        id="f-kind"
        class="field w-[7.1rem]!"
        aria-label="Kind of plate"
        bind:value={b.filter.kind}
      >
        <option value="">any plate</option>
        {#each Object.entries(KINDS) as [kind, { short }] (kind)}
          <option value={kind}>{short}</option>
        {/each}
      </select>
      <select
        id="f-recipe"
        class="field w-[7.1rem]!"
        aria-label="Recipe"
        bind:value={b.filter.recipe}
      >
        <option value="">any recipe</option>
        {#each distinct(b.rows.flatMap((r) => r.recipes.map((x) => x.key))) as recipe (recipe)}
          <option value={recipe}>
            {b.rows.flatMap((r) => r.recipes).find((x) => x.key === recipe)?.name}
          </option>
        {/each}
      </select>
      <select
        id="f-trouble"
        class="field w-[7.1rem]!"
        aria-label="Trouble"
        bind:value={b.filter.trouble}
      >
        <option value="">trouble?</option>
        {#each TROUBLES as { value, name } (value)}<option {value}>{name}</option>{/each}
      </select>
      {#if filtered(b.filter)}
        <button class="btn" onclick={() => (b.filter = { ...NO_FILTER })}>Show all</button>
      {/if}
      <span class="text-soft ml-auto text-sm" data-testid="board-sums">
        {shown.length}
        {shown.length === 1 ? 'shot' : 'shots'}{shown.length < b.rows.length
          ? ` of ${b.rows.length}`
          : ''} · {sums.time.toFixed(0)} s · set {hours(sums.set)} · post {hours(sums.post)}
      </span>
      <button
        class={['btn px-2!', shownFirst.current === 'developed' && 'btn-main']}
        aria-label="Developed pictures"
        aria-pressed={shownFirst.current === 'developed'}
        title="Show what the simulated camera makes of a shot, where that was made, in place of its sketch"
        onclick={() => shownFirst.toggle()}><Aperture size={18} /></button
      >
      <InAndOut {production} editable={b.editable} onprint={() => void b.paper.ask()} />
    </div>
    <JobLine work={b.paper} fileSays="Open the breakdown" />
    <JobLine work={b.copies} />
    {#if b.notice}
      <p role="alert" class="bg-well mt-2 flex justify-between p-2 font-semibold">
        {b.notice}
        <button class="underline" onclick={() => (b.notice = '')}>Understood</button>
      </p>
    {/if}
    {#if b.editable && b.chosen.size > 0}<ChosenBar board={b} />{/if}
    <Modal
      open={b.asking !== null}
      title="Set cards and takes go with it"
      description={`${b.asking?.length === 1 ? 'This shot has' : 'These shots have'} set cards issued, or takes. Undo fetches everything back.`}
      onclose={() => (b.asking = null)}
    >
      <ul class="list-disc pl-5">
        {#each b.asking ?? [] as row (row.id)}
          <li>
            {row.number}
            {row.title}{row.plates.some((plate) => plate.step > 2) ? ': has been filmed' : ''}
          </li>
        {/each}
      </ul>
      <div class="mt-4 flex flex-wrap gap-3">
        <button class="btn btn-main" onclick={() => (b.asking = null)}>Keep</button>
        <button class="btn" onclick={() => b.removeNow()}>Remove all the same</button>
      </div>
    </Modal>
    {#if b.rows.length === 0}
      <div class="bg-card border-line mt-4 max-w-prose border p-4">
        <p class="font-semibold">No shots yet.</p>
        <p class="mt-1">
          Begin with the script: one line for each picture the audience sees. Then choose how to
          build each one; the plates that are needed, and their numbers, follow from that.
        </p>
        <p class="mt-1">
          A shot list from a spreadsheet or an edit list (.otio, .edl) can be
          <a class="underline" href="/productions/{production}/import">brought in</a>.
        </p>
      </div>
    {:else if shown.length === 0}
      <p class="text-soft mt-4">No shot is like that. Show all, or look for something else.</p>
    {/if}
    <ol class="border-line mt-2 border-x border-t empty:hidden" bind:this={list} aria-label="Shots">
      {#each shown as row, place (row.id)}
        {#if drag && drag.before === row.id}
          <li class="bg-ochre h-1" aria-hidden="true"></li>
        {/if}
        {#if near.has(row.id, place)}
          <BoardRow
            {row}
            {production}
            {full}
            verdict={b.verdicts.get(row.id)}
            filmed={b.filmed.get(row.id)}
            chosen={b.chosen.has(row.id)}
            at={b.at === row.id || (b.at === null && row === shown[0])}
            editable={b.editable}
            first={shownFirst.current}
            ontoggle={(range) => b.toggle(row.id, range)}
            onfocus={() => (b.at = row.id)}
            onhold={(event) => hold(event, row.id)}
          />
        {:else}
          <li
            data-shot={row.id}
            class="border-line bg-card text-soft h-[84px] border-b p-2"
            {@attach near.watch}
          >
            {row.number}
            {row.title}
          </li>
        {/if}
      {/each}
      {#if drag && drag.before === null}<li class="bg-ochre h-1" aria-hidden="true"></li>{/if}
    </ol>
    {#if b.editable}
      <form onsubmit={make} class="mt-4 flex max-w-3xl flex-wrap items-end gap-3">
        <label class="w-24">
          Number
          <input id="new-number" class="field" required maxlength="20" bind:value={number} />
        </label>
        <label class="grow">
          What we see
          <input
            id="new-title"
            class="field"
            required
            maxlength="120"
            placeholder="The tide mill, wide"
            bind:value={title}
          />
        </label>
        <button class="btn btn-main">Add the shot</button>
      </form>
      {#if making}<p role="alert" class="mt-2 font-semibold">{making}</p>{/if}
    {/if}
  {:else if !problem}
    <p class="text-soft">Loading</p>
  {/if}
</main>

<Modal open={help} title="Keys on the Board" onclose={() => (help = false)}>
  <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
    <dt><kbd>↑</kbd> <kbd>↓</kbd></dt>
    <dd>from shot to shot; with Shift choosing them</dd>
    <dt><kbd>Alt</kbd> <kbd>↑</kbd> <kbd>↓</kbd></dt>
    <dd>move the shot, or all chosen ones</dd>
    <dt><kbd>Space</kbd></dt>
    <dd>choose or let go; Ctrl+A all that is shown; Esc none</dd>
    <dt><kbd>Enter</kbd></dt>
    <dd>open on the Bench</dd>
    <dt><kbd>m</kbd></dt>
    <dd>choose the method</dd>
    <dt><kbd>v</kbd></dt>
    <dd>duplicate as a variant</dd>
    <dt><kbd>Del</kbd></dt>
    <dd>remove (undo fetches back)</dd>
    <dt><kbd>/</kbd></dt>
    <dd>search</dd>
    <dt><kbd>Ctrl</kbd> <kbd>Z</kbd></dt>
    <dd>undo; with Shift redo</dd>
  </dl>
</Modal>
