<script lang="ts">
  import JobLine from '../jobs/JobLine.svelte';
  import type { Change, Developing } from './developing.svelte';

  type Props = {
    desk: Developing;
    plate: string;
    frame: number;
    change?: Change;
    /** What it is of, for those who do not see it. */
    name: string;
    /** Of the picture itself. */
    class?: string;
    /** What is said while there is none, and none is being made. */
    waits?: string;
  };
  let { desk, plate, frame, change = {}, name, class: looks = '', waits = '' }: Props = $props();
  const picture = $derived(desk.shown(plate, frame, change));
  const work = $derived(desk.work(plate, change));
</script>

{#if picture}
  <img
    src={desk.address(picture)}
    alt="{name}, developed at frame {frame}"
    class={looks}
    data-testid="developed-way"
  />
{:else if work.open}
  <progress value={work.job?.part ?? 0} max="1" aria-label="Developing: {name}"></progress>
{:else if waits}
  <span class="text-soft p-2 text-sm">{waits}</span>
{/if}
{#if work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
