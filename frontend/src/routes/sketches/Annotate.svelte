<script lang="ts">
  import { onCross, type Looks } from './looks';
  import { partOf, pathOf, shifted, withMiddle, withPoint, type Point } from './marks';
  import type { Layer, Sketches } from './sketches.svelte';

  type Props = {
    room: Sketches;
    /** The layer being drawn on; null picks and moves. */
    tool: Layer | null;
    looks: Record<Layer, Looks>;
  };
  let { room, tool, looks }: Props = $props();

  let box = $state<SVGSVGElement | null>(null);
  let drawing = $state<Point[]>([]);
  let hover = $state<Point | null>(null);
  let drag: { id: string; index: number | null; from: Point[]; start: Point } | null = null;
  const sketch = $derived(room.open?.draft);
  const aspect = $derived(sketch ? sketch.width_px / sketch.height_px : 1.5);
  const tall = $derived(1000 / aspect);
  const single = (layer: Layer) => layer === 'tracking';
  const at = (event: { clientX: number; clientY: number }): Point =>
    partOf(event.clientX, event.clientY, box?.getBoundingClientRect() ?? new DOMRect());
  const [px, py] = [([x = 0]: Point) => x * 1000, ([, y = 0]: Point) => y * tall];

  function press(event: PointerEvent) {
    if (!tool || !room.editable || event.button !== 0) return;
    event.preventDefault();
    drawing = [...drawing, at(event)];
  }
  /** The line is complete: a double click, Enter, or the button. */
  export function finish() {
    const layer = tool;
    // A double click sets its last point twice.
    const points = drawing.filter(
      (p, i) =>
        i === 0 || Math.hypot(p[0]! - drawing[i - 1]![0]!, p[1]! - drawing[i - 1]![1]!) > 0.004,
    );
    drawing = [];
    if (layer && points.length >= (single(layer) ? 1 : 2)) void room.add(layer, points);
  }
  export function cancel() {
    drawing = [];
  }
  export const pending = () => drawing.length;

  function hold(
    event: PointerEvent & { currentTarget: Element },
    id: string,
    index: number | null,
  ) {
    if (tool) return;
    event.stopPropagation();
    room.selected = id;
    const record = room.marks.find((m) => m.id === id);
    if (!room.editable || !record) return;
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    drag = {
      id,
      index,
      from: $state.snapshot(record.draft.points) as Point[],
      start: at(event),
    };
  }
  function pull(event: PointerEvent) {
    if (tool && drawing.length > 0) hover = at(event);
    const held = drag;
    const record = held && room.marks.find((m) => m.id === held.id);
    if (!held || !record) return;
    const now = at(event);
    record.set(
      'points',
      held.index === null
        ? shifted(held.from, now[0]! - held.start[0]!, now[1]! - held.start[1]!)
        : withPoint(held.from, held.index, now),
    );
  }
  function release() {
    const held = drag;
    drag = null;
    const record = held && room.marks.find((m) => m.id === held.id);
    if (!held || !record) return;
    room.change(record, 'points', $state.snapshot(record.draft.points) as Point[], held.from);
  }
  function insert(event: MouseEvent, id: string) {
    const record = room.marks.find((m) => m.id === id);
    if (tool || !room.editable || !record) return;
    const from = $state.snapshot(record.draft.points) as Point[];
    room.change(record, 'points', withMiddle(from, at(event), aspect), from);
  }
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  };
  function key(event: KeyboardEvent, id: string, index: number | null) {
    const record = room.marks.find((m) => m.id === id);
    if (!record || !room.editable) return;
    const from = $state.snapshot(record.draft.points) as Point[];
    const arrow = arrows[event.key];
    if (arrow) {
      event.preventDefault();
      const step = event.shiftKey ? 0.02 : 0.002;
      const [dx, dy] = [arrow[0] * step, arrow[1] * step * aspect];
      const next =
        index === null
          ? shifted(from, dx, dy)
          : withPoint(from, index, [(from[index]?.[0] ?? 0) + dx, (from[index]?.[1] ?? 0) + dy]);
      room.change(record, 'points', next, from);
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      if (index !== null && from.length > 2)
        room.change(
          record,
          'points',
          from.filter((_, i) => i !== index),
          from,
        );
      else void room.remove(record);
    }
  }
</script>

{#if sketch}
  <div class="border-ink relative border select-none">
    <img
      class="paper block w-full"
      src="/api/productions/{room.production}/sketches/{sketch.id}/picture?r={sketch.revision}"
      alt={sketch.title}
      draggable="false"
      width={sketch.width_px}
      height={sketch.height_px}
    />
    <svg
      bind:this={box}
      viewBox="0 0 1000 {tall}"
      class={['absolute inset-0 h-full w-full touch-none', tool ? 'cursor-crosshair' : '']}
      role="group"
      aria-label="Marks on the picture"
      data-testid="marks"
      onpointerdown={press}
      onpointermove={pull}
      onpointerup={release}
      onpointercancel={release}
      ondblclick={() => drawing.length > 0 && finish()}
    >
      {#each room.marks as record, i (record.id)}
        {@const mark = record.draft}
        {@const look = looks[mark.layer]}
        {@const on = record.id === room.selected}
        {#if !room.hidden.includes(mark.layer)}
          <g
            data-mark={mark.layer}
            role="button"
            tabindex="0"
            aria-label={`${i + 1}: ${look.name} ${mark.name}`}
            aria-pressed={on}
            onfocus={() => !tool && (room.selected = record.id)}
            onkeydown={(event) => key(event, record.id, null)}
          >
            {#if single(mark.layer) || mark.points.length === 1}
              {#each mark.points as point, j (j)}
                <path d={onCross(px(point), py(point))} class="halo" />
                <path
                  d={onCross(px(point), py(point))}
                  fill="none"
                  stroke={look.colour}
                  stroke-width={on ? 4 : 2.5}
                />
              {/each}
            {:else}
              <path d={pathOf(mark.points, aspect, look.closed)} class="halo" fill="none" />
              <path
                d={pathOf(mark.points, aspect, look.closed)}
                fill={look.closed ? look.colour : 'none'}
                fill-opacity=".12"
                stroke={look.colour}
                stroke-width={(on ? 1.5 : 1) * look.width}
                stroke-dasharray={look.dash}
                stroke-linejoin="round"
                marker-end={look.arrow ? 'url(#arrow)' : undefined}
              />
              <path
                d={pathOf(mark.points, aspect, look.closed)}
                fill="none"
                stroke="transparent"
                stroke-width="18"
                class={tool ? '' : 'cursor-move'}
                role="presentation"
                onpointerdown={(event) => hold(event, record.id, null)}
                ondblclick={(event) => insert(event, record.id)}
              />
            {/if}
            {#if mark.points[0]}
              {@const x = Math.min(Math.max(px(mark.points[0]), 14), 986)}
              {@const y = Math.min(Math.max(py(mark.points[0]), 14), tall - 14)}
              <circle cx={x} cy={y} r="11" fill="#fdfbf6" stroke={look.colour} stroke-width="1.5" />
              <text
                {x}
                y={y + 4.5}
                text-anchor="middle"
                font-size="13"
                font-weight="650"
                fill="#221f1a">{i + 1}</text
              >
            {/if}
          </g>
          {#if (on && !tool) || single(mark.layer)}
            {#each mark.points as point, j (j)}
              <circle
                cx={px(point)}
                cy={py(point)}
                r="13"
                fill="transparent"
                class={tool ? '' : 'cursor-move'}
                role="button"
                tabindex={on ? 0 : -1}
                aria-label={`Point ${j + 1} of mark ${i + 1}`}
                data-handle={j}
                onpointerdown={(event) => hold(event, record.id, j)}
                onkeydown={(event) => key(event, record.id, j)}
              />
              {#if on && !tool}
                <circle
                  cx={px(point)}
                  cy={py(point)}
                  r="5"
                  fill="var(--ochre)"
                  stroke="#fdfbf6"
                  pointer-events="none"
                />
              {/if}
            {/each}
          {/if}
        {/if}
      {/each}
      {#each room.report?.crossings ?? [] as cross, i (i)}
        {@const scale = room.report?.camera_known === 'planned' ? null : sketch.width_px}
        {@const cx = (cross.x_px / (scale ?? room.deliveryWidth)) * 1000}
        {@const cy = (cross.y_px / (scale ?? room.deliveryWidth)) * 1000}
        <circle
          {cx}
          {cy}
          r="9"
          fill="none"
          stroke="var(--breaks)"
          stroke-width="3"
          pointer-events="none"
          data-crossing={i}
        />
      {/each}
      {#if tool && drawing.length > 0}
        <path
          d={pathOf(hover ? [...drawing, hover] : drawing, aspect)}
          fill="none"
          stroke={looks[tool].colour}
          stroke-width="2"
          stroke-dasharray="4 4"
          pointer-events="none"
        />
        {#each drawing as point, i (i)}
          <circle
            cx={px(point)}
            cy={py(point)}
            r="4"
            fill={looks[tool].colour}
            pointer-events="none"
          />
        {/each}
      {/if}
      <defs>
        <marker
          id="arrow"
          viewBox="0 0 10 10"
          refX="8"
          refY="5"
          markerWidth="5"
          markerHeight="5"
          orient="auto"
        >
          <path d="M0 0l10 5-10 5z" fill={looks.action.colour} />
        </marker>
      </defs>
    </svg>
  </div>
{/if}

<style>
  .halo {
    stroke: #fdfbf6;
    stroke-width: 7;
    stroke-opacity: 0.75;
    stroke-linejoin: round;
  }
</style>
