<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { PictureDesk } from './desk.svelte';
  import { inShort, type Facts } from './facts';

  /** A picture as a small card shows it. */
  let { desk, picture }: { desk: PictureDesk; picture: Picture } = $props();
  const middle = $derived(picture.looks[Math.floor(picture.looks.length / 2)]);
  const words = $derived(
    picture.elsewhere
      ? 'on your own disk'
      : picture.state === 'coming'
        ? `${Math.floor((100 * picture.received) / Math.max(picture.size, 1))} % here`
        : picture.reading
          ? 'being looked at'
          : picture.facts
            ? inShort(picture.facts as Facts)
            : 'cannot be read',
  );
</script>

{#if middle !== undefined}
  <img
    src={desk.look(picture, middle)}
    alt=""
    loading="lazy"
    class="bg-well h-18 w-full object-contain"
  />
{:else}
  <span class="bg-well text-soft grid h-18 place-items-center text-xs">no picture yet</span>
{/if}
<span class="mt-0.5 flex items-center gap-1">
  {#if picture.verdict}<VerdictMark verdict={picture.verdict} size={16} />{/if}
  <span class="truncate text-sm">{picture.name}</span>
</span>
<span class="text-soft block truncate text-xs"
  >{picture.role === 'reference' ? 'for reference, ' : ''}{words}</span
>
