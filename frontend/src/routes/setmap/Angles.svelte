<script lang="ts">
  import { length } from '../../lib/quantities';
  import type { SetMapAnswer } from './desk.svelte';

  /** How large the set has to be for each angle on it, and what is within reach. */
  let { answer }: { answer: SetMapAnswer } = $props();
  const part = (value: number) => `${(value * 100).toFixed(0)} %`;
</script>

{#if answer.reached.length}
  <section class="border-line border-b px-3 py-2" aria-label="Within reach">
    <h2 class="text-lg">Within reach</h2>
    <p class="text-soft text-sm">
      Of {answer.arm?.name || 'an arm of usual length'}: {length(answer.arm?.reach_m ?? 0)} in from where
      one stands.
    </p>
    <table class="mt-1 w-full text-sm">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Posed</th><th class="text-right font-normal">poses</th
          ><th class="text-right font-normal">beyond</th><th class="text-right font-normal"
            >farthest</th
          ></tr
        ></thead
      >
      <tbody>
        {#each answer.reached as one (one.thing_id)}
          <tr class="border-line border-t"
            ><td>{one.name}</td><td class="text-right">{one.poses}</td><td class="text-right"
              >{one.beyond}</td
            ><td class="text-right font-semibold"
              >{one.away_m === null ? 'no way in' : length(one.away_m)}</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
  </section>
{/if}
<section class="px-3 py-2" aria-label="How large for each angle">
  <h2 class="text-lg">How large for each angle</h2>
  {#each answer.angles as angle (angle.plate_id)}
    <h3 class="mt-1 text-sm font-semibold">{angle.name}</h3>
    <p class="text-sm">
      {angle.bare < 0.005 || !angle.drawn
        ? ''
        : `${part(angle.bare)} of the frame shows no set. `}{angle.advice}
    </p>
    {#if angle.surfaces.length}
      <table class="w-full text-sm">
        <thead class="text-soft text-xs"
          ><tr
            ><th class="text-left font-normal">At</th><th class="text-right font-normal"
              >distance</th
            ><th class="text-right font-normal">the frame takes in</th></tr
          ></thead
        >
        <tbody>
          {#each angle.surfaces as surface, i (i)}
            <tr class="border-line border-t"
              ><td>{surface.name}</td><td class="text-right">{length(surface.distance_m)}</td><td
                class="text-right"
                >{length(surface.needed_width_m)} × {length(surface.needed_height_m)}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  {/each}
</section>
