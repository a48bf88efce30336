<script lang="ts" module>
  /** Whether what holds is shown too: as a person left it, on every plate. */
  let holdsOpen = $state(false);
</script>

<script lang="ts">
  import type { Schemas } from '../api/client';
  import type { SavedRecord } from '../edit/record.svelte';
  import VerdictMark from '../ui/VerdictMark.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';
  import WaysOut from './WaysOut.svelte';
  import WorkingCard from '../ui/WorkingCard.svelte';

  type Finding = Schemas['Finding'];
  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    findings: Finding[];
    /** What was not asked, since something is not decided yet. */
    unasked?: Schemas['Unasked'][];
  };
  let { bench, record, findings, unasked = [] }: Props = $props();
  const open = $derived(findings.filter((finding) => finding.verdict !== 'holds'));
  const good = $derived(findings.filter((finding) => finding.verdict === 'holds'));

  /** Optics that cannot be, and a kit with nothing in it, have no way out but what they say. */
  const mendable = (key: string) =>
    key !== 'impossible' &&
    (key !== 'kit' || (bench.kit.bodies.length > 0 && bench.kit.lenses.length > 0));
</script>

{#snippet one(finding: Finding, first: boolean)}
  <li class="border-line border-t pt-1.5" data-finding={finding.key} data-verdict={finding.verdict}>
    <div class="flex items-start gap-2">
      <span class="pt-1"><VerdictMark verdict={finding.verdict} named={false} size={26} /></span>
      <div class="min-w-0 grow">
        <h3 class="flex justify-between gap-2">
          <span>{finding.title} <span class="text-soft font-normal">{finding.verdict}</span></span>
          {#if finding.workings.length > 0}<WorkingCard workings={finding.workings ?? []} />{/if}
        </h3>
        <p>{finding.sentence}</p>
        {#if finding.verdict !== 'holds' && mendable(finding.key)}
          {#key record.id}<WaysOut {bench} {record} {finding} begins={first} />{/key}
        {/if}
      </div>
    </div>
  </li>
{/snippet}

<section class="px-3 py-2" aria-label="Findings">
  <h2 class="text-lg">Findings</h2>
  {#if unasked.length}
    <ul class="mb-2 grid gap-1 text-sm" data-testid="unasked" aria-label="Not asked yet">
      {#each unasked as one (one.key)}
        <li class="flex items-start gap-2">
          <span class="pt-0.5"><VerdictMark verdict="holds" soFar named={false} size={26} /></span>
          <span>
            <b>{one.title}: not asked yet.</b>
            {one.needs}
            {#if bench.editable}
              {#each one.rooms ?? [] as room (room.room_id)}
                <button
                  class="btn tape mt-1 mr-1 block min-h-7! py-0!"
                  onclick={() => bench.change(record, 'room_id', room.room_id, 'Room')}
                  >Film it in the {room.name}</button
                >
              {/each}
            {/if}
          </span>
        </li>
      {/each}
    </ul>
  {/if}
  {#if open.length}
    <ul class="grid gap-2">
      {#each open as finding, nth (finding.key)}{@render one(finding, nth === 0)}{/each}
    </ul>
  {/if}
  {#if good.length}
    <details class="border-line mt-2 border-t pt-1.5" bind:open={holdsOpen}>
      <summary class="flex cursor-pointer items-center gap-2">
        <VerdictMark verdict="holds" named={false} size={26} />
        <span class="underline"
          >{good.length}
          {good.length === 1 ? 'finding holds' : 'findings hold'}</span
        >
      </summary>
      <ul class="mt-2 grid gap-2">
        {#each good as finding (finding.key)}{@render one(finding, false)}{/each}
      </ul>
    </details>
  {/if}
</section>
