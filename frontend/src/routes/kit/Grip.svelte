<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { SCREENS } from '../../lib/light';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import { CLOTH, CLOTHS, CORD, CORDS, HEADS, SUPPORT, SUPPORTS } from './fields';
  import type { Cloth, Cord, KitBook, Support } from './kit.svelte';
  import KitRecord from './KitRecord.svelte';
  import Loan from './Loan.svelte';

  type Props = { kit: KitBook; onremove: (name: string, remove: () => Promise<void>) => void };
  let { kit, onremove }: Props = $props();

  function set<T extends Support | Cloth | Cord, F extends keyof T & string>(
    record: SavedRecord<T>,
    field: F,
    value: T[F],
  ) {
    record.set(field, value);
    void record.commit();
  }
</script>

<section class="mt-8" aria-label="Supports">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Supports</h2>
    {#if kit.editable}
      <p class="text-sm">
        <span class="text-soft">Add a support:</span>
        {#each SUPPORTS as one (one.name)}
          <button class="ml-2 underline" onclick={() => kit.addSupport(one)}>{one.name}</button>
        {/each}
      </p>
    {/if}
  </div>
  {#if kit.supports.length === 0}
    <p class="text-soft">
      No support yet. With what your cameras stand on, the Bench says whether any of it goes as high
      or low, turns as the shot pans and carries the camera as far as it goes.
    </p>
  {/if}
  <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
    {#each kit.supports as one (one.id)}
      <KitRecord
        record={one}
        specs={SUPPORT}
        what="support"
        disabled={!kit.editable}
        onremove={() => onremove(one.draft.name, () => kit.removeSupport(one))}
      >
        <ChoiceField
          label="Its head turns about"
          empty="it has no head"
          value={one.draft.turns_about ?? null}
          options={HEADS}
          disabled={!kit.editable}
          onchange={(value) => set(one, 'turns_about', value as Support['turns_about'])}
        />
        <label class="flex min-h-7 items-center gap-1.5">
          <input
            type="checkbox"
            disabled={!kit.editable}
            checked={one.draft.lifts ?? false}
            onchange={(event) => set(one, 'lifts', event.currentTarget.checked)}
          />
          raises and lowers the camera in a take
        </label>
        <Loan record={one} disabled={!kit.editable} />
      </KitRecord>
    {/each}
  </div>
</section>

<section class="mt-8" aria-label="Cloths and boards">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Cloths and boards</h2>
    {#if kit.editable}
      <p class="text-sm">
        <span class="text-soft">Add a cloth:</span>
        {#each CLOTHS as one (one.name)}
          <button class="ml-2 underline" onclick={() => kit.addCloth(one)}>{one.name}</button>
        {/each}
      </p>
    {/if}
  </div>
  {#if kit.cloths.length === 0}
    <p class="text-soft">
      No cloth yet. With those you own, a screen that nobody can hang is told, and one that covers
      the action is offered.
    </p>
  {/if}
  <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
    {#each kit.cloths as one (one.id)}
      <KitRecord
        record={one}
        specs={CLOTH}
        what="cloth"
        disabled={!kit.editable}
        onremove={() => onremove(one.draft.name, () => kit.removeCloth(one))}
      >
        <ChoiceField
          label="Colour"
          value={one.draft.colour ?? 'green'}
          options={SCREENS}
          disabled={!kit.editable}
          onchange={(value) => set(one, 'colour', (value ?? 'green') as Cloth['colour'])}
        />
        <label class="flex min-h-7 items-center gap-1.5">
          <input
            type="checkbox"
            disabled={!kit.editable}
            checked={one.draft.stiff ?? false}
            onchange={(event) => set(one, 'stiff', event.currentTarget.checked)}
          />
          stiff: none of it can lie on the floor
        </label>
        <Loan record={one} disabled={!kit.editable} />
      </KitRecord>
    {/each}
  </div>
</section>

<section class="mt-8" aria-label="Threads and lines">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Threads and lines</h2>
    {#if kit.editable}
      <p class="text-sm">
        <span class="text-soft">Add one:</span>
        {#each CORDS as one (one.name)}
          <button class="ml-2 underline" onclick={() => kit.addCord(one)}>{one.name}</button>
        {/each}
      </p>
    {/if}
  </div>
  {#if kit.cords.length === 0}
    <p class="text-soft">
      No thread or line yet. With those you own, a rig that is seen or overloaded is offered the one
      that is thin or strong enough. Never for people.
    </p>
  {/if}
  <div class="mt-2 grid items-start gap-4 lg:grid-cols-2">
    {#each kit.cords as one (one.id)}
      <KitRecord
        record={one}
        specs={CORD}
        what="line"
        disabled={!kit.editable}
        onremove={() => onremove(one.draft.name, () => kit.removeCord(one))}
      >
        <label class="flex min-h-7 items-center gap-1.5">
          <input
            type="checkbox"
            disabled={!kit.editable}
            checked={one.draft.clear ?? false}
            onchange={(event) => set(one, 'clear', event.currentTarget.checked)}
          />
          clear
        </label>
        <Loan record={one} disabled={!kit.editable} />
      </KitRecord>
    {/each}
  </div>
</section>
