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
  <p>
    <b>{answer.taken.length}</b>
    {answer.taken.length === 1 ? 'picture' : 'pictures'} for {answer.frames} frames at {say(
      answer.fps,
      'rate',
    )}{#if answer.taken.length > 1}: {held}{/if}.
  </p>
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
</section>
{#if answer.findings.length}
  <section class="border-line border-b px-3 py-2" aria-label="Findings">
    <h2 class="text-lg">Findings</h2>
    <FindingList findings={answer.findings} />
  </section>
{/if}
