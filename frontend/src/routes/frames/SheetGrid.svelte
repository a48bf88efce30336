<script lang="ts">
  import { isTyping } from '../../lib/edit/history.svelte';
  import { besideOf, loudness } from './beside';
  import type { ColumnAnswer, SheetDesk } from './desk.svelte';
  import {
    clear,
    copied,
    insert,
    later,
    markAt,
    moved,
    named,
    pasted,
    put,
    takeOut,
    type Column,
  } from './marks';
  import Small from './Small.svelte';

  let { desk, beats }: { desk: SheetDesk; beats: Record<number, string> } = $props();

  const ROW = 22;
  let box = $state<HTMLDivElement>();
  let top = $state(0);
  let tall = $state(400);
  let all = $state(false);
  const editable = $derived(desk.bench.editable);
  const frames = $derived(desk.frames);
  const answer = $derived(desk.answer);
  const fps = $derived(Math.max(Math.round(answer?.fps ?? 24), 1));
  /** So many rows are drawn; a row that leaves at one end is written anew at the other. */
  const pool = $derived(Math.ceil(tall / ROW) + 9);
  const rows = $derived.by(() => {
    const from = Math.max(Math.floor(top / ROW) - 4, 0);
    const to = Math.min(from + pool, frames);
    return Array.from({ length: Math.max(to - from, 0) }, (_, i) => from + i + 1);
  });
  const number = $derived(new Map((answer?.taken ?? []).map((frame, i) => [frame, i + 1])));
  const stopped = $derived(answer?.stops ?? []);
  const made = $derived(desk.record.draft.worked ?? []);
  const byStory = $derived((answer?.columns ?? []).filter((column) => column.by_story));
  const changed = $derived(
    new Map((answer?.columns ?? []).map((c) => [c.key, new Set(c.changed)])),
  );
  const names = $derived(
    new Map(desk.columns.map((c) => [c.key, new Map((c.marks ?? []).map((m) => [m.frame, m]))])),
  );
  const isMade = (frame: number) => made.some((day) => frame >= day.first && frame <= day.last);

  function figure(value: number) {
    const text = value.toFixed(Math.abs(value) < 10 ? 2 : 1);
    return text.replace(/\.?0+$/, '') || '0';
  }

  /** What is told of an axis or a lamp at a frame: how far it is moved before it, or its level. */
  function amount(told: ColumnAnswer | null | undefined, frame: number) {
    if (!told) return '';
    if (told.levels?.length) {
      const level = told.levels[frame - 1] ?? 0;
      return frame === 1 || level !== told.levels[frame - 2] ? `${Math.round(level * 100)} %` : '';
    }
    const chart = told.chart;
    if (!chart) return '';
    const count = chart.counts[frame - 1] ?? 0;
    return Math.abs(count) < 5e-4 ? '' : figure(count);
  }

  function unit(told: ColumnAnswer | null | undefined) {
    if (!told?.chart) return told?.levels?.length ? 'level' : '';
    return told.chart.counted_in === 'deg' ? 'degrees' : told.chart.counted_in;
  }

  // --- choosing -----------------------------------------------------------------------------

  const choice = $derived(desk.choice);
  /** Where a choice began, which stays while it is drawn longer. */
  let anchor = 1;
  let drawing = false;
  /** The mark that is dragged to another frame. */
  let held = $state.raw<{ key: string; from: number; at: number } | null>(null);
  let typed = $state<{ key: string; frame: number; text: string } | null>(null);

  const frameOf = (event: PointerEvent) => {
    const { top: edge } = box!.getBoundingClientRect();
    const at = event.clientY - edge + box!.scrollTop - head;
    return Math.min(Math.max(Math.floor(at / ROW) + 1, 1), frames);
  };
  const head = 40;

  function choose(key: string, first: number, last: number) {
    desk.choice = { key, first: Math.min(first, last), last: Math.max(first, last) };
    desk.chosen = key;
  }

  function down(event: PointerEvent, column: Column, frame: number) {
    if (event.button !== 0) return;
    box!.focus({ preventScroll: true });
    const grip = (event.target as HTMLElement).dataset['grip'];
    if (grip && editable && !event.shiftKey) {
      // Taken hold of it is chosen too; it moves once it is dragged.
      anchor = frame;
      choose(column.key, frame, frame);
      held = { key: column.key, from: frame, at: frame };
    } else {
      if (event.shiftKey && choice?.key === column.key) {
        choose(column.key, anchor, frame);
      } else {
        anchor = frame;
        choose(column.key, frame, frame);
      }
      drawing = true;
    }
    box!.setPointerCapture(event.pointerId);
    event.preventDefault();
  }

  function move(event: PointerEvent) {
    if (held) held = { ...held, at: frameOf(event) };
    else if (drawing && choice) choose(choice.key, anchor, frameOf(event));
  }

  function up() {
    if (held && held.at !== held.from) {
      const { key, from, at } = held;
      desk.mark(key, 'Move a mark', (marks) => moved(marks, from, at));
      choose(key, at, at);
    }
    held = null;
    drawing = false;
  }

  // --- what can be done with it --------------------------------------------------------------

  const column = $derived(desk.columns.find((one) => one.key === choice?.key) ?? null);
  const posed = $derived(column?.kind === 'part' || column?.kind === 'piece');
  const marked = $derived(column !== null && column.kind !== 'axis');

  function every(count: number) {
    if (!choice) return;
    const { key, first, last } = choice;
    // One frame alone: from here on, until the next mark.
    const label = count ? `On every ${count}` : 'Hold';
    desk.mark(key, label, (marks) => {
      const name = marks.find((m) => m.frame === first)?.name ?? '';
      if (last > first) return put(marks, first, last, { name, every: count });
      return [...marks.filter((m) => m.frame !== first), { frame: first, name, every: count }].sort(
        (a, b) => a.frame - b.frame,
      );
    });
  }
  function empty() {
    if (!choice) return;
    const { key, first, last } = choice;
    desk.mark(key, 'Clear', (marks) => clear(marks, first, last));
  }
  function copy() {
    if (choice && column) desk.copied = copied(column.marks ?? [], choice.first, choice.last);
  }
  function paste() {
    const block = desk.copied;
    if (!choice || !block) return;
    const { key, first } = choice;
    desk.mark(key, 'Paste', (marks) => pasted(marks, first, block));
    choose(key, first, Math.min(first + block.length - 1, frames));
  }
  function repeat() {
    if (!choice || !column) return;
    const { key, first, last } = choice;
    const block = copied(column.marks ?? [], first, last);
    desk.mark(key, 'Repeat', (marks) => pasted(marks, last + 1, block));
    choose(key, last + 1, last + block.length);
  }
  function ripple(out: boolean, every: boolean) {
    if (!choice) return;
    const { key, first, last } = choice;
    const count = last - first + 1;
    desk.set(
      desk.columns.map((one) => {
        if (!every && one.key !== key) return one;
        const marks = one.marks ?? [];
        return {
          ...one,
          marks: out ? takeOut(marks, first, last) : insert(marks, first, count),
          legs: later(one.legs ?? [], first, out ? -count : count),
        };
      }),
      out ? 'Take frames out' : 'Put frames in',
    );
  }
  function blink() {
    if (!choice || !answer) return;
    const { key, first } = choice;
    const marks = answer.blink.map((m) => ({ ...m, frame: m.frame + first - 1 }));
    desk.mark(key, 'Blink', (own) => {
      const last = marks.at(-1)!.frame;
      const kept = own.filter((m) => m.frame < first || m.frame > last);
      return [...kept, ...marks].sort((a, b) => a.frame - b.frame);
    });
  }

  function type() {
    if (!choice || !column || !marked || !editable) return;
    const mark = (column.marks ?? []).find((m) => m.frame === choice.first);
    typed = { key: choice.key, frame: choice.first, text: mark?.name ?? '' };
  }
  function written(next: boolean) {
    if (!typed) return;
    const { key, frame, text } = typed;
    typed = null;
    const own = desk.columns.find((one) => one.key === key);
    const before = (own?.marks ?? []).find((m) => m.frame === frame)?.name;
    if (text.trim() !== (before ?? '') || (before === undefined && text.trim())) {
      desk.mark(key, 'Write', (marks, one) =>
        named(marks, frame, text.trim(), one.kind === 'part'),
      );
    }
    box?.focus({ preventScroll: true });
    if (next) choose(key, Math.min(frame + 1, frames), Math.min(frame + 1, frames));
  }
  const focused = (node: HTMLInputElement) => {
    node.focus();
    node.select();
  };

  function show(frame: number) {
    if (!box) return;
    const at = (frame - 1) * ROW;
    if (at < box.scrollTop) box.scrollTop = at;
    else if (at + ROW > box.scrollTop + box.clientHeight - head)
      box.scrollTop = at + ROW - box.clientHeight + head;
  }

  function step(event: KeyboardEvent, right: number, by: number) {
    const at = Math.max(
      desk.columns.findIndex((one) => one.key === choice?.key),
      0,
    );
    const key = desk.columns[Math.min(Math.max(at + right, 0), desk.columns.length - 1)]?.key;
    if (!key) return;
    const from = choice ? (choice.first === anchor ? choice.last : choice.first) : 0;
    const to = Math.min(Math.max(from + by, 1), frames);
    if (event.shiftKey && choice && !right) choose(key, anchor, to);
    else {
      anchor = to;
      choose(key, to, to);
    }
    show(to);
  }

  function keyed(event: KeyboardEvent) {
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
    const page = Math.max(Math.floor(tall / ROW) - 3, 1);
    const steps: Record<string, [number, number]> = {
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      PageUp: [0, -page],
      PageDown: [0, page],
      Home: [0, -frames],
      End: [0, frames],
    };
    const way = steps[event.key];
    if (way) {
      event.preventDefault();
      step(event, ...way);
      return;
    }
    if (!editable || !choice) return;
    const work: Record<string, () => void> = {
      i: () => ripple(false, all),
      x: () => ripple(true, all),
      ...(marked
        ? { Enter: type, Delete: empty, Backspace: empty, c: copy, v: paste, r: repeat }
        : {}),
      ...(posed
        ? { 1: () => every(1), 2: () => every(2), 3: () => every(3), 4: () => every(4) }
        : {}),
      ...(posed ? { h: () => every(0) } : {}),
      ...(column?.kind === 'piece' ? { b: blink } : {}),
    };
    const done = work[event.key];
    if (!done) return;
    event.preventDefault();
    done();
  }
  const over = (key: string, frame: number) =>
    choice !== null && choice.key === key && frame >= choice.first && frame <= choice.last;
</script>

{#snippet tool(name: string, keys: string, run: () => void, can: boolean)}
  <button
    class="btn min-h-7! px-1.5! py-0! text-sm"
    disabled={!editable || !can}
    title={keys}
    onclick={run}>{name}</button
  >
{/snippet}

<div class="flex min-h-0 grow flex-col">
  {#if editable}
    <div
      class="border-line bg-card flex flex-wrap items-center gap-1 border-b p-1"
      role="toolbar"
      aria-label="Marks"
    >
      {@render tool('Ones', '1', () => every(1), posed)}
      {@render tool('Twos', '2', () => every(2), posed)}
      {@render tool('Threes', '3', () => every(3), posed)}
      {@render tool('Hold', 'H', () => every(0), posed)}
      {@render tool('Clear', 'Delete', empty, marked)}
      <span class="border-line mx-1 h-6 border-l"></span>
      {@render tool('Copy', 'C', copy, marked)}
      {@render tool('Paste', 'V', paste, marked && desk.copied !== null)}
      {@render tool('Repeat', 'R', repeat, marked)}
      {#if column?.kind === 'piece'}{@render tool('Blink', 'B', blink, true)}{/if}
      <span class="border-line mx-1 h-6 border-l"></span>
      {@render tool('Frames in', 'I', () => ripple(false, all), choice !== null)}
      {@render tool('Frames out', 'X', () => ripple(true, all), choice !== null)}
      <label class="flex items-center gap-1 text-sm"
        ><input type="checkbox" bind:checked={all} /> of all columns</label
      >
    </div>
  {/if}
  <div
    bind:this={box}
    bind:clientHeight={tall}
    class="bg-card relative min-h-72 grow max-md:h-[70dvh] max-md:grow-0 overflow-auto outline-offset-[-2px] select-none"
    role="grid"
    tabindex="0"
    aria-label="Exposure sheet"
    aria-rowcount={frames + 1}
    data-testid="sheet"
    onscroll={() => (top = box!.scrollTop)}
    onkeydown={keyed}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={up}
  >
    <div
      class="bg-card border-ink sticky top-0 z-10 flex w-max min-w-full items-end border-b text-sm"
      style:height="{head}px"
      role="row"
    >
      <span class="bg-card sticky left-0 flex w-28 shrink-0 self-stretch">
        <span class="w-12 self-end pr-2 text-right" role="columnheader">frame</span>
        <span class="w-16 self-end pr-2 text-right" role="columnheader">picture</span>
      </span>
      {#if desk.strip}
        <span class="border-line w-24 shrink-0 border-l px-1.5" role="columnheader">beside</span>
      {/if}
      {#each desk.columns as one (one.key)}
        <button
          class={[
            'border-line max-h-full w-28 shrink-0 overflow-hidden border-l px-1.5 text-left leading-tight',
            desk.chosen === one.key ? 'font-semibold underline' : '',
          ]}
          role="columnheader"
          title={one.name}
          onclick={() => {
            desk.chosen = one.key;
            if (desk.choice?.key !== one.key) desk.choice = null;
          }}
          >{one.name}
          {#if one.kind === 'axis'}<span class="text-soft block text-xs font-normal"
              >{unit(desk.told(one.key))}</span
            >{/if}</button
        >
      {/each}
      {#each byStory as one (one.key)}
        <span
          class="border-line text-soft w-28 shrink-0 truncate border-l px-1.5 leading-tight italic"
          role="columnheader"
          title="{one.name}: told by the shot"
          >{one.name}<span class="block text-xs">{unit(one)}, by the shot</span></span
        >
      {/each}
      {#if Object.keys(beats).length}
        <span class="border-line w-32 shrink-0 border-l px-1.5" role="columnheader">beats</span>
      {/if}
    </div>
    <div class="relative w-max min-w-full" style:height="{frames * ROW}px" role="rowgroup">
      {#each rows as frame (frame % pool)}
        {@const picture = number.get(frame)}
        <div
          class={[
            'absolute flex w-max min-w-full',
            frame % fps === 0 ? 'border-ink border-b-2' : 'border-line border-b',
            picture === undefined ? 'bg-well/50' : '',
          ]}
          style:top="{(frame - 1) * ROW}px"
          style:height="{ROW}px"
          role="row"
          aria-rowindex={frame + 1}
        >
          <span class="bg-card sticky left-0 z-[5] flex w-28 shrink-0 text-sm">
            <span class="w-12 pr-2 text-right" role="rowheader">{frame}</span>
            <span
              class={['w-16 pr-2 text-right', isMade(frame) ? 'text-soft line-through' : '']}
              role="gridcell"
              title={isMade(frame) ? 'made' : undefined}
            >
              {#if picture !== undefined}{picture}{:else}<i
                  class={[
                    'mr-1 inline-block h-full border-l-2',
                    stopped.some((s) => frame > s.first && frame <= s.last)
                      ? 'border-strains border-dashed'
                      : 'border-line',
                  ]}
                ></i>{/if}
            </span>
          </span>
          {#if desk.strip}
            {@const strip = desk.strip}
            {@const shown = besideOf(strip, desk.reference?.at ?? 1, frame, answer?.fps ?? 24)}
            <span class="border-line flex w-24 shrink-0 border-l" role="gridcell">
              {#if shown !== null}
                <Small {strip} frame={shown} src={(sheet) => desk.stripSheet(sheet)} />
                {#if strip.loud.length > 0}
                  {@const loud = loudness(strip, shown)}
                  <span class="flex grow items-center px-1">
                    <i
                      class="bg-ink/70 h-full"
                      style:width="{loud * 100}%"
                      data-loud={loud.toFixed(2)}
                    ></i>
                  </span>
                {/if}
              {/if}
            </span>
          {/if}
          {#each desk.columns as one (one.key)}
            {@const mark = names.get(one.key)?.get(frame)}
            {@const isNew = changed.get(one.key)?.has(frame) ?? false}
            {@const at = held?.key === one.key ? held.at : 0}
            <span
              class={[
                'border-line relative w-28 shrink-0 truncate border-l px-1.5 text-sm',
                over(one.key, frame) ? 'bg-ochre/25' : '',
                at === frame ? 'outline-ochre-ink outline-2' : '',
              ]}
              role="gridcell"
              tabindex="-1"
              aria-selected={over(one.key, frame)}
              data-cell="{one.key}:{frame}"
              onpointerdown={(event) => down(event, one, frame)}
              ondblclick={type}
            >
              {#if typed?.key === one.key && typed.frame === frame}
                <input
                  {@attach focused}
                  class="bg-card absolute inset-0 w-full px-1.5"
                  aria-label="{one.name}, frame {frame}"
                  maxlength="60"
                  list={one.kind === 'piece' ? `pieces-${one.key}` : undefined}
                  bind:value={typed.text}
                  onblur={() => written(false)}
                  onpointerdown={(event) => event.stopPropagation()}
                  onkeydown={(event) => {
                    event.stopPropagation();
                    if (event.key === 'Enter') written(true);
                    if (event.key === 'Escape') {
                      typed = null;
                      box?.focus({ preventScroll: true });
                    }
                  }}
                />
              {:else if one.kind === 'axis'}
                <span class="block pr-4 text-right">{amount(desk.told(one.key), frame)}</span>
              {:else if mark}
                <span
                  data-grip="mark"
                  class={['cursor-ns-resize', one.kind === 'words' ? 'font-semibold' : '']}
                  title="Drag to another frame">{mark.name || '●'}</span
                >{#if mark.every}<span class="text-soft pl-1 text-xs"
                    >{mark.every === 1 ? 'ones' : `every ${mark.every}`}</span
                  >{/if}
              {:else if isNew}
                <span class="text-soft">●</span>
              {:else if markAt(one.marks ?? [], frame)}
                <i class="border-soft/60 ml-1 inline-block h-full border-l"></i>
              {/if}
            </span>
          {/each}
          {#each byStory as one (one.key)}
            <span
              class="border-line text-soft w-28 shrink-0 border-l pr-4 text-right text-sm italic"
              role="gridcell">{amount(one, frame)}</span
            >
          {/each}
          {#if beats[frame]}
            <span
              class="border-line text-ochre-ink w-32 shrink-0 truncate border-l px-1.5 text-sm font-semibold"
              role="gridcell"
              title={beats[frame]}>◂ {beats[frame]}</span
            >
          {/if}
        </div>
      {/each}
    </div>
  </div>
  {#each desk.columns as one (one.key)}
    {#if one.kind === 'piece'}
      <datalist id="pieces-{one.key}">
        {#each one.pieces ?? [] as piece (piece.key)}<option value={piece.key}>{piece.name}</option
          >{/each}
      </datalist>
    {/if}
  {/each}
</div>
