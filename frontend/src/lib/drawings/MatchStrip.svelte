<script lang="ts">
  /** Days from left to right, hours from the bottom up: the darker, the more minutes match. */
  type Props = {
    /** The first day, `2026-11-28`. */
    first: string;
    /** Minutes that match, by day and hour. */
    strip: readonly (readonly number[])[];
    chosen: string;
    onchoose: (date: string) => void;
  };
  let { first, strip, chosen, onchoose }: Props = $props();
  let width = $state(480);
  const HEIGHT = 116;
  const foot = 16;
  const left = 22;
  const day0 = $derived(Date.parse(`${first}T00:00:00Z`));
  const dateOf = (i: number) => new Date(day0 + i * 86_400_000).toISOString().slice(0, 10);
  const hours = $derived.by(() => {
    let low = 24;
    let high = 0;
    for (const row of strip)
      row.forEach((m, h) => {
        if (m > 0) {
          low = Math.min(low, h);
          high = Math.max(high, h + 1);
        }
      });
    return low < high
      ? { low: Math.max(low - 1, 0), high: Math.min(high + 1, 24) }
      : { low: 6, high: 20 };
  });
  const cell = $derived((width - left) / Math.max(strip.length, 1));
  const tall = $derived((HEIGHT - foot) / (hours.high - hours.low));
  const x = (i: number) => left + i * cell;
  const y = (h: number) => HEIGHT - foot - (h - hours.low + 1) * tall;
  const cells = $derived(
    strip.flatMap((row, i) =>
      row.flatMap((minutes, h) => (minutes > 0 ? [{ i, h, minutes }] : [])),
    ),
  );
  const months = $derived(
    strip
      .map((_, i) => ({ i, date: dateOf(i) }))
      .filter(({ i, date }) => i === 0 || date.endsWith('-01'))
      .map(({ i, date }) => ({
        i,
        name: new Date(`${date}T12:00:00Z`).toLocaleString('en-GB', {
          month: 'short',
          timeZone: 'UTC',
        }),
      })),
  );
  const index = $derived(Math.round((Date.parse(`${chosen}T00:00:00Z`) - day0) / 86_400_000));
  const total = $derived(strip[index]?.reduce((a, b) => a + b, 0) ?? 0);
  function choose(event: PointerEvent & { currentTarget: Element }) {
    const box = event.currentTarget.getBoundingClientRect();
    const i = Math.floor((event.clientX - box.left - left) / cell);
    if (i >= 0 && i < strip.length) onchoose(dateOf(i));
  }
  function key(event: KeyboardEvent) {
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!step) return;
    event.preventDefault();
    onchoose(dateOf(Math.min(Math.max(index + step, 0), strip.length - 1)));
  }
</script>

<div bind:clientWidth={width} class="mt-2">
  <svg
    {width}
    height={HEIGHT}
    class="block cursor-pointer"
    role="slider"
    tabindex="0"
    aria-label="Days and hours that match the story's light"
    aria-valuemin={0}
    aria-valuemax={strip.length - 1}
    aria-valuenow={Math.min(Math.max(index, 0), strip.length - 1)}
    aria-valuetext={`${chosen}: ${total} minutes`}
    data-testid="match-strip"
    onpointerdown={choose}
    onkeydown={key}
  >
    <rect
      x={left}
      y="0"
      width={Math.max(width - left, 0)}
      height={HEIGHT - foot}
      fill="var(--card)"
      stroke="var(--line)"
    />
    {#each Array.from({ length: hours.high - hours.low + 1 }, (_, k) => hours.low + k).filter((h) => h % 2 === 0) as hour (hour)}
      <text x="0" y={HEIGHT - foot - (hour - hours.low) * tall + 3} font-size="9" fill="var(--soft)"
        >{String(hour).padStart(2, '0')}</text
      >
    {/each}
    {#each cells as c (`${c.i}-${c.h}`)}
      <rect
        x={x(c.i)}
        y={y(c.h)}
        width={cell + 0.3}
        height={tall + 0.3}
        fill="var(--ochre)"
        fill-opacity={0.2 + 0.8 * (c.minutes / 60)}
      />
    {/each}
    {#each months as month (month.i)}
      <path d="M{x(month.i)} 0V{HEIGHT - foot + 4}" stroke="var(--soft)" stroke-width=".6" />
      <text x={x(month.i) + 2} y={HEIGHT - 3} font-size="10" fill="var(--soft)">{month.name}</text>
    {/each}
    {#if index >= 0 && index < strip.length}
      <rect
        x={x(index)}
        y="0"
        width={Math.max(cell, 2)}
        height={HEIGHT - foot}
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.4"
      />
    {/if}
  </svg>
</div>
