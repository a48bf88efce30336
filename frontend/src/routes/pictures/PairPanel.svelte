<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import { LongWork } from '../../lib/jobs/long-work.svelte';
  import { watched } from '../../lib/jobs/watched.svelte';
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import type { Area } from './area';

  type Props = {
    production: string;
    first: Picture;
    firstFrame: number;
    second: Picture;
    secondFrame: number;
    /** The part of both that is laid on each other; null for all of it. */
    area: Area | null;
    /** Where the drawing of what changed lies; null to take it off. */
    onoverlay: (src: string | null) => void;
  };
  /** `changed`: null where they do not lie on each other at all, and why (`apart`). */
  type Measured = { findings: Schemas['Finding'][]; changed: number | null; apart: string };
  let { production, first, firstFrame, second, secondFrame, area, onoverlay }: Props = $props();
  let measured = $state.raw<Measured | null>(null);
  let drawn = $state(false);
  const work = $derived.by(
    watched(
      () =>
        new LongWork(production, 'pair', (job) => {
          measured = job.result as Measured;
        }),
    ),
  );
  $effect(() => () => onoverlay(null));

  function measure() {
    measured = null;
    void work.ask({
      first_id: first.id,
      first_frame: firstFrame,
      second_id: second.id,
      second_frame: secondFrame,
      area,
    });
  }
  function draw() {
    drawn = !drawn;
    onoverlay(drawn ? work.file : null);
  }
</script>

<section aria-label="How the two lie on each other" class="mt-2" data-testid="pair">
  {#if measured}
    <FindingList findings={measured.findings} />
    {#if measured.changed === null}
      <p class="text-soft mt-1 text-sm">They cannot be laid on each other: {measured.apart}</p>
    {:else}
      <p class="mt-1 flex flex-wrap items-center gap-2 text-sm">
        <button class={['btn', drawn && 'btn-main']} aria-pressed={drawn} onclick={draw}
          >What changed</button
        >
        <span class="text-soft"
          >{measured.changed < 0.001
            ? 'nothing but the light'
            : `${(measured.changed * 100).toFixed(measured.changed < 0.1 ? 1 : 0)} % of the ${area ? 'part' : 'picture'}, laid back and evened out`}</span
        >
      </p>
    {/if}
  {:else}
    <button class="btn btn-main" disabled={work.open} onclick={measure}
      >Measure how {area ? 'the part drawn lies' : 'they lie'} on each other</button
    >
    {#if work.open || work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
  {/if}
</section>
