<script lang="ts">
  import type { Answer, Still } from './room.svelte';

  type Props = {
    stills: Still[];
    /** The still in hand. */
    chosen: string | null;
    answer: Answer | null;
  };
  /** Where in the picture the board was seen, and how straight lines lie in it. */
  let { stills, chosen, answer }: Props = $props();
  const wide = 160;
  const high = $derived(
    stills[0] ? (wide * stills[0].height_px) / stills[0].width_px : (wide * 9) / 16,
  );
  const left = $derived(
    new Set((answer?.stills ?? []).filter((one) => !one.counted).map((one) => one.picture_id)),
  );
  const drawn = $derived(
    (answer?.lines ?? []).map((line) =>
      line.map(([x, y]) => `${(x * wide).toFixed(2)},${(y * high).toFixed(2)}`).join(' '),
    ),
  );
  const straight = $derived(
    (answer?.at ?? []).flatMap((at) => [
      { x1: at * wide, x2: at * wide, y1: 0, y2: high },
      { x1: 0, x2: wide, y1: at * high, y2: at * high },
    ]),
  );
</script>

<svg
  viewBox="0 0 {wide} {high}"
  class="bg-well border-line w-full border"
  role="img"
  aria-label="Where the board was seen in the picture{answer ? ', and how straight lines lie' : ''}"
  data-testid="lens-seen"
>
  {#each straight as line, n (n)}
    <line {...line} stroke="var(--line)" stroke-width=".3" />
  {/each}
  {#each drawn as points, n (n)}
    <polyline {points} fill="none" stroke="var(--ochre)" stroke-width=".5" />
  {/each}
  {#each stills as still (still.picture_id)}
    {@const mine = still.picture_id === chosen}
    {#each still.places as [x = 0, y = 0], n (n)}
      <circle
        cx={(x / still.width_px) * wide}
        cy={(y / still.height_px) * high}
        r={mine ? 1.3 : 0.8}
        fill={left.has(still.picture_id) ? 'none' : mine ? 'var(--ochre-ink)' : 'var(--soft)'}
        stroke={left.has(still.picture_id) ? 'var(--soft)' : 'none'}
        stroke-width=".3"
      />
    {/each}
  {/each}
</svg>
