<script lang="ts">
  import { untrack } from 'svelte';
  import type { Schemas } from '../../lib/api/client';
  import { pathOf } from '../../lib/drawings/geometry';
  import type { Player } from './player.svelte';
  import type { Source } from './sources';
  import type { Shown, Table } from './table.svelte';
  import { decoded } from './timing';

  /** What is laid over the live picture: nothing, the pictures beside it, what differs from the one
   * before, or that one in turn with it. */
  export type Over = 'plain' | 'ghosts' | 'difference' | 'blink';
  type Props = {
    table: Table;
    player: Player;
    source: Source | null;
    over: Over;
    /** How many pictures before are laid over, and how strongly, 0..1. */
    ghosts: number;
    strength: number;
    grid: boolean;
    /** The planned outlines at this frame, in delivered pixels; none. */
    outlines: Schemas['Outline'][];
    widthPx: number;
    heightPx: number;
    /** What changed in the picture in hand, drawn as boxes. */
    places: Schemas['Place'][];
  };
  let {
    table,
    player,
    source,
    over,
    ghosts,
    strength,
    grid,
    outlines,
    widthPx,
    heightPx,
    places,
  }: Props = $props();

  let canvas = $state<HTMLCanvasElement>();
  const BLINK_MS = 350;
  const url = (shown: Shown) => table.look(shown.block.id, shown.row.number);
  /** Pictures that are laid over, decoded: the nearest last, so that it lies on top. */
  let laid = $state.raw<ImageBitmap[]>([]);
  const wanted = $derived.by(() => {
    if (over === 'plain') return [];
    const count = over === 'ghosts' ? ghosts : 1;
    const put = table.aim.kind === 'end' ? 0 : 1;
    return table.around(count, over === 'ghosts' ? put : 0).map(url);
  });
  $effect(() => {
    const urls = wanted;
    let left = false;
    void Promise.all(urls.map(decoded))
      .then((bitmaps) => {
        const before = left ? bitmaps : laid;
        if (!left) laid = bitmaps;
        before.forEach((bitmap) => bitmap.close());
      })
      .catch(() => undefined);
    return () => {
      left = true;
    };
  });
  /** The picture in hand; null while the camera is looked through. */
  let still = $state.raw<ImageBitmap | null>(null);
  const inHand = $derived(table.inHand);
  const inHandUrl = $derived(inHand && url(inHand));
  $effect(() => {
    const shown = inHandUrl;
    if (!shown) return;
    let left = false;
    void decoded(shown)
      .then((bitmap) => {
        if (left) bitmap.close();
        else still = bitmap;
      })
      .catch(() => undefined);
    return () => {
      left = true;
      const before = untrack(() => still);
      still = null;
      before?.close();
    };
  });

  $effect(() => {
    const context = canvas?.getContext('2d');
    if (!canvas || !context) return;
    const paper = canvas;
    let next = requestAnimationFrame(function draw(now) {
      next = requestAnimationFrame(draw);
      const shown = player.playing ? player.picture : still;
      const image = shown ?? (inHand || player.playing ? null : source?.live);
      if (!image) {
        if (!inHand && !player.playing) context.clearRect(0, 0, paper.width, paper.height);
        return;
      }
      const size = shown ?? source?.size;
      const [width, height] = [Number(size?.width) || 640, Number(size?.height) || 360];
      if (paper.width !== width || paper.height !== height) {
        paper.width = width;
        paper.height = height;
      }
      context.globalAlpha = 1;
      context.globalCompositeOperation = 'source-over';
      context.drawImage(image, 0, 0, width, height);
      if (player.playing || inHand) return;
      if (over === 'blink') {
        if (laid[0] && Math.floor(now / BLINK_MS) % 2)
          context.drawImage(laid[0], 0, 0, width, height);
      } else if (over === 'difference') {
        if (laid[0]) {
          context.globalCompositeOperation = 'difference';
          context.drawImage(laid[0], 0, 0, width, height);
          // Eight times as bright: what differs by a little is what is looked for.
          context.globalCompositeOperation = 'lighter';
          for (let n = 0; n < 3; n += 1) context.drawImage(paper, 0, 0);
        }
      } else if (over === 'ghosts') {
        laid.forEach((ghost, i) => {
          context.globalAlpha = (strength * (i + 1)) / laid.length;
          context.drawImage(ghost, 0, 0, width, height);
        });
      }
    });
    return () => {
      cancelAnimationFrame(next);
      untrack(() => laid).forEach((bitmap) => bitmap.close());
      laid = [];
    };
  });
</script>

<div
  class="bg-shade relative mx-auto max-h-full w-full overflow-hidden"
  style:aspect-ratio="{widthPx} / {heightPx}"
  style:max-width="calc((100dvh - 27rem) * {widthPx / heightPx})"
  data-testid="finder"
  data-shows={player.playing ? 'film' : inHand ? 'picture' : 'live'}
  data-laid={laid.length}
  data-late={player.late}
>
  <canvas
    bind:this={canvas}
    class="block h-full w-full object-contain"
    aria-label={inHand ? `Picture ${inHand.picture}` : 'What the camera sees'}
  ></canvas>
  <svg
    class="pointer-events-none absolute inset-0 h-full w-full"
    viewBox="0 0 {widthPx} {heightPx}"
    aria-hidden="true"
  >
    {#if grid}
      <g stroke="#fff" stroke-opacity="0.45" fill="none" data-layer="grid">
        {#each [1 / 3, 2 / 3] as part (part)}
          <path
            d="M{part * widthPx} 0v{heightPx}M0 {part * heightPx}h{widthPx}"
            vector-effect="non-scaling-stroke"
          />
        {/each}
      </g>
    {/if}
    <g fill="none" stroke="var(--ochre)" stroke-dasharray="6 4" data-layer="outlines">
      {#each outlines as outline (outline.stand_in_id)}
        {#each outline.paths as path, i (i)}
          <path d={pathOf(path)} vector-effect="non-scaling-stroke" />
        {/each}
      {/each}
    </g>
    {#if !player.playing}
      {#each places as place, i (i)}
        <rect
          x={place.left * widthPx}
          y={place.top * heightPx}
          width={(place.right - place.left) * widthPx}
          height={(place.bottom - place.top) * heightPx}
          fill="none"
          stroke="#fff"
          stroke-dasharray="2 3"
          vector-effect="non-scaling-stroke"
        />
      {/each}
    {/if}
  </svg>
  <p class="absolute top-1 left-1 bg-black/60 px-1.5 text-sm text-white">
    {#if player.playing}frame {player.frame}{:else if inHand}picture {inHand.picture}{:else}live{/if}
  </p>
</div>
