<script lang="ts">
  import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
  import type { Schemas } from '../api/client';
  import { snap } from '../drawings/geometry';
  import { halfTyped, read, say, stepFor, TYPICAL, type Kind } from '../quantities';
  import WorkingCard from './WorkingCard.svelte';

  type Props = {
    label: string;
    kind: Kind;
    /** The decision; null means "as derived". */
    value: number | null;
    /** What the core derives while `value` is null. */
    derived?: number | null;
    /** Whether the field may be given back to the core (null). Default false. */
    nullable?: boolean;
    /** A few words after the label. */
    hint?: string;
    /** Why the server refused it. */
    problem?: string;
    disabled?: boolean;
    /** How the number is written and read, where its kind alone does not say. */
    words?: { say: (value: number) => string; read: (text: string) => number; typical: string };
    /** How the derived value came about. */
    working?: Schemas['Working'];
    /** Every step of a change, while typing or dragging. */
    onlive: (value: number | null) => void;
    /** The change is complete: save it. */
    oncommit: () => void;
  };
  let {
    label,
    kind,
    value,
    derived: fallback,
    nullable = false,
    hint = '',
    problem = '',
    disabled = false,
    words,
    working,
    onlive,
    oncommit,
  }: Props = $props();

  const id = $props.id();
  let typed = $state<string | null>(null);
  let unread = $state('');
  const shown = $derived(value ?? fallback ?? null);
  const text = $derived(
    typed ??
      (value === null && fallback === undefined
        ? ''
        : words && shown !== null
          ? words.say(shown)
          : say(shown, kind)),
  );
  const message = $derived(unread || problem);
  /** The value before anything was typed: what Escape brings back. */
  let before: { value: number | null; shown: number | null } | null = null;
  let pause: ReturnType<typeof setTimeout> | undefined;
  /** So long a person rests before what is typed so far is taken for a number, ms. */
  const REST_MS = 250;

  function input(event: Event & { currentTarget: HTMLInputElement }) {
    before ??= { value, shown };
    typed = event.currentTarget.value;
    clearTimeout(pause);
    // What is half typed goes nowhere: neither to the drawings nor into a complaint.
    if (halfTyped(typed)) unread = '';
    else pause = setTimeout(take, REST_MS);
  }

  /** What is typed as a decision; or the sentence that it cannot be read. */
  function take() {
    clearTimeout(pause);
    if (typed === null) return;
    if (typed.trim() === '' && nullable) {
      unread = '';
      onlive(null);
      return;
    }
    // A bare number is told in the unit that stood there when typing began.
    const number = words ? words.read(typed) : read(typed, kind, before?.shown ?? shown);
    if (Number.isFinite(number)) {
      unread = '';
      onlive(number);
    } else {
      unread = `“${typed}” cannot be read. Try ${words?.typical ?? TYPICAL[kind]}.`;
    }
  }

  function leave() {
    if (typed !== null) take();
    before = null;
    // A value that cannot be read stays as it was typed, beside the sentence that says so.
    if (unread) return;
    if (typed !== null) oncommit();
    typed = null;
  }

  $effect(() => () => clearTimeout(pause));

  let nudge: ReturnType<typeof setTimeout> | undefined;
  function step(by: number) {
    clearTimeout(pause);
    const from = shown ?? 0;
    const size = stepFor(from, kind);
    onlive(snap(from + by * size, size));
    typed = null;
    unread = '';
    // A held arrow key is one edit, not fifty.
    clearTimeout(nudge);
    nudge = setTimeout(oncommit, 350);
  }

  function key(event: KeyboardEvent) {
    if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      step((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
    } else if (event.key === 'Enter') {
      (event.currentTarget as HTMLInputElement).blur();
    } else if (event.key === 'Escape') {
      clearTimeout(pause);
      if (before && before.value !== value) onlive(before.value);
      before = null;
      typed = null;
      unread = '';
    }
  }

  let grab: { x: number; from: number } | null = null;
  function hold(event: PointerEvent & { currentTarget: HTMLElement }) {
    if (disabled || shown === null || !Number.isFinite(shown)) return;
    grab = { x: event.clientX, from: shown };
    event.currentTarget.setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function pull(event: PointerEvent) {
    if (!grab) return;
    const size = stepFor(grab.from, kind);
    const ticks = Math.round((event.clientX - grab.x) / 3);
    onlive(snap(grab.from + ticks * size, size));
  }
  function release() {
    if (grab) oncommit();
    grab = null;
  }
</script>

<div class="grid grid-cols-[1fr_auto] items-center gap-x-2 py-px">
  <label for={id} class="text-soft min-w-0 leading-tight">
    {label}{#if hint}<span class="block text-xs">{hint}</span>{/if}
  </label>
  <div class="flex items-center">
    {#if working}<WorkingCard workings={[working]} of={label} />{/if}
    {#if nullable && value !== null}
      <button
        class="text-soft p-1"
        {disabled}
        aria-label={`${label}: back to the derived value`}
        title="Back to the derived value"
        onclick={() => {
          typed = null;
          unread = '';
          onlive(null);
          oncommit();
        }}
      >
        <RotateCcw size={13} />
      </button>
    {/if}
    <span
      class={['w-3 self-stretch', disabled ? '' : 'tape cursor-ew-resize touch-none']}
      role="presentation"
      title="Drag sideways to change"
      onpointerdown={hold}
      onpointermove={pull}
      onpointerup={release}
      onpointercancel={release}
    ></span>
    <input
      {id}
      class={[
        'field w-28! min-h-7! py-0.5! text-right font-semibold',
        disabled ? '' : 'tape',
        value === null ? 'text-soft' : '',
        message ? 'border-ink! border-2!' : '',
      ]}
      inputmode={kind === 'length' || kind === 'shutter' ? 'text' : 'decimal'}
      autocomplete="off"
      maxlength="40"
      value={text}
      {disabled}
      placeholder={nullable ? 'not set' : ''}
      aria-invalid={message ? 'true' : undefined}
      aria-describedby={message ? `${id}-problem` : undefined}
      oninput={input}
      onblur={leave}
      onkeydown={key}
      onfocus={(event) => event.currentTarget.select()}
    />
  </div>
  {#if message}
    <p id="{id}-problem" role="alert" class="col-span-2 py-1 text-sm font-semibold">
      {label}: {message}
    </p>
  {/if}
</div>
