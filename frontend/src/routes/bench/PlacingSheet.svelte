<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length, say, share } from '../../lib/quantities';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import Section from './Section.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    /** Told when the hand rests. */
    inPost: Schemas['InPost'] | null;
  };
  let { bench, record, inPost }: Props = $props();
  const draft = $derived(record.draft);
  const on = $derived(draft.placed_in_post ?? false);
  const scale = $derived(draft.scale ?? 1);
  let kept = $state.raw<Schemas['InPost'] | null>(null);
  $effect.pre(() => {
    if (inPost || !on) kept = inPost;
  });
  /** What is put on in post, in words; nothing of what hardly shows. */
  const added = $derived.by(() => {
    if (!kept) return [];
    const found: string[] = [];
    if (kept.soften_px > 0)
      found.push(`${kept.soften_px.toFixed(1)} px of softness, as ${kept.softer_name} has there`);
    if (kept.smear_px >= 0.5)
      found.push(`a smear of up to ${kept.smear_px.toFixed(1)} px along its way`);
    if (kept.haze >= 0.01) found.push(`haze over ${share(kept.haze)} of it`);
    return found;
  });
</script>

<Section title="Placed in post">
  <label class="flex min-h-7 items-center gap-1.5 py-0.5">
    <input
      type="checkbox"
      disabled={!bench.editable || (draft.crowd ?? null) !== null}
      checked={on}
      onchange={(event) =>
        bench.change(record, 'placed_in_post', event.currentTarget.checked, 'Placed in post')}
    />
    filmed near and large, laid in where it belongs
  </label>
  {#if draft.crowd}
    <p class="text-soft text-xs">A crowd is laid out where it stands in the picture.</p>
  {:else if on}
    <RecordNumber
      {bench}
      {record}
      field="placed_from_m"
      label="Lens to the middle of it"
      hint={kept
        ? `${scale === 1 ? '' : 'in the story; '}the story has it ${length(kept.story_m * scale)} away; safe from ${length(kept.least_m * scale)} on`
        : 'along the line of sight'}
      kind="length"
      nullable
      derived={kept ? kept.from_m * scale : null}
    />
    <label class="flex min-h-7 items-center gap-1.5 py-0.5">
      <input
        type="checkbox"
        disabled={!bench.editable}
        checked={draft.walks_on_set ?? false}
        onchange={(event) =>
          bench.change(record, 'walks_on_set', event.currentTarget.checked, 'Goes its way on set')}
      />
      it goes its way on set
    </label>
    {#if kept}
      <table class="w-full text-sm" data-testid="in-post">
        <caption class="text-soft text-left text-xs">
          Where the middle of what is filmed lies in the delivered picture, and how large
        </caption>
        <thead class="text-soft text-xs">
          <tr>
            <th class="text-left font-normal">Frame</th>
            <th class="text-right font-normal">From left</th>
            <th class="text-right font-normal">From top</th>
            <th class="text-right font-normal">Size</th>
          </tr>
        </thead>
        <tbody>
          {#each kept.laid as one (one.frame)}
            <tr class="border-line border-t">
              <td>{kept.laid.length === 1 ? 'all' : one.frame}</td>
              <td class="text-right">{one.x_px.toFixed(1)} px</td>
              <td class="text-right">{one.y_px.toFixed(1)} px</td>
              <td class="text-right">{share(one.size)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
      {#if added.length > 0}
        <p class="mt-1 text-sm">Then {added.join('; ')}.</p>
      {/if}
      <p class="mt-1 text-sm">
        <a
          class="underline"
          href="/api/productions/{bench.productionId}/shots/{bench.shotId}/plates/{record.id}/in-post.csv"
          download>Every frame, CSV</a
        >
        <span class="text-soft"
          >· looked at {Math.abs(kept.down_deg) < 0.05
            ? 'level'
            : `${say(Math.abs(kept.down_deg), 'degrees')} from ${kept.down_deg > 0 ? 'above' : 'below'}`}</span
        >
      </p>
    {:else}
      <p class="text-soft text-sm">
        Nothing of it is in the picture yet, or it has no lens: then it is told where it lies.
      </p>
    {/if}
  {/if}
</Section>
