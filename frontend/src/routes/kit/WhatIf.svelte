<script lang="ts">
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { KitBook } from './kit.svelte';
  import { WhatIf, type Change } from './whatif.svelte';

  type Props = { kit: KitBook };
  let { kit }: Props = $props();
  const what = $derived(new WhatIf(kit.productionId));
  $effect(() => {
    const { work } = what;
    void work.resume();
    return () => work.dispose();
  });
  const shelves = $derived([
    { name: 'Lenses', things: kit.lenses.records.map((x) => x.draft) },
    { name: 'Bodies', things: kit.bodies.map((b) => b.record.draft) },
    { name: 'Lamps', things: kit.lamps.records.map((x) => x.draft) },
    { name: 'Rooms', things: kit.rooms.records.map((r) => r.draft) },
    { name: 'Supports', things: kit.supports.records.map((x) => x.draft) },
    { name: 'Cloths', things: kit.cloths.records.map((x) => x.draft) },
    { name: 'People', things: kit.people.records.map((x) => x.draft) },
  ]);
  const changes = $derived(what.found?.changes ?? []);
  const touched = $derived(changes.filter((c) => c.changed || c.uses || what.whole));
  const worse = (c: Change) => c.after === 'breaks' && c.before !== 'breaks';
  const count = $derived(changes.filter((c) => c.changed).length);
</script>

<details class="border-line bg-card mt-4 border p-3">
  <summary class="font-semibold">What if something were lent out?</summary>
  <p class="text-soft max-w-prose text-sm">
    Tick what would not be there. Plates that use it are planned anew from what is left; the others
    are judged again. Nothing is changed.
  </p>
  <div class="mt-2 flex flex-wrap gap-x-8 gap-y-2">
    {#each shelves as shelf (shelf.name)}
      {#if shelf.things.length > 0}
        <fieldset>
          <legend class="text-soft text-sm">{shelf.name}</legend>
          {#each shelf.things as thing (thing.id)}
            <label class="flex min-h-7 items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                checked={what.taken.includes(thing.id)}
                onchange={() => what.toggle(thing.id)}
              />
              {thing.name}
            </label>
          {/each}
        </fieldset>
      {/if}
    {/each}
  </div>
  <div class="mt-2 flex flex-wrap items-center gap-3">
    <button
      class="btn btn-main"
      disabled={what.work.open || (what.taken.length === 0 && !what.whole)}
      onclick={() => void what.run()}>Look at every shot</button
    >
    <label class="flex items-center gap-1.5 text-sm">
      <input type="checkbox" bind:checked={what.whole} />
      plan every plate anew, not only those that used it
    </label>
  </div>
  {#if !what.found}<div class="mt-2"><JobLine work={what.work} /></div>{/if}
  {#if what.found}
    <p class="mt-2" role="status">
      {count === 0
        ? 'No verdict changes.'
        : `${count} plate${count === 1 ? '' : 's'} would change verdict.`}
    </p>
  {/if}
  {#if touched.length > 0}
    <table class="mt-1 w-full text-sm" data-testid="what-if">
      <thead class="text-soft text-xs">
        <tr>
          <th class="text-left font-normal">Shot</th>
          <th class="text-left font-normal">Plate</th>
          <th class="text-left font-normal">Now, and then</th>
          <th class="text-left font-normal">Instead</th>
        </tr>
      </thead>
      <tbody>
        {#each touched as change (change.plate_id)}
          <tr class={['border-line border-t align-top', worse(change) ? 'font-semibold' : '']}>
            <td>
              <a class="underline" href="/productions/{kit.productionId}/shots/{change.shot_id}"
                >{change.number} {change.title}</a
              >
            </td>
            <td>{change.plate}</td>
            <td class="whitespace-nowrap">
              <span class="inline-flex items-center gap-1">
                {#if change.before}<VerdictMark verdict={change.before} size={18} />{:else}no kit{/if}
                →
                {#if change.after}<VerdictMark verdict={change.after} size={18} />{:else}no kit{/if}
              </span>
            </td>
            <td>
              {#if change.instead}
                {change.instead.lens} on {change.instead.body}. {change.instead.reasons[0]}
              {/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</details>
