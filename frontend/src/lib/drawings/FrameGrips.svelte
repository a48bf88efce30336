<script lang="ts">
  import type { Schemas } from '../api/client';
  import { groundMove } from './geometry';

  type Props = {
    grips: Schemas['Grip'][];
    names: Record<string, string>;
    selectedStandIn: string | null;
    editable: boolean;
    /** Picture pixels per screen pixel. */
    k: number;
    margin: number;
    widthPx: number;
    heightPx: number;
    onselect: (standIn: string) => void;
    onmove: (standIn: string, right: number, away: number) => void;
    ondrop: (standIn: string) => void;
  };
  let {
    grips,
    names,
    selectedStandIn,
    editable,
    k,
    margin,
    widthPx,
    heightPx,
    onselect,
    onmove,
    ondrop,
  }: Props = $props();

  let drag: { id: string; x: number; y: number } | null = null;
  function hold(event: PointerEvent & { currentTarget: SVGElement }, id: string) {
    // The paper underneath must not move along.
    event.preventDefault();
    onselect(id);
    event.currentTarget.focus();
    if (!editable) return;
    drag = { id, x: event.clientX, y: event.clientY };
    event.currentTarget.setPointerCapture(event.pointerId);
  }
  function pull(event: PointerEvent) {
    const grip = drag && grips.find((g) => g.stand_in_id === drag?.id);
    if (!drag || !grip) return;
    const { right, away } = groundMove(
      grip,
      (event.clientX - drag.x) * k,
      (event.clientY - drag.y) * k,
    );
    drag = { id: drag.id, x: event.clientX, y: event.clientY };
    onmove(drag.id, right, away);
  }
  function release() {
    if (drag) ondrop(drag.id);
    drag = null;
  }
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  };
  function key(event: KeyboardEvent, id: string) {
    const arrow = arrows[event.key];
    if (!arrow || !editable) return;
    event.preventDefault();
    const step = event.shiftKey ? 0.5 : 0.05;
    onmove(id, arrow[0] * step, arrow[1] * step);
    ondrop(id);
  }
  const shown = $derived(
    grips.filter(
      (g) =>
        g.x_px > -margin &&
        g.x_px < widthPx + margin &&
        g.y_px > -margin &&
        g.y_px < heightPx + margin * 6,
    ),
  );
</script>

{#each shown as grip (grip.stand_in_id)}
  {@const on = grip.stand_in_id === selectedStandIn}
  {@const y = Math.min(grip.y_px, heightPx + margin * 0.5)}
  <g
    role="button"
    tabindex="0"
    aria-label={`${names[grip.stand_in_id] ?? 'Stand-in'}: drag or use the arrow keys to move it on the ground`}
    class={['touch-none', editable ? 'cursor-move' : 'cursor-pointer']}
    data-grip={grip.stand_in_id}
    onpointerdown={(event) => hold(event, grip.stand_in_id)}
    onpointermove={pull}
    onpointerup={release}
    onpointercancel={release}
    onfocus={() => onselect(grip.stand_in_id)}
    onkeydown={(event) => key(event, grip.stand_in_id)}
  >
    <circle cx={grip.x_px} cy={y} r={12 * k} fill="transparent" />
    <circle
      cx={grip.x_px}
      cy={y}
      r={(on ? 5.5 : 4) * k}
      fill="var(--ochre)"
      stroke="var(--card)"
      stroke-width={k}
    />
    {#if on}
      <text
        x={grip.x_px}
        y={y - 9 * k}
        text-anchor="middle"
        font-size={12 * k}
        font-weight="650"
        fill="var(--ink)"
        stroke="var(--card)"
        stroke-width={3 * k}
        paint-order="stroke">{names[grip.stand_in_id]}</text
      >
    {/if}
  </g>
{/each}
