<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { QUIET } from '../../lib/pictures/loud';
  import { louder, outline, reach, type Ran, type Step } from './run';

  type Props = {
    rows: Schemas['RowsOut'];
    ran: Ran;
    claps: Schemas['Clap'][];
    /** Pixels that the recording is wide. */
    wide: number;
    /** The frame that is looked at, from 1. */
    frame: number;
    onframe: (frame: number) => void;
  };
  let { rows, ran, claps, wide, frame, onframe }: Props = $props();

  const WIDE = 560;
  const LEFT = 46;
  const RIGHT = WIDE - 8;
  const HIGH = 46;
  const GAP = 20;
  const steps = (name: keyof Schemas['RowsOut']) => rows[name] as Step[];
  const px = (row: Step[]): Step[] =>
    row.map(([low, high]) => [
      low === null ? null : low * wide,
      high === null ? null : high * wide,
    ]);
  const strips = $derived.by(() => {
    const place = [px(steps('across')), px(steps('down'))];
    const light = steps('light');
    const moved = steps('moved').map(([low, high]): Step => [
      low === null ? null : low * 100,
      high === null ? null : high * 100,
    ]);
    const shown = [
      {
        name: 'Light against the first frame',
        unit: '%',
        lines: [light],
        reach: reach([light], 1),
        from: -1,
      },
      {
        name: 'Where the picture lies: across, and down (dashed)',
        unit: 'px',
        lines: place,
        reach: reach(place, 1),
        from: -1,
      },
      {
        name: 'Part of the picture in which something is that mostly is not',
        unit: '%',
        lines: [moved],
        reach: reach([moved], 5),
        from: 0,
      },
    ];
    if (rows.loud.length > 0) {
      shown.push({
        name: `Sound, from ${QUIET} dB under full scale`,
        unit: 'dB',
        lines: [louder(rows.loud as Step[])],
        reach: QUIET,
        from: 0,
      });
    }
    return shown;
  });
  const high = $derived(strips.length * (HIGH + GAP) + 16);
  /** Frames lie in the middle of their place. */
  const x = (at: number) => LEFT + ((at - 0.5) / Math.max(rows.frames, 1)) * (RIGHT - LEFT);
  const stepX = (n: number, of: number) => LEFT + ((n + 0.5) / of) * (RIGHT - LEFT);
  const top = (n: number) => n * (HIGH + GAP) + 16;
  function y(strip: (typeof strips)[number], n: number) {
    const low = strip.from * strip.reach;
    return (value: number) => top(n) + HIGH - ((value - low) / (strip.reach - low)) * HIGH;
  }
  const ticks = $derived.by(() => {
    const step = [1, 2, 5, 10, 24, 48, 120, 240, 480, 1200, 2400, 12000, 48000].find(
      (one) => rows.frames / one <= 8,
    );
    const every = step ?? 100_000;
    return Array.from({ length: Math.floor(rows.frames / every) }, (_, n) => (n + 1) * every);
  });
  const told = (value: number) => (value >= 10 ? value.toFixed(0) : value.toFixed(1));
  const summary = $derived(
    `Frame by frame: light within ${told(strips[0]?.reach ?? 0)} %, ` +
      `the picture within ${told(strips[1]?.reach ?? 0)} px of where it lay, ` +
      `something in up to ${told(strips[2]?.reach ?? 0)} % of it.`,
  );
  function pick(event: PointerEvent & { currentTarget: SVGSVGElement }) {
    const box = event.currentTarget.getBoundingClientRect();
    const at = ((event.clientX - box.left) / box.width) * WIDE;
    const part = (at - LEFT) / (RIGHT - LEFT);
    if (part < 0 || part > 1) return;
    onframe(Math.min(Math.floor(part * rows.frames) + 1, rows.frames));
  }
</script>

<svg
  viewBox="0 0 {WIDE} {high}"
  class="w-full cursor-pointer touch-pan-y"
  role="img"
  aria-label={summary}
  data-testid="run-plot"
  onpointerdown={pick}
>
  {#each strips as strip, n (strip.name)}
    {@const at = y(strip, n)}
    <text x={LEFT} y={top(n) - 4} font-size="11" fill="var(--soft)">{strip.name}</text>
    <rect x={LEFT} y={top(n)} width={RIGHT - LEFT} height={HIGH} fill="var(--well)" />
    <path d="M{LEFT} {at(0)}H{RIGHT}" stroke="var(--line)" />
    <text x={LEFT - 4} y={top(n) + 9} font-size="10" text-anchor="end" fill="var(--soft)"
      >{told(strip.reach)} {strip.unit}</text
    >
    {#each strip.lines as line, which (which)}
      <path
        d={outline(line, (k) => stepX(k, line.length), at)}
        fill={strip.from === 0 ? 'var(--soft)' : 'none'}
        stroke="var(--ink)"
        stroke-width="1.2"
        stroke-dasharray={which === 1 ? '4 2' : undefined}
      />
    {/each}
  {/each}
  {#each ran.jumps as jump (jump.frame)}
    <path d="M{x(jump.frame)} {top(1) + HIGH}l-4 6h8z" fill="var(--ochre)">
      <title>Jump at frame {jump.frame}</title>
    </path>
  {/each}
  {#each ran.doubles as double (double)}
    <path d="M{x(double)} {top(2) + HIGH}l-4 6h8z" fill="var(--ochre)">
      <title>Frame {double} was taken twice</title>
    </path>
  {/each}
  {#if strips.length > 3}
    {#each claps as clap (clap.at_s)}
      <path d="M{x(clap.frame)} {top(3) + HIGH}l-4 6h8z" fill="var(--ochre)">
        <title>Clap at frame {clap.frame}</title>
      </path>
    {/each}
  {/if}
  {#if ran.light && Math.abs(ran.light.percent) > 1}
    <path d="M{x(ran.light.frame)} {top(0) + HIGH}l-4 6h8z" fill="var(--ochre)">
      <title>Frame {ran.light.frame} stands out</title>
    </path>
  {/if}
  <path d="M{x(frame)} {top(0)}V{high - 14}" stroke="var(--ochre)" stroke-width="1.5" />
  {#each ticks as tick (tick)}
    <text x={x(tick)} y={high - 2} font-size="10" text-anchor="middle" fill="var(--soft)"
      >{tick.toLocaleString()}</text
    >
  {/each}
</svg>
