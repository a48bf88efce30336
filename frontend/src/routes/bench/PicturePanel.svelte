<script lang="ts">
  import { pathOf } from '../../lib/drawings/geometry';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { status } from '../../lib/edit/status.svelte';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import Dated from '../../lib/shot/Dated.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import Closely from './Closely.svelte';
  import PlaceChoice from './PlaceChoice.svelte';
  import { Developing, type Subject } from '../../lib/shot/developing.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  // svelte-ignore state_referenced_locally
  const desk = new Developing(bench);
  desk.watch();

  let lines = $state(false);
  /** Where the plate is looked at closely, parts of its picture. */
  let place = $state<[number, number]>([0.5, 0.5]);
  const closely = (at: [number, number]) => void desk.look(record.id, frame, at);
  const frame = $derived(bench.frame);
  const width = $derived(bench.shot.draft.delivery_width_px ?? 1920);
  const height = $derived(bench.shot.draft.delivery_height_px ?? 1080);
  const sides = $derived<{ subject: Subject; name: string; hint: string }[]>([
    {
      subject: record.id,
      name: `${record.draft.name}, as its stage films it`,
      hint: 'Lamps, room, cloth, lens and exposure of the sheet; light is followed from the lamps to the sensor.',
    },
    {
      subject: null,
      name: 'The story, were it real',
      hint: 'The story’s camera, everything at full size, lit by the story’s key.',
    },
  ]);
  /** What post lays in has a frame of its own as it is filmed. */
  const own = $derived(record.draft.placed_in_post ? (bench.answer?.filmed ?? null) : null);
  const size = (subject: Subject): [number, number] =>
    subject === null || !own ? [width, height] : [own.width_px, own.height_px];
  const drawn = (subject: Subject) =>
    (subject === null ? bench.report?.world : (own ?? bench.answer?.picture))?.outlines.filter(
      (o) =>
        subject === null ||
        bench.standIns.find((s) => s.id === o.stand_in_id)?.draft.plate_id === subject,
    ) ?? [];
</script>

<div class="p-3" data-testid="developed">
  {#if desk.missing}
    <p role="alert" class="max-w-prose font-semibold">{desk.missing}</p>
  {/if}
  {#if desk.problem}<p role="alert" class="font-semibold">{desk.problem}</p>{/if}
  <div class="grid gap-4 lg:grid-cols-2">
    {#each sides as side (side.subject)}
      {@const picture = desk.of(side.subject, frame)}
      {@const work = desk.work(side.subject)}
      {@const stands = picture !== null && desk.stands(picture)}
      {@const [wide, high] = size(side.subject)}
      <figure class="min-w-0" aria-label={side.name}>
        <figcaption class="mb-1 flex flex-wrap items-baseline gap-x-3" title={side.hint}>
          <b>{side.name}</b>
          <Dated {picture} {frame} {stands} />
        </figcaption>
        <div
          class="border-line bg-well relative mx-auto grid w-full place-items-center border"
          style:aspect-ratio="{wide} / {high}"
          style:max-width="calc(24rem * {wide / high})"
        >
          {#if picture}
            <img
              src={desk.address(picture)}
              alt="{side.name}, developed at frame {picture.frame}"
              class={['absolute inset-0 h-full w-full object-fill', !stands && 'opacity-45']}
              data-testid={side.subject === null ? 'developed-story' : 'developed-plate'}
              data-stands={stands}
            />
            {#if lines && picture.frame === frame}
              <svg
                class="pointer-events-none absolute inset-0 h-full w-full"
                viewBox="0 0 {wide} {high}"
                transform={own && side.subject !== null && record.draft.flop
                  ? 'scale(-1 1)'
                  : undefined}
                fill="none"
                stroke="var(--ochre-ink)"
                aria-hidden="true"
              >
                {#each drawn(side.subject) as outline (outline.stand_in_id)}
                  {#each outline.paths as path, i (i)}
                    <path d={pathOf(path)} stroke-width="1" vector-effect="non-scaling-stroke" />
                  {/each}
                {/each}
              </svg>
            {/if}
            {#if side.subject !== null && stands && !desk.missing}
              <PlaceChoice bind:place onchoose={closely} />
            {/if}
          {:else}
            <p class="text-soft max-w-[26rem] p-4 text-sm">{side.hint}</p>
          {/if}
        </div>
        <div class="mt-1 flex flex-wrap items-center gap-x-3 text-sm">
          <button
            class="btn"
            disabled={work.open || desk.missing !== '' || status.unsaved}
            onclick={() => void desk.develop(side.subject, frame)}
            >Develop{bench.moving ? ` frame ${frame}` : ''}</button
          >
          {#if work.open}
            <progress value={work.job?.part ?? 0} max="1" aria-label="Developing"></progress>
            <button class="underline" onclick={() => void work.cancel()}>Stop</button>
          {/if}
        </div>
        {#if work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
        {#each picture?.remarks ?? [] as remark (remark)}
          <p class="text-soft mt-1 text-sm">{remark}</p>
        {/each}
      </figure>
    {/each}
  </div>
  <Closely {desk} {record} {frame} />
  <label class="mt-2 flex min-h-7 items-center gap-1 text-sm">
    <input type="checkbox" bind:checked={lines} />
    Lay the outlines over the pictures
  </label>
  <p class="text-soft max-w-prose text-sm">
    Stand-ins are filmed as plain solids, matt and without texture. Floor, walls and ceiling give
    back as much light as the kit says of the room.
  </p>
</div>
