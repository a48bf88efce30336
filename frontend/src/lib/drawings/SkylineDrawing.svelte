<script lang="ts">
  /** What rises round a place, laid out flat: azimuth to the right, height upwards. */
  type Point = { azimuth_deg: number; elevation_deg: number };
  type Props = {
    points: Point[];
    editable?: boolean;
    onchange?: (points: Point[]) => void;
  };
  let { points, editable = false, onchange }: Props = $props();
  let width = $state(480);
  const HEIGHT = 130;
  const [top, foot] = [10, 20];
  let held = $state.raw<{ index: number; points: Point[] } | null>(null);
  const shown = $derived(held?.points ?? points);
  const most = $derived(
    Math.max(30, Math.ceil(Math.max(0, ...shown.map((p) => p.elevation_deg)) / 10) * 10 + 10),
  );
  const x = (azimuth: number) => (azimuth / 360) * width;
  const y = (elevation: number) =>
    HEIGHT - foot - (Math.max(elevation, 0) / most) * (HEIGHT - foot - top);
  /** The line all the way round: the first point comes again after the last. */
  const line = $derived.by(() => {
    if (shown.length === 0) return `M0 ${y(0)}H${width}`;
    const sorted = [...shown].sort((a, b) => a.azimuth_deg - b.azimuth_deg);
    const [first, last] = [sorted[0]!, sorted[sorted.length - 1]!];
    const gap = first.azimuth_deg + 360 - last.azimuth_deg || 360;
    const part = (360 - last.azimuth_deg) / gap;
    const north = last.elevation_deg + (first.elevation_deg - last.elevation_deg) * part;
    const all = [
      { azimuth_deg: 0, elevation_deg: north },
      ...sorted,
      { azimuth_deg: 360, elevation_deg: north },
    ];
    return `M${all.map((p) => `${x(p.azimuth_deg).toFixed(1)} ${y(p.elevation_deg).toFixed(1)}`).join('L')}`;
  });

  function at(event: PointerEvent & { currentTarget: Element }): Point {
    const svg = event.currentTarget.closest('svg')!.getBoundingClientRect();
    const azimuth = ((event.clientX - svg.left) / svg.width) * 360;
    const elevation = ((HEIGHT - foot - (event.clientY - svg.top)) / (HEIGHT - foot - top)) * most;
    return {
      azimuth_deg: Math.round(Math.min(Math.max(azimuth, 0), 360)),
      elevation_deg: Math.round(Math.min(Math.max(elevation, 0), 80)),
    };
  }
  function add(event: PointerEvent & { currentTarget: Element }) {
    if (!editable || held) return;
    onchange?.([...points, at(event)]);
  }
  function pull(event: PointerEvent & { currentTarget: Element }) {
    if (!held) return;
    const { index, points: before } = held;
    held = { index, points: before.map((p, i) => (i === index ? at(event) : p)) };
  }
  function drop() {
    if (held) onchange?.(held.points);
    held = null;
  }
  function key(event: KeyboardEvent, index: number) {
    const step: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const by = step[event.key];
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      onchange?.(points.filter((_, i) => i !== index));
    } else if (by) {
      event.preventDefault();
      onchange?.(
        points.map((p, i) =>
          i === index
            ? {
                azimuth_deg: (p.azimuth_deg + by[0] + 360) % 360,
                elevation_deg: Math.min(Math.max(p.elevation_deg + by[1], 0), 80),
              }
            : p,
        ),
      );
    }
  }
</script>

<div bind:clientWidth={width}>
  <svg {width} height={HEIGHT} role="group" aria-label="Skyline all round" class="block">
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <rect
      {width}
      height={HEIGHT - foot}
      fill="var(--card)"
      class={editable ? 'cursor-crosshair' : ''}
      data-testid="skyline-paper"
      onpointerdown={add}
    />
    {#each [10, 20, 30, 40, 50, 60, 70].filter((e) => e < most) as height (height)}
      <path d="M0 {y(height)}H{width}" stroke="var(--line)" stroke-width=".6" />
      <text x="2" y={y(height) - 2} font-size="10" fill="var(--soft)">{height}°</text>
    {/each}
    <path d="{line}V{y(0)}H0Z" fill="var(--well)" pointer-events="none" />
    <path d={line} fill="none" stroke="var(--ink)" stroke-width="1.5" pointer-events="none" />
    {#each [[0, 'N'], [90, 'E'], [180, 'S'], [270, 'W']] as const as [azimuth, name] (azimuth)}
      <path d="M{x(azimuth)} {y(0)}v5" stroke="var(--ink)" />
      <text x={x(azimuth) + 3} y={HEIGHT - 5} font-size="11" fill="var(--ink)">{name}</text>
    {/each}
    {#if editable}
      {#each shown as point, i (i)}
        <g
          role="button"
          tabindex="0"
          aria-label={`Skyline at ${point.azimuth_deg}°, ${point.elevation_deg}° up: drag, arrow keys, or Delete`}
          class="cursor-move touch-none"
          onpointerdown={(event) => {
            held = { index: i, points };
            event.currentTarget.setPointerCapture(event.pointerId);
            event.stopPropagation();
          }}
          onpointermove={pull}
          onpointerup={drop}
          onpointercancel={drop}
          onkeydown={(event) => key(event, i)}
        >
          <circle cx={x(point.azimuth_deg)} cy={y(point.elevation_deg)} r="12" fill="transparent" />
          <circle
            cx={x(point.azimuth_deg)}
            cy={y(point.elevation_deg)}
            r="4"
            fill="var(--ochre)"
            stroke="var(--card)"
          />
        </g>
      {/each}
    {/if}
  </svg>
</div>
