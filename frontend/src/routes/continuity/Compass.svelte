<script lang="ts">
  import type { Schemas, Verdict } from '../../lib/api/client';
  import { apart, onCircle, radiusOf } from './compass';

  type Props = {
    place: string;
    time: string;
    shots: Schemas['ShotLight'][];
    selected: string | null;
    onselect: (id: string) => void;
  };
  let { place, time, shots, selected, onselect }: Props = $props();
  const RIM = 92;
  const colours: Record<Verdict, string> = {
    holds: 'var(--ink)',
    strains: 'var(--strains)',
    breaks: 'var(--breaks)',
  };
  const known = $derived(shots.filter((s) => s.key_bearing_deg !== null));
  const tips = $derived(
    known.map((s) => onCircle(s.key_bearing_deg ?? 0, radiusOf(s.key_elevation_deg, RIM))),
  );
  const labels = $derived(
    apart(
      tips.map(([x, y]) => ({ x, y })),
      19,
    ),
  );
</script>

<figure class="bg-card border-line border p-2">
  <figcaption>
    <b>{place || 'No place'}</b>
    <span class="text-soft">{time}</span>
  </figcaption>
  <svg
    viewBox="-120 -120 240 240"
    class="mx-auto block w-full max-w-60"
    role="group"
    aria-label={`Where the key comes from at ${place}`}
  >
    <circle r={RIM} fill="none" stroke="var(--line)" />
    <circle r={RIM / 2} fill="none" stroke="var(--line)" stroke-dasharray="2 4" />
    <path d="M0 {-RIM - 6}v12M0 {RIM - 6}v12M{-RIM - 6} 0h12M{RIM - 6} 0h12" stroke="var(--soft)" />
    <text y={-RIM - 9} text-anchor="middle" font-size="11" fill="var(--soft)">N</text>
    <text x="2" y={RIM / 2 + 10} font-size="8" fill="var(--soft)">45° up</text>
    {#each known as shot, i (shot.id)}
      {@const [x, y] = tips[i] ?? [0, 0]}
      {@const label = labels[i] ?? { x, y }}
      {@const [cx, cy] = onCircle(shot.camera_bearing_deg ?? 0, 26)}
      {@const colour = colours[(shot.light?.verdict ?? 'holds') as Verdict]}
      <g
        role="button"
        tabindex="0"
        aria-label={`Shot ${shot.number}: key from ${Math.round(shot.key_bearing_deg ?? 0)} degrees`}
        aria-pressed={selected === shot.id}
        class="cursor-pointer"
        onclick={() => onselect(shot.id)}
        onkeydown={(event) => event.key === 'Enter' && onselect(shot.id)}
      >
        <path
          d="M{x} {y}L0 0"
          stroke={colour}
          stroke-width={selected === shot.id ? 2.5 : 1.2}
          stroke-dasharray={shot.light?.verdict === 'breaks' ? '6 3' : 'none'}
        />
        {#if selected === shot.id}
          <path d="M0 0L{cx} {cy}" stroke="var(--soft)" stroke-width="5" />
          <text
            x={cx * 1.35}
            y={cy * 1.35 + 3}
            text-anchor="middle"
            font-size="8"
            fill="var(--soft)">camera</text
          >
        {/if}
        <path d="M{x} {y}L{label.x} {label.y}" stroke={colour} stroke-width="0.8" />
        <circle
          cx={label.x}
          cy={label.y}
          r="9"
          fill="var(--card)"
          stroke={colour}
          stroke-width="1.5"
        />
        <text
          x={label.x}
          y={label.y + 3.5}
          text-anchor="middle"
          font-size="10"
          font-weight="650"
          fill="var(--ink)">{shot.number}</text
        >
      </g>
    {/each}
  </svg>
  {#if known.length === 0}
    <p class="text-soft text-sm">
      No shot here says where its key comes from. Say which way the camera looks, and the side of
      the light.
    </p>
  {/if}
</figure>
