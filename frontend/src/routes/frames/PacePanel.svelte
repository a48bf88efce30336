<script lang="ts">
  import { hours } from '../../lib/kinds';
  import type { SheetDesk } from './desk.svelte';

  let { desk }: { desk: SheetDesk } = $props();
  const progress = $derived(desk.answer?.progress ?? null);
  const days = $derived(desk.record.draft.worked ?? []);
  const editable = $derived(desk.bench.editable);
  const next = $derived(
    Math.min(Math.max(progress?.made ?? 0, ...days.map((day) => day.last)) + 1, desk.frames),
  );
  const today = () => new Date().toLocaleDateString('sv');
  let day = $state(today());
  let first = $state<number | null>(null);
  let last = $state<number | null>(null);
  let spent = $state<number | null>(null);
  let problem = $state('');

  function add(event: SubmitEvent) {
    event.preventDefault();
    const from = first ?? next;
    if (!day || last === null || spent === null) {
      problem = 'Say the last frame made, and how many hours it took.';
    } else if (from < 1 || last < from) {
      problem = 'The first frame made comes before the last.';
    } else if (!(spent > 0 && spent <= 24)) {
      problem = 'A day at the table has more than 0 and at most 24 hours.';
    } else {
      problem = '';
      desk.worked([...days, { day, first: from, last, hours: spent }], 'A day at the table');
      first = last = spent = null;
    }
  }
</script>

<section class="border-line border-b px-3 py-2" aria-label="How far it has come">
  <h2 class="text-lg">How far it has come</h2>
  {#if progress}
    <p>
      <b>{progress.made}</b> of {desk.frames} frames stand; {progress.pictures_left}
      {progress.pictures_left === 1 ? 'picture is' : 'pictures are'} left, about {hours(
        progress.hours_left,
      )}
      {#if progress.measured}at the {progress.pictures_per_h.toFixed(1)} pictures ({progress.film_s_per_h.toFixed(
          2,
        )} s of film) an hour measured here.
      {:else}at the usual {progress.pictures_per_h.toFixed(0)} pictures an hour.{/if}
    </p>
    {#if progress.done_on && progress.frames_left}
      <p>
        {progress.days_left}
        {progress.days_left === 1 ? 'day' : 'days'} more; as the days have come so far, done on
        <b>{new Date(progress.done_on).toLocaleDateString(undefined, { dateStyle: 'medium' })}</b>.
      </p>
    {/if}
  {/if}
  {#if days.length || desk.sat.length}
    <table class="mt-1 w-full text-sm">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Day</th><th class="text-right font-normal">frames</th
          ><th class="text-right font-normal">hours</th><th></th></tr
        ></thead
      >
      <tbody>
        {#each days as one, i (i)}
          <tr class="border-line border-t"
            ><td>{one.day}</td><td class="text-right">{one.first} to {one.last}</td><td
              class="text-right">{one.hours}</td
            ><td class="text-right"
              >{#if editable}<button
                  class="text-soft underline"
                  aria-label="Remove {one.day}"
                  onclick={() =>
                    desk.worked(
                      days.filter((_, n) => n !== i),
                      'Remove a day',
                    )}>remove</button
                >{/if}</td
            ></tr
          >
        {/each}
        {#each desk.sat as one (`${one.day} ${one.first}`)}
          <tr class="border-line border-t" data-testid="sat"
            ><td>{one.day}</td><td class="text-right">pictures {one.first} to {one.last}</td><td
              class="text-right">{one.hours.toFixed(1)}</td
            ><td class="text-soft text-right">by the camera</td></tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
  {#if editable}
    <form class="mt-1 flex flex-wrap items-end gap-1 text-sm" onsubmit={add}>
      <label class="grid"
        >day<input class="field w-auto! min-h-7! py-0!" type="date" bind:value={day} /></label
      >
      <label class="grid"
        >frames<input
          class="field w-16! min-h-7! py-0!"
          type="number"
          min="1"
          placeholder={String(next)}
          bind:value={first}
        /></label
      >
      <label class="grid"
        >to<input
          class="field w-16! min-h-7! py-0!"
          type="number"
          min="1"
          bind:value={last}
        /></label
      >
      <label class="grid"
        >hours<input
          class="field w-16! min-h-7! py-0!"
          type="number"
          min="0"
          max="24"
          step="any"
          bind:value={spent}
        /></label
      >
      <button class="btn min-h-7! py-0!">Log the day</button>
    </form>
    {#if problem}<p role="alert" class="text-sm font-semibold">{problem}</p>{/if}
  {/if}
</section>
