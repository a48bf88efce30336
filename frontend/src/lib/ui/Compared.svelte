<script lang="ts" module>
  export type Way = 'beside' | 'wipe' | 'blink' | 'difference';
  export const WAYS: { key: Way; name: string; hint: string }[] = [
    {
      key: 'beside',
      name: 'Beside',
      hint: 'Both pictures, one under the other where it is narrow',
    },
    {
      key: 'wipe',
      name: 'Wipe',
      hint: 'The first to the left of the line, the second to its right',
    },
    { key: 'blink', name: 'Blink', hint: 'One after the other, or held with a press' },
    { key: 'difference', name: 'Difference', hint: 'Black where both agree' },
  ];
</script>

<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Clips } from './clips.svelte';

  type Side = { src: string; name: string; alt: string };
  type Props = {
    first: Side;
    second: Side;
    way: Way;
    /** Width to height of both. */
    aspect: string;
    /** What is drawn over both. */
    marks?: Snippet;
    /** Where the line of the wipe stands at first, percent from the left. */
    begin?: number;
    /** Both are clips, which are looked at by this. */
    clips?: Clips;
  };
  let { first, second, way, aspect, marks, begin = 50, clips }: Props = $props();
  // svelte-ignore state_referenced_locally
  let line = $state(begin);
  /** Whether the second is what a blink shows now. */
  let other = $state(false);
  const still = $derived(
    typeof matchMedia === 'function' && matchMedia('(prefers-reduced-motion: reduce)').matches,
  );
  $effect(() => {
    if (way !== 'blink' || still) return;
    const timer = setInterval(() => (other = !other), 700);
    return () => clearInterval(timer);
  });
</script>

{#snippet picture(side: Side)}
  {#if clips}
    {#key side.src}
      <video
        src={side.src}
        aria-label={side.alt}
        class="block h-full w-full object-fill"
        muted
        loop
        playsinline
        {@attach clips.join}
      ></video>
    {/key}
  {:else}
    <img src={side.src} alt={side.alt} class="block h-full w-full object-fill" />
  {/if}
{/snippet}
{#if way === 'beside'}
  <div class="grid gap-3 lg:grid-cols-2">
    {#each [first, second] as side (side.name)}
      <figure>
        <figcaption class="mb-1 font-semibold">{side.name}</figcaption>
        <div class="border-line relative border" style:aspect-ratio={aspect}>
          {@render picture(side)}
          {@render marks?.()}
        </div>
      </figure>
    {/each}
  </div>
{:else}
  <div
    class="border-line relative mx-auto max-h-[68vh] max-w-full overflow-hidden border"
    style:aspect-ratio={aspect}
    data-testid="compared"
    data-way={way}
  >
    {@render picture(first)}
    <div
      class={['absolute inset-0', way === 'difference' && 'mix-blend-difference']}
      style:clip-path={way === 'wipe' ? `inset(0 0 0 ${line}%)` : undefined}
      style:visibility={way === 'blink' && !other ? 'hidden' : undefined}
    >
      {@render picture(second)}
    </div>
    {#if way === 'wipe'}
      <div class="bg-ink pointer-events-none absolute inset-y-0 w-px" style:left="{line}%"></div>
    {/if}
    {#if way !== 'difference'}{@render marks?.()}{/if}
  </div>
  {#if way === 'wipe'}
    <input
      type="range"
      class="mx-auto mt-2 block w-full max-w-3xl"
      min="0"
      max="100"
      bind:value={line}
      aria-label="Where the line of the wipe is"
    />
  {:else if way === 'blink'}
    <p class="mt-2 text-center">
      <button class="btn" onclick={() => (other = !other)}
        >{other ? second.name : first.name}</button
      >
    </p>
  {/if}
{/if}
{#if clips}
  <div class="mt-2 flex items-center gap-3">
    <button class="btn w-20" onclick={() => clips.toggle()}
      >{clips.playing ? 'Stop' : 'Play'}</button
    >
    <input
      type="range"
      class="grow"
      min="0"
      max={clips.length}
      step="any"
      value={clips.at}
      oninput={(event) => clips.stand(event.currentTarget.valueAsNumber)}
      aria-label="Moment of the clip"
      aria-valuetext="{clips.at.toFixed(1)} of {clips.length.toFixed(1)} seconds"
    />
    <output class="text-sm whitespace-nowrap tabular-nums"
      >{clips.at.toFixed(1)} of {clips.length.toFixed(1)} s</output
    >
  </div>
{/if}
