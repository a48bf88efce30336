<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { length, share } from '../../lib/quantities';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';

  type Props = { bench: OpenShot; smoke: Schemas['Smoke'] | null };
  let { bench, smoke }: Props = $props();
  const air = $derived(bench.report?.air ?? null);
</script>

<section aria-label="Air" class="min-w-0">
  <h3>Air</h3>
  {#if !air}
    <p class="text-soft text-sm">
      Clear. Say how far one sees, under The world, Picture, and every layer gets its haze.
    </p>
  {:else}
    <p class="flex flex-wrap items-center gap-2 text-sm">
      One sees {length(air.visibility_m)}. Haze tint
      <span
        class="border-line inline-block h-4 w-8 border"
        style:background={air.tint}
        aria-hidden="true"
      ></span>
      <b>{air.tint}</b>
    </p>
    <table class="w-full text-sm">
      <thead class="text-soft text-xs">
        <tr>
          <th class="text-left font-normal">Layer, near to far</th>
          <th class="pl-2 text-right font-normal">At</th>
          <th class="pl-2 text-left font-normal">Overlay</th>
          <th class="pl-2 text-right font-normal">Contrast left</th>
        </tr>
      </thead>
      <tbody>
        {#each air.veils as veil (veil.stand_in_id)}
          <tr class="border-line border-t">
            <th scope="row" class="text-left font-normal">{veil.name}</th>
            <td class="pl-2 text-right whitespace-nowrap">{length(veil.distance_m)}</td>
            <td class="pl-2">
              <span class="flex items-center gap-1.5">
                <span class="border-line block h-3 w-16 border">
                  <span
                    class="block h-full"
                    style:width="{veil.opacity * 100}%"
                    style:background={air.tint}
                  ></span>
                </span>
                <b>{share(veil.opacity)}</b>
              </span>
            </td>
            <td class="pl-2 text-right">{share(veil.contrast_left)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if air.cards.length}
      <p class="mt-1 text-sm">
        Fog cards between layers:
        {#each air.cards as card, i (i)}
          {i ? '; ' : ''}<b>{share(card.opacity)}</b> behind {card.before}, before {card.behind}
        {/each}.
      </p>
    {/if}
    {#if smoke}
      <p class="mt-1 text-sm">
        Smoke for this set: one should see <b>{length(smoke.visibility_m)}</b> in it. At its far
        end, {length(smoke.depth_m)} from the lens, a black and a white card keep
        <b>{share(smoke.through)}</b> of the contrast they have close by: measure it with the spot meter
        beside the lens.
      </p>
      {#each smoke.cautions as caution (caution)}
        <p class="text-soft text-xs">{caution}</p>
      {/each}
    {/if}
  {/if}
</section>
