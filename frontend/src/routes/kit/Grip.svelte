<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { TURNS } from '../../lib/kinds';
  import { SCREENS } from '../../lib/light';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import { CLOTH, CLOTHS, CORD, CORDS, SUPPORT, SUPPORTS } from './grip';
  import type { Cloth, Cord, KitBook, Support } from './kit.svelte';
  import Loan from './Loan.svelte';
  import ShelfList from './ShelfList.svelte';

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

{#snippet tick(words: string, on: boolean, change: (on: boolean) => void)}
  <label class="flex min-h-7 items-center gap-1.5">
    <input
      type="checkbox"
      disabled={!kit.editable}
      checked={on}
      onchange={(event) => change(event.currentTarget.checked)}
    />
    {words}
  </label>
{/snippet}

<ShelfList
  title="Supports"
  shelf={kit.supports}
  add="Add a support:"
  starts={SUPPORTS}
  empty="No support yet. With what your cameras stand on, the Bench says whether any of it goes as high or low, turns as the shot pans and carries the camera as far as it goes."
  what="support"
  specs={() => SUPPORT}
  editable={kit.editable}
  {onremove}
>
  {#snippet children(one)}
    <ChoiceField
      label="Its head turns about"
      empty="it has no head"
      value={one.draft.turns_about ?? null}
      options={TURNS}
      disabled={!kit.editable}
      onchange={(value) => set(one, 'turns_about', value as Support['turns_about'])}
    />
    {@render tick('raises and lowers the camera in a take', one.draft.lifts ?? false, (on) =>
      set(one, 'lifts', on),
    )}
    <Loan record={one} disabled={!kit.editable} />
  {/snippet}
</ShelfList>

<ShelfList
  title="Cloths and boards"
  shelf={kit.cloths}
  add="Add a cloth:"
  starts={CLOTHS}
  empty="No cloth yet. With those you own, a screen that nobody can hang is told, and one that covers the action is offered."
  what="cloth"
  specs={() => CLOTH}
  editable={kit.editable}
  {onremove}
>
  {#snippet children(one)}
    <ChoiceField
      label="Colour"
      value={one.draft.colour ?? 'green'}
      options={SCREENS}
      disabled={!kit.editable}
      onchange={(value) => set(one, 'colour', (value ?? 'green') as Cloth['colour'])}
    />
    {@render tick('stiff: none of it can lie on the floor', one.draft.stiff ?? false, (on) =>
      set(one, 'stiff', on),
    )}
    <Loan record={one} disabled={!kit.editable} />
  {/snippet}
</ShelfList>

<ShelfList
  title="Threads and lines"
  shelf={kit.cords}
  add="Add one:"
  starts={CORDS}
  empty="No thread or line yet. With those you own, a rig that is seen or overloaded is offered the one that is thin or strong enough. Never for people."
  what="line"
  specs={() => CORD}
  editable={kit.editable}
  {onremove}
>
  {#snippet children(one)}
    {@render tick('clear', one.draft.clear ?? false, (on) => set(one, 'clear', on))}
    <Loan record={one} disabled={!kit.editable} />
  {/snippet}
</ShelfList>
