<script lang="ts">
  import type { Schemas } from '../api/client';
  import { bytes, dropped, grouped, leftOut, type Group } from './groups';

  type Props = {
    /** What is dropped here: said to a screen reader, and in tests. */
    label: string;
    /** What a person reads. */
    hint?: string;
    /** A tile as large as a picture, at the end of a row of them. Default false. */
    tile?: boolean;
    /** Whether a phone's own camera is offered. Default false. */
    camera?: boolean;
    /** Whether a folder can be chosen. Default false. */
    folder?: boolean;
    quota?: Schemas['Quota'] | null;
    onfiles: (groups: Group[], byCamera: boolean) => void;
  };
  let {
    label,
    hint = '',
    tile = false,
    camera = false,
    folder = false,
    quota = null,
    onfiles,
  }: Props = $props();
  const button = $derived(tile ? 'underline cursor-pointer px-1' : 'btn min-h-11 sm:min-h-8');
  let over = $state(false);
  let notice = $state('');
  const id = $props.id();

  function take(files: File[] | FileList | null, byCamera = false) {
    const every = [...(files ?? [])];
    notice = leftOut(every);
    const groups = grouped(every);
    if (groups.length > 0) onfiles(groups, byCamera);
  }
  async function drop(event: DragEvent) {
    event.preventDefault();
    over = false;
    if (event.dataTransfer) take(await dropped(event.dataTransfer));
  }
  function chosen(event: Event & { currentTarget: HTMLInputElement }, byCamera = false) {
    take(event.currentTarget.files, byCamera);
    // The same file may be chosen again.
    event.currentTarget.value = '';
  }
</script>

<div
  role="group"
  aria-label={label}
  data-testid="drop"
  class={[
    'border border-dashed',
    tile
      ? [
          notice ? 'w-56' : 'w-24',
          'text-soft flex min-h-24 shrink-0 flex-col px-1 items-center justify-center gap-2 text-sm',
        ]
      : 'flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-2',
    over ? 'border-ochre bg-well' : 'border-line',
  ]}
  ondragover={(event) => {
    event.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(event) => void drop(event)}
>
  {#if !tile}<p class="text-soft min-w-40 flex-1 text-sm">{hint}</p>{/if}
  <label class={button} for="{id}-files">{tile ? 'Add files' : 'Choose files'}</label>
  <input
    id="{id}-files"
    type="file"
    multiple
    class="sr-only"
    aria-label="{label}: files"
    onchange={chosen}
  />
  {#if folder}
    <label class="{button} max-sm:hidden!" for="{id}-folder">A folder</label>
    <input
      id="{id}-folder"
      type="file"
      webkitdirectory
      class="sr-only"
      aria-label="{label}: a folder"
      onchange={chosen}
    />
  {/if}
  {#if camera}
    <label class={button} for="{id}-camera">Photograph it</label>
    <input
      id="{id}-camera"
      type="file"
      accept="image/*"
      capture="environment"
      class="sr-only"
      aria-label="{label}: photograph"
      onchange={(event) => chosen(event, true)}
    />
  {/if}
  {#if notice}
    <p role="alert" class="text-ink w-full text-sm font-semibold wrap-anywhere">{notice}</p>
  {/if}
  {#if quota}
    <p class="text-soft w-full text-xs">
      {bytes(quota.used)} of {bytes(quota.most)} used by this production
    </p>
  {/if}
</div>

<style>
  /* The field is out of sight; its label shows that it is in hand. */
  label:has(+ input:focus-visible) {
    outline: 2px solid var(--ochre-ink);
    outline-offset: 1px;
  }
</style>
