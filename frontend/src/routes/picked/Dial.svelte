<script lang="ts">
  import { dialPlace, type BallSays } from './picked';

  let { says }: { says: BallSays } = $props();
  const R = 92;
  const wanted = $derived(
    says.wanted_from_deg === null
      ? null
      : dialPlace(says.wanted_from_deg, says.wanted_elevation_deg ?? 0, R),
  );
  const told = $derived(
    says.lights
      .map((one, n) => `${n === 0 ? 'The key' : 'another light'} ${one.told}`)
      .join(', ')
      .concat(wanted ? '; the story’s key as a dashed ring' : ''),
  );
</script>

<!-- The sky over the ball, as it lies under somebody who looks down on it: the rim is level. -->
<svg
  viewBox="-125 -118 250 246"
  class="mt-2 block w-full max-w-xs"
  role="img"
  aria-label="The light from above. {told}."
  data-testid="dial"
>
  {#each [1, 2 / 3, 1 / 3] as part (part)}
    <circle r={R * part} class="stroke-line fill-none" stroke-width={part === 1 ? 1.5 : 1} />
  {/each}
  <path d="M0 {-R}V{R}M{-R} 0H{R}" class="stroke-line" stroke-width="1" />
  <g class="fill-soft text-[9px]">
    <text x="0" y={-R - 6} text-anchor="middle">ahead</text>
    <text x={R + 4} y="3">right</text>
    <text x={-R - 4} y="3" text-anchor="end">left</text>
    <text x={R / 3 + 2} y="-2">60° up</text>
    <text x={(2 * R) / 3 + 2} y="-2">30°</text>
    <text x="0" y={R + 22} text-anchor="middle">the lens</text>
  </g>
  <path d="M-7 {R + 13}L7 {R + 13}L0 {R + 3}Z" class="fill-soft" />
  {#if wanted}
    <circle
      cx={wanted.x}
      cy={wanted.y}
      r="9"
      class="stroke-ink fill-none"
      stroke-width="2"
      stroke-dasharray="4 3"
    />
    <text
      x={wanted.x}
      y={wanted.y + (wanted.y > 0 ? -13 : 20)}
      text-anchor="middle"
      class="fill-ink text-[9px]">the story’s key</text
    >
  {/if}
  {#each says.lights as one, n (n)}
    {@const at = dialPlace(one.from_deg, one.elevation_deg, R)}
    <circle
      cx={at.x}
      cy={at.y}
      r={n === 0 ? 6 : 4}
      fill={n === 0 ? 'var(--ochre)' : 'none'}
      stroke="var(--ochre)"
      stroke-width="2"
      stroke-dasharray={at.below ? '2 2' : ''}
    />
    <text
      x={at.x}
      y={at.y + (at.y > 0 ? 17 : -10)}
      text-anchor="middle"
      class="fill-ink text-[9px] font-bold"
      stroke="var(--paper)"
      stroke-width="3"
      paint-order="stroke">{n === 0 ? 'key' : n + 1}</text
    >
  {/each}
</svg>
