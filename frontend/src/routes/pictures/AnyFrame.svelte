<script lang="ts">
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import { LongWork } from '../../lib/jobs/long-work.svelte';
  import { watched } from '../../lib/jobs/watched.svelte';
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import type { PictureDesk } from './desk.svelte';

  type Props = {
    desk: PictureDesk;
    picture: Picture;
    /** The frame that is asked for until another is typed. */
    frame: number;
    /** It can be looked at. */
    onshown: (frame: number) => void;
  };
  let { desk, picture, frame, onshown }: Props = $props();
  const most = $derived(picture.facts?.frames ?? 1);
  /** What is typed stays until another frame is shown. */
  let wanted = $derived(frame);
  const fits = $derived(Number.isInteger(wanted) && wanted >= 1 && wanted <= most);
  const pk = $derived(picture.id);
  const work = $derived.by(
    watched(() => {
      // Another picture is other work; the same one is told of anew while it goes on.
      void pk;
      return new LongWork(desk.production, 'show-frame', (job) => {
        const shown = (job.result as { frame: number }).frame;
        void desk.refresh().then(() => onshown(shown));
      });
    }),
  );
  function show(event: SubmitEvent) {
    event.preventDefault();
    if (!fits) return;
    if (picture.looks.includes(wanted)) onshown(wanted);
    else void work.ask({ picture_id: picture.id, frame: wanted });
  }
</script>

{#if most > picture.looks.length && desk.editable && !picture.elsewhere && !picture.problem}
  <form class="mt-1 flex flex-wrap items-center gap-2 text-sm" onsubmit={show}>
    <label class="flex items-center gap-2"
      >Any frame, 1 to {most.toLocaleString()}
      <input
        type="number"
        class="field w-24"
        min="1"
        max={most}
        step="1"
        required
        value={wanted}
        oninput={(event) =>
          (wanted = event.currentTarget.value === '' ? NaN : event.currentTarget.valueAsNumber)}
      /></label
    >
    <button class="btn" disabled={work.open || !fits}>Look at it</button>
    {#if work.open || work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
  </form>
{/if}
