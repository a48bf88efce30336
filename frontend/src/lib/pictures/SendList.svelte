<script lang="ts">
  import { bytes } from './groups';
  import type { Sendings, Sent } from './sending.svelte';

  type Props = {
    sendings: Sendings;
    /** Those to show. */
    list: Sent[];
  };
  let { sendings, list }: Props = $props();
  const WORDS: Record<Sent['state'], string> = {
    waiting: 'waits for its turn',
    sending: 'being sent',
    paused: 'paused',
    stopped: 'stopped',
    done: 'here',
  };
</script>

<svelte:window ononline={() => sendings.resumeAll()} />
{#if sendings.problem}
  <p role="alert" class="mt-1 flex gap-3 font-semibold">
    {sendings.problem}
    <button class="underline" onclick={() => (sendings.problem = '')}>Understood</button>
  </p>
{/if}
{#if list.length > 0}
  <ul aria-label="Being sent" class="mt-1">
    {#each list as one (one.id)}
      <li
        class="bg-well mt-px flex flex-wrap items-center gap-x-3 gap-y-1 px-2 py-1 text-sm"
        data-testid="sent"
        data-state={one.state}
      >
        <b class="min-w-24 flex-1 truncate" title={one.name}>{one.name}</b>
        {#if one.state !== 'done'}
          <progress value={one.done} max={one.size} aria-label="Sending {one.name}"></progress>
        {/if}
        <span class="tabular-nums">{bytes(one.done)} of {bytes(one.size)}, {WORDS[one.state]}</span>
        <span class="flex gap-2">
          {#if one.state === 'sending' || one.state === 'waiting'}
            <button class="btn" onclick={() => void one.pause()}>Pause</button>
          {:else if one.state !== 'done'}
            <button class="btn btn-main" onclick={() => sendings.resume(one)}>Go on</button>
          {/if}
          {#if one.state !== 'done'}
            <button class="btn" onclick={() => void sendings.cancel(one)}>Give up</button>
          {/if}
        </span>
        {#if one.problem}<p role="alert" class="w-full font-semibold">{one.problem}</p>{/if}
      </li>
    {/each}
  </ul>
  {#if list.filter((one) => one.state !== 'done').length > 1}
    <p class="mt-1 flex gap-2 text-sm">
      <button class="btn" onclick={() => void sendings.pauseAll()}>Pause all</button>
      <button class="btn" onclick={() => sendings.resumeAll()}>All go on</button>
    </p>
  {/if}
{/if}
