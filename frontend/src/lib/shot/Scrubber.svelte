<script lang="ts">
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import type { OpenShot } from './open-shot.svelte';

  type Props = { bench: OpenShot };
  let { bench }: Props = $props();
  const frames = $derived(bench.frames);
  const frame = $derived(1 + Math.round(bench.at * (frames - 1)));
  let playing = $state(false);

  function go(to: number) {
    bench.at = frames > 1 ? Math.min(Math.max((to - 1) / (frames - 1), 0), 1) : 0;
  }
  $effect(() => {
    if (!playing) return;
    const seconds = bench.shot.draft.screen_time_s ?? 4;
    const start = performance.now() - (bench.at >= 1 ? 0 : bench.at) * seconds * 1000;
    let next = requestAnimationFrame(function step(now) {
      const part = (now - start) / 1000 / seconds;
      bench.at = Math.min(part, 1);
      if (part >= 1) playing = false;
      else next = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(next);
  });
</script>

<div class="border-line flex items-center gap-2 border-b px-2">
  <button
    class="min-h-7 min-w-7"
    aria-label={playing ? 'Hold' : 'Play'}
    title={playing ? 'Hold' : 'Play at screen time'}
    onclick={() => (playing = !playing)}
  >
    {#if playing}<Pause size={15} />{:else}<Play size={15} />{/if}
  </button>
  <input
    type="range"
    class="grow"
    min="1"
    max={frames}
    step="1"
    value={frame}
    aria-label="Screen time"
    aria-valuetext={`frame ${frame} of ${frames}`}
    oninput={(event) => {
      playing = false;
      go(Number(event.currentTarget.value));
    }}
  />
  <output class="w-32 text-right text-sm" data-testid="frame-number">
    frame {frame} of {frames}
  </output>
</div>
