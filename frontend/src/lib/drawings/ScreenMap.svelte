<script lang="ts">
  import type { Schemas } from '../api/client';
  import { css } from '../light';
  import { length } from '../quantities';
  import LightBands from './LightBands.svelte';

  type Props = { screen: Schemas['ScreenStudy'] };
  let { screen }: Props = $props();
  let width = $state(360);
  const MARGIN = 14;
  /** From the ground: where it hangs, and how high anything is drawn. */
  const foot = $derived(screen.foot_m ?? 0);
  const top = $derived(foot + screen.height_m);
  const reach = $derived(Math.max(top, screen.needed[3] ?? 0));
  const scale = $derived(
    Math.min((width - 2 * MARGIN) / Math.max(screen.width_m, 0.1), 190 / Math.max(reach, 0.1)),
  );
  const high = $derived(reach * scale + MARGIN + 22);
  const x = (u: number) => width / 2 + u * scale;
  const y = (v: number) => MARGIN + (reach - v) * scale;
  const place = ([u = 0, v = 0]: readonly number[]) => `${x(u).toFixed(1)},${y(v).toFixed(1)}`;
  const needed = $derived({
    left: (screen.needed[0] ?? 0) - screen.centre_x_m,
    right: (screen.needed[1] ?? 0) - screen.centre_x_m,
    bottom: screen.needed[2] ?? 0,
    top: screen.needed[3] ?? 0,
  });
  const half = $derived(screen.width_m / 2);
  const inside = (u: number) => Math.min(Math.max(u, -half), half);
</script>

<div bind:clientWidth={width}>
  {#if screen.width_m > 0 && screen.height_m > 0}
    <svg
      {width}
      height={high}
      class="block"
      role="img"
      aria-label={screen.lit
        ? `Light over the screen: ${(screen.lit.spread_stops ?? 0).toFixed(1)} stops behind the action`
        : 'The screen, not lit yet'}
      data-testid="screen-map"
    >
      <rect
        x={x(-half)}
        y={y(top)}
        width={screen.width_m * scale}
        height={screen.height_m * scale}
        fill={css(screen.rgb)}
        fill-opacity=".35"
        stroke="var(--ink)"
      />
      {#if screen.map}<LightBands map={screen.map} {place} />{/if}
      {#each screen.shadows as shadow (shadow.lamp)}
        {@const l = inside(shadow.left_m - screen.centre_x_m)}
        {@const r = inside(shadow.right_m - screen.centre_x_m)}
        {@const t = Math.min(shadow.top_m, top)}
        {#if r > l && t > foot}
          <rect
            x={x(l)}
            y={y(t)}
            width={(r - l) * scale}
            height={(t - foot) * scale}
            fill="var(--shade)"
            fill-opacity=".28"
            stroke="var(--breaks)"
            stroke-dasharray="4 3"
          />
          <text
            x={x((l + r) / 2)}
            y={y(t) + 12}
            text-anchor="middle"
            class="haloed"
            font-size="10"
            fill="var(--ink)">shadow of lamp {shadow.lamp + 1}</text
          >
        {/if}
      {/each}
      <rect
        x={x(needed.left)}
        y={y(needed.top)}
        width={(needed.right - needed.left) * scale}
        height={(needed.top - needed.bottom) * scale}
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.6"
        stroke-dasharray="7 4"
      />
      <text
        x={x((needed.left + needed.right) / 2)}
        y={y(0) + 13}
        text-anchor="middle"
        font-size="11"
        fill="var(--ink)"
        >behind the action {length(needed.right - needed.left)} × {length(
          needed.top - needed.bottom,
        )}</text
      >
    </svg>
    <p class="text-soft text-xs">
      Stops against the mean behind the action; ochre is brighter, dark is darker, a line every
      third of a stop.
    </p>
  {:else}
    <p class="text-soft text-sm">The screen has no size yet: give it one under Backing.</p>
  {/if}
</div>
