<script lang="ts">
  import type { SavedRecord } from '../edit/record.svelte';
  import { status } from '../edit/status.svelte';
  import Compared, { type Way } from '../ui/Compared.svelte';
  import Modal from '../ui/Modal.svelte';
  import WayChoice from '../ui/WayChoice.svelte';
  import { Developing, SMALL_PX, type Change } from './developing.svelte';
  import DevelopedPicture from './DevelopedPicture.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    /** What would be otherwise, in words and as it would be decided. */
    sentence: string;
    /** What it gives, by the numbers. */
    gives?: string;
    change: Change;
    onclose: () => void;
    /** Make the change. Without it, it is only looked at. */
    ondo?: () => void;
  };
  let { bench, record, sentence, gives = '', change, onclose, ondo }: Props = $props();

  // svelte-ignore state_referenced_locally
  const desk = new Developing(bench);
  // svelte-ignore state_referenced_locally
  const frame = bench.frame;
  let way = $state<Way>('beside');
  const sides = $derived<{ name: string; change: Change }[]>([
    { name: 'As planned', change: {} },
    { name: 'With it', change },
  ]);
  const pictures = $derived(sides.map((side) => desk.shown(record.id, frame, side.change)));
  const both = $derived(pictures.every(Boolean));
  const aspect = $derived.by(() => {
    const one = pictures.find(Boolean);
    const { delivery_width_px: wide, delivery_height_px: high } = bench.shot.draft;
    return one ? `${one.width_px} / ${one.height_px}` : `${wide ?? 1920} / ${high ?? 1080}`;
  });
  const remarks = $derived([...new Set(pictures.flatMap((one) => one?.remarks ?? []))]);

  async function make() {
    await desk.list();
    if (desk.missing) return;
    for (const side of sides)
      if (!desk.shown(record.id, frame, side.change))
        await desk.develop(record.id, frame, SMALL_PX, side.change);
  }
  // The pictures are of the plan as the server has it.
  desk.watch(make);
  $effect(() => () => desk.drop());
</script>

<Modal
  open
  wide
  title={sentence}
  description="Frame {frame} of {record.draft.name}, as its stage films it."
  {onclose}
>
  <div data-testid="what-if">
    {#if desk.missing}<p role="alert" class="font-semibold">{desk.missing}</p>{/if}
    {#if desk.problem}<p role="alert" class="font-semibold">{desk.problem}</p>{/if}
    {#if both}
      <div class="mb-2 flex flex-wrap items-center justify-between gap-2">
        <span class="text-soft text-sm" role="status"
          >{sides.some((side) => desk.work(record.id, side.change).open)
            ? 'Coming larger…'
            : ''}</span
        >
        <WayChoice {way} onchange={(one) => (way = one)} />
      </div>
      {@const [first, second] = sides.map((side, i) => ({
        src: pictures[i] ? desk.address(pictures[i]) : '',
        name: side.name,
        alt: `${side.name}, developed at frame ${frame}`,
      }))}
      {#if first && second}<Compared {way} {aspect} {first} {second} />{/if}
    {:else}
      <div class="grid gap-3 lg:grid-cols-2">
        {#each sides as side (side.name)}
          <figure>
            <figcaption class="mb-1 font-semibold">{side.name}</figcaption>
            <div
              class="border-line bg-well grid place-items-center border"
              style:aspect-ratio={aspect}
            >
              <DevelopedPicture
                {desk}
                plate={record.id}
                {frame}
                change={side.change}
                name={side.name}
                class="h-full w-full object-fill"
                waits={status.state === 'saved' ? '' : 'Begins as soon as everything is saved.'}
              />
            </div>
          </figure>
        {/each}
      </div>
    {/if}
    {#if gives}<p class="mt-2">{gives}</p>{/if}
    {#each remarks as remark (remark)}<p class="text-soft mt-1 text-sm">{remark}</p>{/each}
    <p class="mt-3 flex justify-end gap-3">
      <button class="btn" onclick={onclose}>Close</button>
      {#if ondo}
        <button
          class="btn btn-main"
          onclick={() => {
            ondo();
            onclose();
          }}>Do this</button
        >
      {/if}
    </p>
  </div>
</Modal>
