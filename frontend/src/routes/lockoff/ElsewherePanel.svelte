<script lang="ts">
  import { dayInWords } from '../../lib/days';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';

  /** What other shots and views film from the set-up of a plate. */
  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  const name = $derived(record.stored.lock_group ?? '');
  $effect(() => {
    // Asked once a shot; a change of the name asks anew.
    if (bench.lockoffs.held === null) void bench.lockoffs.ask();
  });
  const shots = $derived(bench.lockoffs.elsewhere(name));
  const views = $derived(bench.beside.filter((one) => one.here && one.plate.lock_group === name));
  /** When a shot films from it. */
  const days = (shot: (typeof shots)[number]) =>
    [...new Set(shot.plates.flatMap((p) => (p.film_on ? [p.film_on] : [])))]
      .sort()
      .map((day, i) => `${i === 0 ? ', on' : ' and'} ${dayInWords(day)}`)
      .join('');
  let to = $state<string | null>(null);
  let problem = $state('');
  async function rename() {
    if (to === null) return;
    problem = to.trim() === name ? '' : await bench.lockoffs.rename(name, to.trim());
    if (!problem) to = null;
  }
  function leave() {
    bench.alone(record, 'lock_group', bench.lockoffs.free());
    bench.commitAll([record], 'A lock-off of its own');
  }
</script>

{#if shots.length > 0 || views.length > 0}
  <h3 class="text-soft mt-2 text-sm">Also filmed from it</h3>
  <ul class="text-sm" data-testid="elsewhere">
    {#each shots as shot (shot.id)}
      <li class="border-line border-t py-0.5">
        <a
          class="font-semibold underline"
          href="/productions/{bench.productionId}/shots/{shot.id}/lockoff"
          >Shot {shot.number} {shot.title}</a
        >:
        {shot.plates.map((p) => p.name + (p.filmed ? ' (filmed)' : '')).join('; ')}{days(shot)}
      </li>
    {/each}
    {#each views as one (one.plate.id)}
      <li class="border-line border-t py-0.5">{one.plate.name} of {one.shot}</li>
    {/each}
  </ul>
  <p class="text-soft text-sm">
    A change here does not reach other shots: whoever departs is told, there and here.
  </p>
{/if}
{#if bench.editable && name}
  {#if to === null}
    <p class="mt-1 flex flex-wrap gap-2">
      <button class="btn" onclick={() => (to = name)}>Rename this lock-off</button>
      {#if shots.length > 0}
        <button class="btn" onclick={leave}>Give this plate one of its own</button>
      {/if}
    </p>
  {:else}
    <form
      class="mt-1 flex flex-wrap items-end gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        void rename();
      }}
    >
      <label class="grow"
        >New name, in every shot
        <input
          class="field"
          maxlength="20"
          required
          bind:value={to}
          {@attach (field) => field.focus()}
        /></label
      >
      <button class="btn" type="submit">Rename</button>
      <button class="btn" type="button" onclick={() => (to = null)}>Leave it</button>
    </form>
    {#if problem}<p role="alert" class="py-1 text-sm font-semibold">{problem}</p>{/if}
  {/if}
{/if}
