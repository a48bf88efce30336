<script lang="ts">
  import type { Schemas } from '../api/client';

  type Props = {
    marks: Schemas['PictureMark'][];
    /** Picture pixels per screen pixel. */
    k: number;
  };
  let { marks, k }: Props = $props();

  /** What each role looks like. Dividers and cuts are decisions, so they are on tape's ochre. */
  const looks: Record<string, string> = {
    divider: 'fill:none;stroke:var(--ochre-ink);stroke-width:2.2px',
    feather: 'fill:none;stroke:var(--ochre-ink);stroke-width:1px;stroke-dasharray:2 3',
    flight: 'fill:none;stroke:var(--ink);stroke-width:1px;stroke-dasharray:1 5',
    cut: 'fill:none;stroke:var(--ochre-ink);stroke-width:1.4px;stroke-dasharray:14 4',
    pass: 'fill:none;stroke:var(--ochre-ink);stroke-width:1px;stroke-dasharray:6 3',
    rig: 'fill:none;stroke:var(--ink);stroke-width:1.4px',
    marker: 'fill:var(--ochre);stroke:var(--ink);stroke-width:.8px',
    reach: 'fill:none;stroke:var(--soft);stroke-width:1px;stroke-dasharray:3 3',
    bent: 'fill:none;stroke:var(--soft);stroke-width:1.4px;stroke-dasharray:1 3',
    crowd0: 'fill:var(--card);stroke:var(--ink);stroke-width:1px',
    crowd1: 'fill:var(--well);stroke:var(--ink);stroke-width:1px',
    crowd2: 'fill:var(--card);stroke:var(--soft);stroke-width:1px',
    crowd3: 'fill:var(--line);stroke:var(--ink);stroke-width:1px',
  };
  const d = (mark: Schemas['PictureMark']) =>
    'M' + mark.path.map(([x = 0, y = 0]) => `${x} ${y}`).join('L') + (mark.closed ? 'Z' : '');
</script>

<g data-layer="marks">
  {#each marks as mark, i (i)}
    {@const [x = 0, y = 0] = mark.path[0] ?? []}
    {#if mark.role === 'thrown'}
      <circle cx={x} cy={y} r={5 * k} fill="var(--ink)" data-mark="thrown" />
    {:else if mark.path.length > 1 && mark.wide_px > 2}
      <path
        d={d(mark)}
        fill="none"
        stroke="var(--ink)"
        stroke-opacity="0.3"
        stroke-width={mark.wide_px}
        data-mark={mark.role}
      />
    {:else if mark.path.length > 1}
      <path
        d={d(mark)}
        style={looks[mark.role]}
        vector-effect="non-scaling-stroke"
        data-mark={mark.role}
      />
    {/if}
    {#if mark.role === 'flight'}
      {#each mark.path as [px = 0, py = 0], j (j)}
        <circle cx={px} cy={py} r={1.8 * k} fill="var(--ink)" />
      {/each}
    {/if}
    {#if mark.text}
      <text
        x={x + 4 * k}
        y={y + 12 * k}
        text-anchor={mark.role === 'pass' ? 'middle' : 'start'}
        font-size={11 * k}
        fill="var(--ochre-ink)"
        stroke="var(--card)"
        stroke-width={3 * k}
        paint-order="stroke">{mark.text}</text
      >
    {/if}
  {/each}
</g>
