<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { MOST_KEYS, onFrame, onLevel, sorted, type LevelKey } from './cues';

  type Props = {
    answer: Schemas['CueAnswer'];
    fps: number;
    /** The frame that plays, from 0; -1 while none does. */
    frame: number;
    /** The points of a curve by hand; null for a pattern. */
    keys: LevelKey[] | null;
    editable: boolean;
    onlive: (keys: LevelKey[]) => void;
    oncommit: () => void;
  };
  let { answer, fps, frame, keys, editable, onlive, oncommit }: Props = $props();

  const [WIDE, HIGH] = [400, 120];
  const [TOP, FOOT] = [6, HIGH - 6];
  const last = $derived(Math.max(answer.levels.length - 1, 1));
  const x = (seconds: number) => ((seconds * fps) / last) * WIDE;
  const y = (level: number) => FOOT - level * (FOOT - TOP);
  const curve = (levels: number[]) =>
    levels
      .map((v, i) => `${i ? 'L' : 'M'}${((i / last) * WIDE).toFixed(1)} ${y(v).toFixed(1)}`)
      .join('');

  let box: SVGSVGElement;
  let held = $state(-1);
  let moved = false;

  /** Where a pointer is: seconds after the cue begins, and a level. */
  function spot(event: PointerEvent | MouseEvent): LevelKey {
    const { left, top, width, height } = box.getBoundingClientRect();
    const seconds = (((event.clientX - left) / width) * last) / fps;
    const level = (FOOT - ((event.clientY - top) / height) * HIGH) / (FOOT - TOP);
    return { at_s: onFrame(seconds, answer.begins_s, fps), level: onLevel(level) };
  }

  function hold(event: PointerEvent, index: number) {
    if (!editable) return;
    event.stopPropagation();
    held = index;
    moved = false;
    box.setPointerCapture(event.pointerId);
  }

  function drag(event: PointerEvent) {
    if (held < 0 || !keys) return;
    moved = true;
    const at = spot(event);
    // A point stays between its neighbours, so that it never changes its number while it is held.
    const low = keys[held - 1]?.at_s ?? 0;
    const high = keys[held + 1]?.at_s ?? Infinity;
    at.at_s = Math.min(Math.max(at.at_s ?? 0, low), high);
    onlive(keys.map((key, i) => (i === held ? at : key)));
  }

  function release() {
    if (held < 0) return;
    held = -1;
    if (moved) oncommit();
  }

  function add(event: MouseEvent) {
    if (!editable || !keys || keys.length >= MOST_KEYS || event.target !== event.currentTarget)
      return;
    onlive(sorted([...keys, spot(event)]));
    oncommit();
  }

  function move(event: KeyboardEvent, index: number) {
    if (!editable || !keys) return;
    const key = keys[index];
    if (!key) return;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const step = steps[event.key];
    if (step) {
      const far = event.shiftKey ? 10 : 1;
      const low = keys[index - 1]?.at_s ?? 0;
      const high = keys[index + 1]?.at_s ?? Infinity;
      const seconds = answer.begins_s + (key.at_s ?? 0) + (step[0] * far) / fps;
      const at_s = Math.min(Math.max(onFrame(seconds, answer.begins_s, fps), low), high);
      const level = onLevel((key.level ?? 0) + (step[1] * far) / 100);
      onlive(keys.map((one, i) => (i === index ? { at_s, level } : one)));
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      onlive(keys.filter((_, i) => i !== index));
    } else return;
    event.preventDefault();
    event.stopPropagation();
    oncommit();
  }
</script>

<svg
  bind:this={box}
  viewBox="0 0 {WIDE} {HIGH}"
  preserveAspectRatio="none"
  class="border-line h-24 min-w-0 grow border {keys && editable ? 'cursor-copy' : ''}"
  style:touch-action={keys ? 'none' : undefined}
  role="group"
  aria-label={`${answer.name}: level over ${answer.levels.length} frames; at most ${answer.flashes} flashes in one second`}
  data-testid="cue-curve"
  onpointermove={drag}
  onpointerup={release}
  onpointercancel={release}
  ondblclick={add}
>
  {#each [0, 0.5, 1] as v (v)}
    <path d="M0 {y(v)}H{WIDE}" stroke="var(--line)" stroke-width=".6" style:pointer-events="none" />
  {/each}
  {#if answer.begins_s > 0}
    <path
      d="M{x(answer.begins_s)} 0V{HIGH}"
      stroke="var(--soft)"
      stroke-dasharray="2 4"
      vector-effect="non-scaling-stroke"
      style:pointer-events="none"
    />
  {/if}
  <path
    d={curve(answer.levels)}
    fill="none"
    stroke="var(--soft)"
    stroke-dasharray="3 3"
    vector-effect="non-scaling-stroke"
    style:pointer-events="none"
  />
  <path
    d={curve(answer.shown)}
    fill="none"
    stroke="var(--ochre-ink)"
    stroke-width="1.6"
    vector-effect="non-scaling-stroke"
    style:pointer-events="none"
  />
  {#if frame >= 0}
    <path
      d="M{(frame / last) * WIDE} 0V{HIGH}"
      stroke="var(--ink)"
      vector-effect="non-scaling-stroke"
    />
  {/if}
  {#each keys ?? [] as key, i (i)}
    <!-- A stroke of no length and even width: round on the screen whatever the drawing is pulled to. -->
    <path
      d="M{x(answer.begins_s + (key.at_s ?? 0))} {y(key.level ?? 0)}h.001"
      stroke={held === i ? 'var(--ink)' : 'var(--ochre-ink)'}
      stroke-width="12"
      stroke-linecap="round"
      vector-effect="non-scaling-stroke"
      class="point cursor-grab"
      role="slider"
      tabindex={editable ? 0 : -1}
      aria-label={`Point ${i + 1}`}
      aria-valuemin="0"
      aria-valuemax="100"
      aria-valuenow={Math.round((key.level ?? 0) * 100)}
      aria-valuetext={`${Math.round((key.level ?? 0) * 100)} % after ${(key.at_s ?? 0).toFixed(2)} s`}
      onpointerdown={(event) => hold(event, i)}
      onkeydown={(event) => move(event, i)}
    />
  {/each}
</svg>

<style>
  .point:focus-visible {
    outline: none;
    stroke: var(--ink);
    stroke-width: 16;
  }
</style>
