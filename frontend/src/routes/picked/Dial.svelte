<script lang="ts">
  import { dialPlace, shownLights, type BallSays } from './picked';

  let { says }: { says: BallSays[] } = $props();
  const R = 92;
  const wanted = $derived.by(() => {
    const one = says.find((ball) => ball.wanted_from_deg !== null);
    return one ? dialPlace(one.wanted_from_deg ?? 0, one.wanted_elevation_deg ?? 0, R) : null;
  });
  const lights = $derived(shownLights(says));
  const told = $derived(
    lights.map((one) => `${one.name} ${one.told}, ${one.up.toFixed(0)}° up`).join('; '),
  );
</script>

<!-- The sky over the ball, as it lies under somebody who looks down on it: the rim is level. -->
<figure class="mt-3 flex flex-wrap items-center gap-4">
  <svg
    viewBox="-125 -118 250 246"
    class="block w-full max-w-xs"
    role="img"
    aria-label="The light seen from above: {told}{wanted
      ? '; the story’s key as a dashed ring'
      : ''}"
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
    {/if}
    {#each lights as one (one.name)}
      {@const at = dialPlace(one.from, one.up, R)}
      <circle cx={at.x} cy={at.y} r={(R * one.off) / 90} fill="var(--ochre)" fill-opacity="0.15" />
      <path
        d={one.kind === 'chrome'
          ? `M${at.x - one.size} ${at.y}a${one.size} ${one.size} 0 1 0 ${2 * one.size} 0a${one.size} ${one.size} 0 1 0 ${-2 * one.size} 0`
          : `M${at.x} ${at.y - one.size}l${one.size} ${one.size}l${-one.size} ${one.size}l${-one.size} ${-one.size}Z`}
        fill={one.key ? 'var(--ochre)' : 'none'}
        stroke="var(--ochre)"
        stroke-width="2"
        stroke-dasharray={at.below ? '2 2' : ''}
      />
      <text
        x={at.x + (one.kind === 'chrome' ? -9 : 9)}
        y={at.y + 3}
        text-anchor={one.kind === 'chrome' ? 'end' : 'start'}
        class="fill-ink text-[9px] font-bold"
        stroke="var(--paper)"
        stroke-width="3"
        paint-order="stroke">{one.sign}</text
      >
    {/each}
  </svg>
  <figcaption class="text-soft max-w-xs text-sm">
    The light from above: level at the rim, straight up in the middle. Round: what a chrome ball
    shows; a diamond: a grey one; filled: the key. The haze around it is how far it may be off.
    {#if wanted}The dashed ring is the story’s key.{/if}
  </figcaption>
</figure>
