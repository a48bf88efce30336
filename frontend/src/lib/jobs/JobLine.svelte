<script lang="ts">
  import type { LongWork } from './long-work.svelte';

  type Props = {
    work: LongWork;
    /** What the link to the file says. */
    fileSays?: string;
  };
  let { work, fileSays = 'Open it' }: Props = $props();
  const job = $derived(work.job);
</script>

{#if work.problem}
  <p role="alert" class="font-semibold">{work.problem}</p>
{/if}
{#if job && job.state !== 'cancelled'}
  <div
    class="bg-well mt-2 flex flex-wrap items-center gap-3 px-2 py-1.5"
    role="status"
    data-testid={`job-${job.kind}`}
    data-state={job.state}
  >
    <b>{job.name}</b>
    {#if work.open}
      {#if job.state === 'waiting'}
        <span class="text-sm">waiting for its turn</span>
      {:else}
        <progress value={job.part} max="1" aria-label={job.name}></progress>
        <span class="text-sm tabular-nums">{job.told || 'begun'}</span>
      {/if}
      <button class="btn ml-auto" onclick={() => void work.cancel()}>Stop</button>
    {:else if job.state === 'failed'}
      <span class="font-semibold">{job.problem}</span>
      <button class="ml-auto underline" onclick={() => work.clear()}>Understood</button>
    {:else}
      {#if work.file}
        <a class="btn btn-main" target="_blank" href={work.file}>{fileSays}</a>
        <span class="text-soft text-sm">kept for a day</span>
      {:else}
        <span class="text-sm">done</span>
      {/if}
      <button class="ml-auto underline" onclick={() => work.clear()}>Put away</button>
    {/if}
  </div>
{/if}
