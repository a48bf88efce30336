<script lang="ts">
  import { closer, WHOLE } from '../../lib/drawings/zoom';
  import type { BenchView, Layers } from './view.svelte';

  type Props = {
    view: BenchView;
    /** Whether air and shadows say anything in this shot. */
    air: boolean;
    shadows: boolean;
    /** Whether a reframe is known to show. */
    fit: boolean;
    /** Whether there are dividers, cuts, flights or a crowd. */
    marks: boolean;
  };
  let { view, air, shadows, fit, marks }: Props = $props();
  const names = $derived(
    (
      [
        ['tone', 'Tone', true],
        ['world', 'World', true],
        ['thirds', 'Thirds', true],
        ['whiskers', 'Departures', true],
        ['shadows', 'Shadows', shadows],
        ['air', 'Air', air],
        ['marks', 'Lines', marks],
        ['fitted', 'After the reframe', fit],
      ] as [keyof Layers, string, boolean][]
    ).filter(([, , there]) => there),
  );
</script>

<div class="border-line flex flex-wrap items-center gap-x-2.5 border-b px-2 text-sm">
  {#each names as [layer, name] (layer)}
    <label class="flex min-h-7 items-center gap-1">
      <input type="checkbox" checked={view.layers[layer]} onchange={() => view.toggle(layer)} />
      {name}
    </label>
  {/each}
  <span class="grow"></span>
  <label class="flex min-h-7 items-center gap-1" title="One delivered pixel for each screen pixel">
    <input type="checkbox" bind:checked={view.loupe} />
    Loupe 1:1
  </label>
  <button
    class="min-h-7 min-w-7"
    aria-label="Frame farther"
    title="Farther (-)"
    onclick={() => (view.frame = closer(view.frame, 1 / 1.5))}>−</button
  >
  <button
    class="min-h-7 min-w-7"
    aria-label="Frame closer"
    title="Closer (+)"
    onclick={() => (view.frame = closer(view.frame, 1.5))}>+</button
  >
  <button
    class="min-h-7 underline disabled:no-underline disabled:opacity-50"
    disabled={view.frame.k === 1}
    title="The whole frame (0)"
    onclick={() => (view.frame = WHOLE)}>Whole</button
  >
</div>
