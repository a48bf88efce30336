<script lang="ts">
  import { say } from '../../lib/quantities';
  import FindingList from '../../lib/shot/FindingList.svelte';
  import type { SheetAnswer } from './desk.svelte';

  let { answer }: { answer: SheetAnswer } = $props();
  const NAMES: Record<number, string> = { 1: 'ones', 2: 'twos', 3: 'threes', 4: 'fours' };
  const held = $derived(
    answer.held
      .map(
        ([frames, count]) => `${count} ${NAMES[frames] ? `on ${NAMES[frames]}` : `for ${frames}`}`,
      )
      .join(', '),
  );
  const moving = $derived(answer.steps.filter((step) => step.step_px > 0.005));
  const blurred = $derived(moving.some((step) => step.blur_px > 0));
</script>

<section class="border-line border-b px-3 py-2" aria-label="What it comes to">
  <h2 class="text-lg">What it comes to</h2>
  {#if answer.usual}
    <p>
      Nothing on it asks for a picture yet. Poses {NAMES[answer.usual.hold]
        ? `on ${NAMES[answer.usual.hold]}`
        : `held for ${answer.usual.hold}`}, as a rule, come to
      <b>{answer.usual.pictures}</b>
      {answer.usual.pictures === 1 ? 'picture' : 'pictures'} for {answer.frames} frames at
      {say(answer.fps, 'rate')}.
    </p>
  {:else}
    <p>
      <b>{answer.taken.length}</b>
      {answer.taken.length === 1 ? 'picture' : 'pictures'} for {answer.frames} frames at {say(
        answer.fps,
        'rate',
      )}{#if answer.taken.length > 1}: {held}{/if}.
    </p>
  {/if}
  {#if moving.length}
    <table class="mt-1 w-full text-sm">
      <caption class="text-soft text-left text-xs"
        >How things step in the picture, nearest first</caption
      >
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Thing</th><th class="text-right font-normal">away</th
          ><th class="text-right font-normal">px a frame</th><th class="text-right font-normal"
            >at frame</th
          >{#if blurred}<th class="text-right font-normal">blur missing</th>{/if}</tr
        ></thead
      >
      <tbody>
        {#each moving as step (step.stand_in_id)}
          <tr class="border-line border-t"
            ><td>{step.name}</td><td class="text-right">{say(step.away_m, 'length')}</td><td
              class="text-right font-semibold">{step.step_px.toFixed(1)}</td
            ><td class="text-right">{step.frame}</td>{#if blurred}<td class="text-right"
                >{step.blur_px.toFixed(1)} px</td
              >{/if}</tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
  {#if answer.belts.length}
    <table class="mt-2 w-full text-sm">
      <caption class="text-soft text-left text-xs">Layers and belts, nearest first</caption>
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Layer</th><th class="text-right font-normal">goes</th
          ><th class="pl-2 text-right font-normal">px a frame</th>{#if answer.belts.length > 1}<th
              class="pl-2 text-right font-normal">pulley</th
            ><th class="pl-2 text-right font-normal">looks at</th>{/if}</tr
        ></thead
      >
      {#each answer.belts as belt (belt.key)}
        <tbody class="border-line border-t">
          <tr
            ><td>{belt.name}</td><td class="text-right">{say(belt.way_m, 'length')}</td><td
              class="pl-2 text-right font-semibold">{belt.step_px.toFixed(1)}</td
            >{#if answer.belts.length > 1}<td class="pl-2 text-right"
                >{belt.ratio === null ? 'none' : `${belt.ratio.toFixed(2)} : 1`}</td
              ><td class="pl-2 text-right">{say(belt.looks_m, 'length')}</td>{/if}</tr
          >
          <tr
            ><td colspan="5" class="text-soft text-xs"
              >{belt.roll_m === null || belt.high_m === null
                ? 'the frame takes in no end of it'
                : `paint ${say(belt.roll_m, 'length')} long, ${say(belt.high_m, 'length')} high`}</td
            ></tr
          >
        </tbody>
      {/each}
    </table>
    {#if answer.belts.length > 1}
      <p class="text-soft text-xs">
        Pulley: on one shaft, by that of the nearest; none where the eases differ. Looks at: how far
        away it seems beside the nearest, where both pass as one landscape.
      </p>
    {/if}
  {/if}
</section>
{#if answer.findings.length}
  <section class="border-line border-b px-3 py-2" aria-label="Findings">
    <h2 class="text-lg">Findings</h2>
    <FindingList findings={answer.findings} />
  </section>
{/if}
