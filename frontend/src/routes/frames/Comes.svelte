<script lang="ts">
  import { say } from '../../lib/quantities';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';
  import type { Verdict } from '../../lib/api/client';
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
  const open = $derived(answer.findings.filter((finding) => finding.verdict !== 'holds'));
  const good = $derived(answer.findings.filter((finding) => finding.verdict === 'holds'));
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
{#snippet one(finding: SheetAnswer['findings'][number])}
  <li
    class="border-line flex items-start gap-2 border-t pt-1.5"
    data-finding={finding.key}
    data-verdict={finding.verdict}
  >
    <span class="pt-1"
      ><VerdictMark verdict={finding.verdict as Verdict} named={false} size={22} /></span
    >
    <div class="min-w-0 grow">
      <h3 class="flex justify-between gap-2">
        <span>{finding.title} <span class="text-soft font-normal">{finding.verdict}</span></span>
        {#if finding.workings.length}<WorkingCard workings={finding.workings} />{/if}
      </h3>
      <p>{finding.sentence}</p>
    </div>
  </li>
{/snippet}

{#if answer.findings.length}
  <section class="border-line border-b px-3 py-2" aria-label="Findings">
    <h2 class="text-lg">Findings</h2>
    {#if open.length}
      <ul class="grid gap-2">
        {#each open as finding, i (i)}{@render one(finding)}{/each}
      </ul>
    {/if}
    {#if good.length}
      <details class="border-line mt-1 border-t pt-1.5">
        <summary class="flex cursor-pointer items-center gap-2">
          <VerdictMark verdict="holds" named={false} size={22} />
          <span class="underline"
            >{good.length} {good.length === 1 ? 'finding holds' : 'findings hold'}</span
          >
        </summary>
        <ul class="mt-1 grid gap-2">
          {#each good as finding, i (i)}{@render one(finding)}{/each}
        </ul>
      </details>
    {/if}
  </section>
{/if}
