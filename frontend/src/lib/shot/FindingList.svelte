<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Schemas } from '../api/client';
  import VerdictMark from '../ui/VerdictMark.svelte';
  import WorkingCard from '../ui/WorkingCard.svelte';

  type Finding = Pick<Schemas['Finding'], 'key' | 'title' | 'verdict' | 'sentence' | 'workings'>;

  type Props = {
    findings: Finding[];
    /** What else can be done about one, beside its sentence. */
    more?: Snippet<[Finding]>;
  };
  /** Findings with what holds folded away. */
  let { findings, more }: Props = $props();
  const open = $derived(findings.filter((finding) => finding.verdict !== 'holds'));
  const good = $derived(findings.filter((finding) => finding.verdict === 'holds'));
</script>

{#snippet one(finding: Finding)}
  <li
    class="border-line flex items-start gap-2 border-t pt-1.5"
    data-finding={finding.key}
    data-verdict={finding.verdict}
  >
    <span class="pt-1"><VerdictMark verdict={finding.verdict} named={false} size={22} /></span>
    <div class="min-w-0 grow">
      <h3 class="flex justify-between gap-2">
        <span>{finding.title} <span class="text-soft font-normal">{finding.verdict}</span></span>
        {#if finding.workings.length}<WorkingCard workings={finding.workings} />{/if}
      </h3>
      <p>{finding.sentence} {@render more?.(finding)}</p>
    </div>
  </li>
{/snippet}

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
