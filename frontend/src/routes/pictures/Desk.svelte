<script lang="ts">
  import type { Snippet } from 'svelte';
  import { isTyping } from '../../lib/edit/history.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import UndoRedo from '../../lib/ui/UndoRedo.svelte';
  import type { PictureDesk } from './desk.svelte';
  import Thumb from './Thumb.svelte';

  type Props = {
    production: string;
    /** The shot whose room this is; without it the production's. */
    shot?: string;
    /** Null while it is being opened. */
    desk: PictureDesk | null;
    /** Why it cannot be opened. */
    problem: string;
    crumbs: { name: string; href?: string }[];
    /** The room we are in. Default: Pictures. */
    here?: string;
    testid: string;
    /** What further keys do. */
    keys?: Record<string, () => void>;
    /** The pictures, and beside them the one in hand. */
    children: Snippet<[PictureDesk]>;
    side: Snippet<[PictureDesk]>;
  };
  let {
    production,
    shot,
    desk,
    problem,
    crumbs,
    here = 'pictures',
    testid,
    keys = {},
    children,
    side,
  }: Props = $props();

  function key(event: KeyboardEvent) {
    if (!desk || isTyping(event) || desk.history.take(event)) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const opened = desk;
    const known = { '.': () => opened.step(1), ',': () => opened.step(-1), ...keys };
    const step = known[event.key as keyof typeof known];
    if (!step) return;
    event.preventDefault();
    step();
  }
</script>

<svelte:window onkeydown={key} />
<TopStrip {crumbs}>
  <Rooms {production} {shot} {here} />
  {#if desk}
    <UndoRedo
      undo={desk.history.canUndo ? desk.history.undoLabel : null}
      redo={desk.history.canRedo ? desk.history.redoLabel : null}
      onundo={() => desk?.history.undo()}
      onredo={() => desk?.history.redo()}
    />
    <SavedMark />
  {/if}
</TopStrip>

{#if problem}
  <main class="p-8"><p role="alert">{problem}</p></main>
{:else if desk?.page}
  {@const d = desk}
  <!-- What lies under a notice can be scrolled out from under it. -->
  <main
    class={[
      'grid grid-cols-[minmax(0,1fr)] gap-4 p-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,34rem)]',
      d.notice && 'pb-16',
    ]}
    data-testid={testid}
  >
    <div class="min-w-0">
      {#if d.notice}
        <!-- Over the page: what is under a hand stays where it is. -->
        <p
          role="alert"
          class="border-line bg-paper fixed inset-x-0 bottom-0 z-30 flex gap-3 border-t p-3 font-semibold"
        >
          {d.notice}
          <button class="underline" onclick={() => (d.notice = '')}>Understood</button>
        </p>
      {/if}
      {@render children(d)}
      {#if d.bin.length > 0}
        <details class="border-line mt-2 border-t py-2">
          <summary>In the bin: {d.bin.length}</summary>
          <p class="text-soft text-sm">Kept for thirty days, then deleted for good.</p>
          <div class="mt-1 flex flex-wrap gap-2">
            {#each d.bin as picture (picture.id)}<Thumb desk={d} {picture} />{/each}
          </div>
        </details>
      {/if}
    </div>
    <div class="lg:sticky lg:top-2 lg:max-h-[calc(100dvh-4rem)] lg:self-start lg:overflow-y-auto">
      {@render side(d)}
    </div>
  </main>
{:else}
  <p class="text-soft p-8">Loading</p>
{/if}
