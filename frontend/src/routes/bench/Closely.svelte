<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import Dated from '../../lib/shot/Dated.svelte';
  import type { Developing } from '../../lib/shot/developing.svelte';
  import type { Plate } from '../../lib/shot/plan';

  type Props = { desk: Developing; record: SavedRecord<Plate>; frame: number };
  let { desk, record, frame }: Props = $props();

  const picture = $derived(desk.closely(record.id));
  const work = $derived(desk.close(record.id));
  const stands = $derived(picture !== null && desk.stands(picture));
</script>

{#if picture || work.open || work.problem || work.job?.state === 'failed'}
  <figure class="mt-3" aria-label="Pixel for pixel, as the card keeps it">
    <figcaption class="mb-1 flex flex-wrap items-baseline gap-x-3">
      <b>Pixel for pixel, as the card keeps it</b>
      <Dated {picture} {frame} {stands} />
      {#if work.open}
        <progress value={work.job?.part ?? 0} max="1" aria-label="Looking closely"></progress>
        <button class="text-sm underline" onclick={() => void work.cancel()}>Stop</button>
      {/if}
    </figcaption>
    {#if picture}
      <img
        src={desk.address(picture)}
        width={picture.width_px}
        height={picture.height_px}
        alt="A place of {record.draft.name} pixel for pixel, frame {picture.frame}"
        class={[
          'border-line [image-rendering:pixelated] w-full max-w-[60rem] border',
          !stands && 'opacity-45',
        ]}
        data-testid="closely"
        data-stands={stands}
      />
      {#each picture.remarks as remark (remark)}
        <p class="text-soft mt-1 text-sm">{remark}</p>
      {/each}
    {/if}
    <p class="text-soft max-w-prose text-sm">
      {picture?.width_px ?? 480} pixels of the recording across, with the grain, bits, colour samples
      and compression of its mode. Compression is H.264 with the mode’s bits shared evenly over the picture,
      of a camera that stands: what moves suffers more.
    </p>
    {#if work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
  </figure>
{/if}
