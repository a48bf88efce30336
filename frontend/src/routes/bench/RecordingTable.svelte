<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length } from '../../lib/quantities';
  import type { Plate } from '../../lib/shot/plan';

  type Props = {
    record: SavedRecord<Plate>;
    screen: Schemas['ScreenStudy'] | null;
  };
  let { record, screen }: Props = $props();
  const modes = $derived(screen?.recordings ?? []);
  let shown = $state<string | null>(null);
  const chosen = $derived(
    modes.find((m) => m.mode_id === (shown ?? record.draft.mode_id)) ?? modes[0],
  );
  const keyed = $derived(
    ['green', 'blue', 'red'].includes(record.draft.screen_colour ?? 'green')
      ? (record.draft.screen_colour ?? 'green')
      : 'green',
  );
  let errors = $state.raw<Schemas['ExampleError'][]>([]);
  $effect(() => {
    const wanted = [...new Set(modes.map((m) => `${m.bit_depth} ${m.subsampling} ${m.finer}`))];
    if (!wanted.length) return;
    const query = { modes: wanted, screen: keyed as 'green' };
    ask(() => api.GET('/api/calc/recording-errors', { params: { query } }))
      .then((found) => (errors = found))
      .catch((error: unknown) => {
        if (!(error instanceof Failure)) throw error;
      });
  });
  const errorOf = (m: Schemas['Recording']) =>
    errors.find(
      (e) => e.bit_depth === m.bit_depth && e.subsampling === m.subsampling && e.finer === m.finer,
    )?.error;
  const gb = (value: number | null) =>
    value === null ? '–' : value >= 100 ? `${value.toFixed(0)} GB` : `${value.toPrecision(2)} GB`;
</script>

<section aria-label="How to record it" class="min-w-0 lg:col-span-2">
  <h3>How to record it</h3>
  {#if !modes.length}
    <p class="text-soft text-sm">Weighed for plates before a screen.</p>
  {:else}
    <table class="w-full text-sm">
      <thead class="text-soft text-xs">
        <tr>
          <th class="text-left font-normal">Mode</th>
          <th class="pl-2 text-right font-normal">Codes, screen</th>
          <th class="pl-2 text-right font-normal">Colour every</th>
          <th class="pl-2 text-right font-normal">Finest hair</th>
          <th class="pl-2 text-right font-normal">Take, day</th>
          <th class="pl-2 text-right font-normal">Edge error</th>
        </tr>
      </thead>
      <tbody>
        {#each modes as mode (mode.mode_id)}
          {@const error = errorOf(mode)}
          <tr class="border-line border-t align-top">
            <th scope="row" class="text-left font-normal">
              <button
                class={['text-left underline', mode.mode_id === chosen?.mode_id ? 'font-bold' : '']}
                aria-pressed={mode.mode_id === chosen?.mode_id}
                onclick={() => (shown = mode.mode_id)}>{mode.name}</button
              >
              {#if mode.mode_id === record.draft.mode_id}<span class="text-soft text-xs"
                  >planned</span
                >{/if}
              {#if mode.mode_id === screen?.cheapest}<span class="text-holds text-xs"
                  >the cheapest that holds</span
                >{/if}
              <span class="text-soft block text-xs">{mode.body}: {mode.remark}.</span>
            </th>
            <td class="pl-2 text-right whitespace-nowrap">{mode.codes}, {mode.screen_codes}</td>
            <td class="pl-2 text-right whitespace-nowrap"
              >{mode.pitch_px.map((p) => p.toFixed(1)).join(' × ')} px</td
            >
            <td class="pl-2 text-right whitespace-nowrap">{length(mode.hair_mm / 1000)}</td>
            <td class="pl-2 text-right whitespace-nowrap">{gb(mode.take_gb)}, {gb(mode.day_gb)}</td>
            <td class="pl-2 text-right whitespace-nowrap"
              >{error === undefined ? '' : `${(error * 100).toFixed(1)} %`}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    {#if chosen}
      <figure class="mt-2">
        <img
          class="paper w-full max-w-xl [image-rendering:pixelated]"
          width="960"
          height="320"
          alt={`Hair before a ${keyed} screen as ${chosen.bit_depth} bit ${chosen.subsampling} keeps it, and the matte pulled from it`}
          src="/api/calc/recording-example.png?screen={keyed}&bit_depth={chosen.bit_depth}&subsampling={chosen.subsampling}&finer={chosen.finer}"
        />
        <figcaption class="text-soft text-xs">
          A made picture of hair before the screen, recorded in {chosen.bit_depth} bits {chosen.subsampling}{chosen.finer >
          1
            ? ' twice as fine as it is delivered'
            : ' at the delivered size'}, and the matte pulled from it; the error is the root mean
          square along the edge.
          {#if chosen.card_minutes !== null}A 256 GB card holds {chosen.card_minutes.toFixed(0)} minutes
            of it.{/if}
          What compression takes comes on top.
        </figcaption>
      </figure>
    {/if}
  {/if}
</section>
