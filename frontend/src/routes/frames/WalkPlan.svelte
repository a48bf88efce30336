<script lang="ts">
  import type { Lapse, SheetDesk } from './desk.svelte';

  /** The path from above, with what it is aimed at: far is up. */
  let { desk, lapse }: { desk: SheetDesk; lapse: Lapse } = $props();
  const [WIDE, HIGH] = [400, 220];
  const photos = $derived(desk.answer?.lapse?.photos ?? 1);
  const pan = $derived(((desk.bench.shot.draft.pan_deg ?? 0) * Math.PI) / 180);
  const end = $derived({
    x: (lapse.path_right_m ?? 0) * Math.cos(pan) + (lapse.path_ahead_m ?? 0) * Math.sin(pan),
    y: -(lapse.path_right_m ?? 0) * Math.sin(pan) + (lapse.path_ahead_m ?? 0) * Math.cos(pan),
  });
  const things = $derived(
    desk.bench.standIns
      .filter((thing) => thing.draft.kind !== 'ground')
      .map((thing) => ({
        id: thing.id,
        name: thing.draft.name,
        x: thing.draft.x_m ?? 0,
        y: thing.draft.y_m ?? 0,
        wide: thing.draft.width_m ?? 1,
      })),
  );
  const aim = $derived(things.find((thing) => thing.id === lapse.aim_id));
  const box = $derived.by(() => {
    const all = [{ x: 0, y: 0 }, end, ...(aim ? [aim] : things)];
    const [left, right] = [Math.min(...all.map((p) => p.x)), Math.max(...all.map((p) => p.x))];
    const [low, high] = [Math.min(...all.map((p) => p.y)), Math.max(...all.map((p) => p.y))];
    const size = Math.max(right - left, ((high - low) * WIDE) / HIGH, 1) * 1.35;
    return { x: (left + right) / 2 - size / 2, y: (low + high) / 2, size };
  });
  const x = (m: number) => ((m - box.x) / box.size) * WIDE;
  const y = (m: number) => HIGH / 2 - ((m - box.y) / box.size) * WIDE;
  /** At most so many marks are drawn. */
  const some = $derived.by(() => {
    const count = Math.min(photos, 25);
    return Array.from({ length: count }, (_, i) => (count > 1 ? i / (count - 1) : 0));
  });
  const metres = $derived(10 ** Math.floor(Math.log10(box.size / 3)));
</script>

<svg
  viewBox="0 0 {WIDE} {HIGH}"
  class="border-line bg-card my-1 w-full border"
  role="img"
  aria-label="The path from above, with marks along it"
  font-size="11"
  fill="var(--soft)"
>
  {#if aim}
    {#each [0, 1] as at (at)}
      <path
        d="M{x(end.x * at)} {y(end.y * at)}L{x(aim.x)} {y(aim.y)}"
        stroke="var(--line)"
        stroke-dasharray="4 3"
      />
    {/each}
  {/if}
  {#each things as thing (thing.id)}
    <path
      d="M{x(thing.x - thing.wide / 2)} {y(thing.y)}H{x(thing.x + thing.wide / 2)}"
      stroke={thing.id === lapse.aim_id ? 'var(--ink)' : 'var(--soft)'}
      stroke-width="3"
    />
    <text x={x(thing.x)} y={y(thing.y) - 5} text-anchor="middle">{thing.name}</text>
  {/each}
  <path d="M{x(0)} {y(0)}L{x(end.x)} {y(end.y)}" stroke="var(--ochre)" stroke-width="2" />
  {#each some as at (at)}
    <circle cx={x(end.x * at)} cy={y(end.y * at)} r="2.5" fill="var(--ochre-ink)" />
  {/each}
  <text x={x(0)} y={y(0) + 14} text-anchor="middle">first</text>
  <text x={x(end.x)} y={y(end.y) + 14} text-anchor="middle">last</text>
  <path d="M8 {HIGH - 8}h{(metres / box.size) * WIDE}" stroke="var(--ink)" stroke-width="2" />
  <text x="8" y={HIGH - 13}>{metres} m</text>
</svg>
