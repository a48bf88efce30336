<script lang="ts">
  import type { Schemas } from '../api/client';
  import { length, METRES_PER_INCH, say, tickLength } from '../quantities';
  import { units } from '../units.svelte';
  import { along, RAIL, ticks, type Span } from './rail';

  type Props = {
    rail: Schemas['Rail'] | null;
    span: Span;
    width: number;
  };
  let { rail, span, width }: Props = $props();
  const { pad, end, curves, axis, full } = RAIL;

  const x = $derived((metres: number) => pad + along(metres, span) * (width - pad - end));
  const clamped = $derived((metres: number | null) =>
    metres === null ? width - 20 : Math.min(Math.max(x(metres), pad), width - end),
  );
  const gap = $derived(44 / Math.max(width - pad - end, 1));
  const scale = $derived(rail?.scale ?? 1);
  /** Round numbers are round in the unit they are read in. */
  const unit = $derived(units.now.length === 'feet' ? 12 * METRES_PER_INCH : 1);
  const rounded = $derived((of: number) =>
    ticks({ from: span.from / of / unit, to: span.to / of / unit }, gap).map((t) => t * unit),
  );
  const worldTicks = $derived(rounded(1));
  const stageTicks = $derived(scale === 1 ? [] : rounded(scale));
  const height = (value: number, most: number) =>
    curves - (Math.min(value, most) / most) * (curves - 20);

  /** A curve over the shown part, and where it ends; what cannot be computed breaks it. */
  function curve(values: readonly (number | null)[], most: number) {
    let path = '';
    let pen = false;
    let last: number | null = null;
    values.forEach((value, i) => {
      const px = x(rail?.distances_m[i] ?? 0);
      if (value === null || px < -40 || px > width + 40) {
        pen = false;
        return;
      }
      const y = height(value, most);
      path += `${pen ? 'L' : 'M'}${px.toFixed(1)} ${y.toFixed(1)}`;
      pen = true;
      if (px <= width - end + 1) last = y;
    });
    return { path, last: last as number | null };
  }
  const lines = $derived(
    rail === null
      ? []
      : [
          {
            key: 'haze',
            name: 'air',
            dash: '1 3',
            ...curve(rail.haze, 1),
            title: 'how much the air covers, up to all of it',
          },
          {
            key: 'drift',
            name: 'drift',
            dash: '6 3',
            ...curve(rail.drift_px, full),
            title: `pixels a frame that a still thing drifts, up to ${full}`,
          },
          {
            key: 'blur',
            name: 'blur',
            dash: undefined,
            ...curve(rail.blur_px, full),
            title: `blur disc in delivered pixels, up to ${full}`,
          },
        ].filter((line) => line.path),
  );
</script>

{#if rail}
  {#each rail.passes as pass, i (i)}
    <rect
      x={clamped(pass.near_m)}
      y="18"
      width={Math.max(clamped(pass.far_m) - clamped(pass.near_m), 1)}
      height={curves - 18}
      fill="var(--well)"
      fill-opacity={i % 2 ? 0.6 : 1}
      data-band="sharp"
    >
      <title>sharp from {length(pass.near_m)} to {length(pass.far_m ?? Infinity)}</title>
    </rect>
  {/each}
  {#if rail.needed_m}
    {@const [near = 1, far = 1] = rail.needed_m}
    <path
      d="M{clamped(near)} {curves - 4}v4H{clamped(far)}v-4"
      fill="none"
      stroke="var(--ink)"
      stroke-width="1.5"
    >
      <title>must be sharp: {length(near)} to {length(far)}</title>
    </path>
  {/if}
  <line
    x1={pad}
    x2={width - end}
    y1={height(2, full)}
    y2={height(2, full)}
    stroke="var(--line)"
    stroke-dasharray="2 3"
  />
  <text x={pad} y={height(2, full) - 2} font-size="9.5" fill="var(--soft)">2 px</text>
  {#each lines as line (line.key)}
    <path
      d={line.path}
      fill="none"
      stroke={line.key === 'blur' ? 'var(--ink)' : 'var(--soft)'}
      stroke-width={line.key === 'haze' ? 2 : 1.3}
      stroke-dasharray={line.dash}
      data-curve={line.key}
    >
      <title>{line.title}</title>
    </path>
    {#if line.last !== null}
      <text
        x={width - end}
        y={Math.max(line.last - 4, 27)}
        text-anchor="end"
        font-size="9.5"
        class="haloed"
        fill="var(--soft)">{line.name}</text
      >
    {/if}
  {/each}
{/if}
<line x1={pad} x2={width - end} y1={axis} y2={axis} stroke="var(--ink)" />
<line
  x1={width - end}
  x2={width - 20}
  y1={axis}
  y2={axis}
  stroke="var(--ink)"
  stroke-dasharray="2 3"
/>
<text x={width - 17} y={axis + 4} font-size="13" fill="var(--ink)">∞</text>
{#each worldTicks as tick (tick)}
  <line x1={x(tick)} x2={x(tick)} y1={axis} y2={axis - 4} stroke="var(--ink)" />
  <text x={x(tick)} y={axis + 11} text-anchor="middle" font-size="10.5" fill="var(--ink)"
    >{tickLength(tick)}</text
  >
{/each}
{#each stageTicks as tick (tick)}
  {@const px = x(tick * scale)}
  <line x1={px} x2={px} y1={axis + 14} y2={axis + 17} stroke="var(--soft)" />
  <text x={px} y={axis + 27} text-anchor="middle" font-size="10.5" fill="var(--soft)"
    >{tickLength(tick)}</text
  >
{/each}
<text x={pad} y="11" font-size="9.5" fill="var(--soft)" class="haloed">
  from the lens, world{scale === 1 ? '' : `; below, this stage at ${say(scale, 'scale')}`}
</text>
