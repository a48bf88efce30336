<script lang="ts">
  import type { Schemas } from '../api/client';
  import type { SavedRecord } from '../edit/record.svelte';
  import VerdictMark from '../ui/VerdictMark.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';
  import WaysOut from './WaysOut.svelte';
  import WorkingCard from '../ui/WorkingCard.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    findings: Schemas['Finding'][];
  };
  let { bench, record, findings }: Props = $props();

  /** Optics that cannot be, and a kit with nothing in it, have no way out but what they say. */
  const mendable = (key: string) =>
    key !== 'impossible' &&
    (key !== 'kit' || (bench.kit.bodies.length > 0 && bench.kit.lenses.length > 0));
</script>

<section class="px-3 py-2" aria-label="Findings">
  <h2 class="text-lg">Findings</h2>
  <ul class="grid gap-2">
    {#each findings as finding, nth (finding.key)}
      <li
        class="border-line border-t pt-1.5"
        data-finding={finding.key}
        data-verdict={finding.verdict}
      >
        <div class="flex items-start gap-2">
          <span class="pt-1"><VerdictMark verdict={finding.verdict} named={false} size={26} /></span
          >
          <div class="min-w-0 grow">
            <h3 class="flex justify-between gap-2">
              <span
                >{finding.title} <span class="text-soft font-normal">{finding.verdict}</span></span
              >
              {#if finding.workings.length > 0}<WorkingCard
                  workings={finding.workings ?? []}
                />{/if}
            </h3>
            <p>{finding.sentence}</p>
            {#if finding.verdict !== 'holds' && mendable(finding.key)}
              {#key record.id}<WaysOut {bench} {record} {finding} begins={nth === 0} />{/key}
            {/if}
          </div>
        </div>
      </li>
    {/each}
  </ul>
</section>
