<script lang="ts">
  import type { Schemas } from '../api/client';
  import type { SavedRecord } from '../edit/record.svelte';
  import VerdictMark from '../ui/VerdictMark.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';
  import WorkingCard from '../ui/WorkingCard.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    findings: Schemas['Finding'][];
  };
  let { bench, record, findings }: Props = $props();
  const usable = (remedy: Schemas['Remedy']) =>
    [remedy.changes, remedy.shot, remedy.things].some((c) => Object.keys(c ?? {}).length > 0);
</script>

<section class="px-3 py-2" aria-label="Findings">
  <h2 class="text-lg">Findings</h2>
  <ul class="grid gap-2">
    {#each findings as finding (finding.key)}
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
            {#if finding.remedies.length > 0}
              <ul class="mt-1 grid gap-1.5">
                {#each finding.remedies as remedy, i (i)}
                  <li class="bg-paper p-1.5 text-sm">
                    <div class="flex items-start justify-between gap-2">
                      <span class="font-semibold">{remedy.sentence}</span>
                      {#if usable(remedy) && bench.editable}
                        <button
                          class="btn tape min-h-7! shrink-0 py-0!"
                          onclick={() => bench.apply(record, remedy)}>Do this</button
                        >
                      {/if}
                    </div>
                    <span class="flex items-start gap-1.5">
                      <span class="pt-1"><VerdictMark verdict={remedy.verdict} size={16} /></span>
                      <span>{remedy.effect}</span>
                    </span>
                  </li>
                {/each}
              </ul>
            {/if}
          </div>
        </div>
      </li>
    {/each}
  </ul>
</section>
