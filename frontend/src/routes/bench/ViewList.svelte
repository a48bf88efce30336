<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import { say } from '../../lib/quantities';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import { FIRST_VIEW } from '../../lib/shot/views';

  /** The cameras of a shot that has several, to take one in hand. */
  let { bench }: { bench: OpenShot } = $props();
  const whole = $derived(bench.whole.draft);
  const rows = $derived([
    { id: null, name: FIRST_VIEW, camera: whole },
    ...bench.views.map((view) => ({ id: view.id, name: view.name, camera: view })),
  ]);
</script>

<div role="group" aria-label="Views of this shot" class="border-line border-b">
  {#each rows as row (row.id)}
    {@const here = (bench.view?.id ?? null) === row.id}
    <button
      class={[
        'flex w-full items-baseline gap-1.5 border-l-4 px-2 py-1 text-left text-sm',
        here ? 'border-ochre bg-well font-semibold' : 'border-transparent',
      ]}
      aria-pressed={here}
      onclick={() => bench.look(row.id)}
    >
      <span class="min-w-0 grow truncate">{row.name}</span>
      <span class="text-soft shrink-0 text-xs font-normal">
        {say(row.camera.focal_mm ?? 35, 'mm')}, {say(row.camera.screen_time_s ?? 4, 'seconds')}
      </span>
    </button>
  {/each}
  {#if bench.editable && rows.length < 9}
    <button
      class="text-soft flex w-full items-center gap-1 px-3 py-1 text-left text-sm"
      onclick={() => bench.making.addView()}><Plus size={14} /> Another view</button
    >
  {/if}
</div>
