<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import { LongWork } from '../../lib/jobs/long-work.svelte';
  import { watched } from '../../lib/jobs/watched.svelte';
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import type { Area } from './area';
  import ClothMap from './ClothMap.svelte';
  import type { Measured } from './cloth';

  type Props = {
    production: string;
    picture: Picture;
    frame: number;
    lookOf: (frame: number) => string;
    /** The part that is measured; null for all of it. */
    area: Area | null;
    /** Pictures that what is kept can be laid over. */
    others: { id: string; name: string; look: string }[];
  };
  let { production, picture, frame, lookOf, area, others }: Props = $props();
  const COLOURS = ['green', 'blue', 'red', 'white', 'sky', 'black'] as const;
  const NAMES = {
    green: 'Green cloth',
    blue: 'Blue cloth',
    red: 'Red cloth',
    white: 'White wall, by brightness',
    sky: 'Sky, by brightness',
    black: 'Black: what shines is kept',
  };
  let measured = $state.raw<Measured | null>(null);
  let colour = $state<string | null>(null);
  let view = $state<'light' | 'matte' | 'over'>('light');
  let behind = $state<string | null>(null);
  let low = $state(0);
  let high = $state(100);
  let asked = $state(false);
  const work = $derived.by(
    watched(
      () =>
        new LongWork(production, 'frame', (job) => {
          measured = job.result as Measured;
          if (measured.trial && !measured.areas?.length && view === 'light') view = 'matte';
          // Where no cloth was found, its colour is what to change.
          if (!measured.trial) asked = true;
        }),
    ),
  );
  const back = $derived(others.find((one) => one.id === behind)?.look ?? null);
  function measure() {
    void work.ask({
      picture_id: picture.id,
      frame,
      colour,
      area,
      low: low / 100,
      high: high / 100,
    });
  }
  const percent = (part: number | null) =>
    part === null ? '–' : `${(part * 100).toFixed(part < 0.1 ? 1 : 0)} %`;
  const findings = $derived((measured?.findings ?? []) as Schemas['Finding'][]);
</script>

<section aria-label="This frame measured" class="mt-3" data-testid="frame-measured">
  {#if measured}
    <h3>Frame {measured.frame} measured</h3>
    {#if measured.trial}
      <div class="mt-1 flex flex-wrap gap-1" role="group" aria-label="What is shown of it">
        {#each [['light', 'Its light'], ['matte', 'Matte'], ['over', 'Keyed over']] as const as [key, name] (key)}
          <button
            class={['btn', view === key && 'btn-main']}
            aria-pressed={view === key}
            onclick={() => (view = key)}>{name}</button
          >
        {/each}
      </div>
      <ClothMap
        {measured}
        {view}
        look={lookOf(measured.frame)}
        kept={work.file}
        {back}
        ratio={picture.look_width_px / picture.look_height_px}
        name={picture.name}
      />
      {#if view === 'over' && others.length > 0}
        <ChoiceField
          label="Over"
          value={behind}
          options={others.map((one) => ({ value: one.id, name: one.name }))}
          empty="Grey"
          onchange={(id) => (behind = id)}
        />
      {/if}
    {/if}
    <FindingList {findings} />
    {#if measured.ways?.length && measured.trial}
      <details class="border-line mt-1 border-t pt-1.5">
        <summary class="underline">The same key in other recording modes</summary>
        <table class="mt-1 w-full text-sm">
          <thead>
            <tr class="text-soft text-left">
              <th>Recorded as</th><th>Edge</th><th>Holes</th><th>Edge changed</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <td>this frame</td>
              <td
                >{measured.trial.edge_px === null
                  ? ''
                  : `${measured.trial.edge_px.toFixed(1)} px`}</td
              >
              <td>{percent(measured.trial.holes)}</td>
              <td></td>
            </tr>
            {#each measured.ways as way (way.sampling)}
              <tr>
                <td>{way.sampling}, {way.bits} bits</td>
                <td>{way.edge_px === null ? '' : `${way.edge_px.toFixed(1)} px`}</td>
                <td>{percent(way.holes)}</td>
                <td>{percent(way.lost)}</td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p class="text-soft text-xs">Before compression, which takes more.</p>
      </details>
    {/if}
  {/if}
  <details class="mt-1" bind:open={asked}>
    <summary class="text-soft">What is measured</summary>
    <div class="mt-1 grid max-w-md gap-1">
      <ChoiceField
        label="Cloth"
        value={colour}
        options={[
          ...COLOURS.map((one) => ({ value: one, name: NAMES[one] })),
          { value: 'none', name: 'None: levels only' },
        ]}
        empty="As the plate plans it"
        onchange={(one) => (colour = one)}
      />
      <label class="flex items-center gap-2 text-sm"
        >Less than <input type="range" min="0" max="60" bind:value={low} />
        <span class="tabular-nums">{low} %</span> of the matte goes</label
      >
      <label class="flex items-center gap-2 text-sm"
        >More than <input type="range" min="61" max="100" bind:value={high} />
        <span class="tabular-nums">{high} %</span> stays whole</label
      >
    </div>
  </details>
  <button class="btn mt-1" disabled={work.open} onclick={measure}
    >{measured ? 'Measure again' : 'Measure this frame'}{area ? ', the part drawn' : ''}</button
  >
  {#if work.open || work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
</section>
