<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length } from '../../lib/quantities';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import Part from './Part.svelte';
  import type { Tricks } from './tricks.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate>; answer: Tricks | null };
  let { bench, record, answer }: Props = $props();
  const plan = $derived(answer?.crowd ?? null);
  const crowd = $derived(record.draft.crowd ?? null);
  const FRESH = {
    people: 8,
    wanted: 40,
    left_m: -6,
    right_m: 6,
    near_m: 8,
    far_m: 14,
    spacing_m: 0.9,
    row_m: 1.5,
    ground_m: 0,
    wardrobe: 2,
    poses: 3,
  };
  const parts: [string, string, 'plain' | 'length', string?][] = [
    ['people', 'Friends who came', 'plain'],
    ['wanted', 'To become', 'plain'],
    ['wardrobe', 'Sets of clothes each', 'plain'],
    ['poses', 'Poses each', 'plain'],
    ['left_m', 'Area, from', 'length', '+ to the right'],
    ['right_m', 'Area, to', 'length', '+ to the right'],
    ['near_m', 'Front row, away', 'length'],
    ['far_m', 'Back row, at most', 'length'],
    ['spacing_m', 'Side by side', 'length'],
    ['row_m', 'Row behind row', 'length'],
    ['ground_m', 'Ground they stand on', 'length'],
  ];
  const letter = (n: number) => String.fromCharCode(65 + (n % 26));
  let pass = $state(0);
  const cast = $derived(
    (plan?.looks.looks ?? [])
      .map((look) => ({ ...look, at: plan!.laid.places[look.place]! }))
      .filter((look) => look.at.tile === pass)
      .sort((a, b) => a.at.left_px - b.at.left_px),
  );
</script>

<section class="px-3 py-2" aria-label="Crowd">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Crowd</h2>
    {#if bench.editable}
      {#if crowd}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(record, 'crowd', null, 'No crowd')}>No crowd</button
        >{:else}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(record, 'crowd', FRESH, 'A crowd')}>Lay out a crowd</button
        >{/if}
    {/if}
  </div>
  {#if !crowd}
    <p class="text-soft text-sm">
      A few friends, filmed several times on one lock-off, each pass in its own part of the picture.
      Say how many came and where the crowd stands: places, passes, clothes and minutes follow.
    </p>
  {:else}
    {#each parts as [part, label, kind, hint] (part)}
      <Part {bench} {record} field="crowd" {part} {label} {kind} {hint} whole={kind === 'plain'} />
    {/each}
    {#if record.problems.crowd}<p role="alert" class="font-semibold">
        {record.problems.crowd}
      </p>{/if}
  {/if}
</section>

{#if plan}
  <section class="border-line border-t px-3 py-2" aria-label="What it comes to">
    <p data-testid="crowd-total">
      <b class="text-lg">{plan.achieved}</b> people in {plan.laid.tiles.length} passes, about
      <b>{plan.minutes.toFixed(0)} min</b>
      {plan.looks.changes > 0 ? ` with ${plan.looks.changes} changes of clothes` : ''}.
      {#if plan.looks.nearest_px !== null}The same look comes {plan.looks.repeats} times in pairs, never
        nearer than {plan.looks.nearest_px.toFixed(0)} px.{:else}No look is seen twice.{/if}
    </p>
    <table class="mt-1 w-full text-sm" data-testid="crowd-rows">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Row</th><th class="text-right font-normal">away</th><th
            class="text-right font-normal">people</th
          ><th class="text-right font-normal">tall</th><th class="text-right font-normal"
            >head shows</th
          >{#if plan.screen.length}<th class="text-right font-normal">filmed at</th><th
              class="text-right font-normal">lens</th
            ><th class="text-right font-normal">off</th>{/if}</tr
        ></thead
      >
      <tbody>
        {#each plan.laid.rows as row, i (i)}
          {@const screen = plan.screen[i]}
          <tr class="border-line border-t"
            ><td>{i + 1}</td><td class="text-right">{length(row.y_m)}</td><td class="text-right"
              >{row.count}</td
            ><td class="text-right">{row.tall_px.toFixed(0)} px</td><td class="text-right"
              >{(row.head_shows * 100).toFixed(0)} %</td
            >{#if screen}<td class="text-right">{length(screen.film_m)}</td><td class="text-right"
                >{length(screen.lens_m)}</td
              ><td class="text-right">{screen.off_deg.toFixed(1)}°</td>{/if}</tr
          >
        {/each}
      </tbody>
    </table>
  </section>
  <section class="border-line border-t px-3 py-2" aria-label="Who stands where">
    <div class="flex items-center justify-between">
      <h3>Who stands where</h3>
      <div role="group" aria-label="Pass" class="flex gap-1">
        {#each plan.laid.tiles as tile (tile.number)}
          <button
            class={['btn min-h-7! min-w-7! py-0!', pass === tile.number ? 'btn-main' : '']}
            aria-pressed={pass === tile.number}
            onclick={() => (pass = tile.number)}>{tile.number + 1}</button
          >
        {/each}
      </div>
    </div>
    <table class="w-full text-sm" data-testid="crowd-cast">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Friend</th><th class="text-left font-normal"
            >clothes</th
          ><th class="text-left font-normal">pose</th><th class="text-right font-normal">away</th
          ><th class="text-right font-normal">aside</th></tr
        ></thead
      >
      <tbody>
        {#each cast as look (look.place)}
          <tr class="border-line border-t"
            ><td>{look.person + 1}</td><td>{letter(look.wardrobe)}</td><td>{look.pose + 1}</td><td
              class="text-right">{length(look.at.y_m)}</td
            ><td class="text-right"
              >{length(Math.abs(look.at.x_m))} {look.at.x_m < 0 ? 'L' : 'R'}</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
  </section>
{/if}
