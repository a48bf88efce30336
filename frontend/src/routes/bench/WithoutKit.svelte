<script lang="ts">
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Planner } from './planner.svelte';

  type Props = { bench: OpenShot; planner: Planner };
  let { bench, planner }: Props = $props();
  const things = $derived([
    ...bench.kit.lenses,
    ...bench.kit.bodies,
    ...bench.kit.lamps,
    ...bench.kit.rooms,
  ]);
  const name = (id: string) => things.find((t) => t.id === id)?.name ?? '';
  function take(ids: string[]) {
    planner.taken = ids;
    void planner.without();
  }
  const touched = $derived((planner.changes ?? []).filter((c) => c.changed || c.uses));
</script>

<section aria-label="What if something is not there" class="mt-3">
  <h3>What if something is not there?</h3>
  <label class="text-sm">
    <span class="text-soft">Without</span>
    <select
      class="field max-w-60"
      value=""
      onchange={(event) => {
        const id = event.currentTarget.value;
        event.currentTarget.value = '';
        if (id) take([...planner.taken.filter((other) => other !== id), id]);
      }}
    >
      <option value="">choose from the kit</option>
      {#each things as thing (thing.id)}<option value={thing.id}>{thing.name}</option>{/each}
    </select>
  </label>
  {#each planner.taken as id (id)}
    <button
      class="btn mt-1 mr-1 min-h-7! py-0!"
      title="It is there after all"
      onclick={() => take(planner.taken.filter((other) => other !== id))}
    >
      without {name(id)} ×
    </button>
  {/each}
  {#if planner.changes}
    {#if touched.length === 0}
      <p class="text-sm">No plate of this shot changes.</p>
    {:else}
      <ul data-testid="without">
        {#each touched as change (change.plate_id)}
          <li class="border-line flex items-start gap-2 border-t py-1 text-sm">
            <span class="flex shrink-0 items-center gap-1 pt-0.5">
              {#if change.before}<VerdictMark verdict={change.before} size={18} />{/if}→
              {#if change.after}<VerdictMark verdict={change.after} size={18} />{/if}
            </span>
            <span>
              <b>{change.plate}</b>
              {#if change.instead}
                {change.instead.lens} on {change.instead.body} instead. {change.instead.reasons[0]}
              {/if}
            </span>
          </li>
        {/each}
      </ul>
    {/if}
  {/if}
</section>
