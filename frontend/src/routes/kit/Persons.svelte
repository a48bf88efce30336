<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { ANIMATOR, PERSON, ROLES } from './grip';
  import type { KitBook, Person, Role } from './kit.svelte';
  import ShelfList from './ShelfList.svelte';

  type Props = { kit: KitBook; onremove: (name: string, remove: () => Promise<void>) => void };
  let { kit, onremove }: Props = $props();
  const id = $props.id();
  const DAYS = [
    ['loan_first', 'There from'],
    ['loan_last', 'until'],
  ] as const;

  function set<F extends keyof Person & string>(
    record: SavedRecord<Person>,
    field: F,
    value: Person[F],
  ) {
    record.set(field, value);
    void record.commit();
  }

  function does(record: SavedRecord<Person>, role: Role, yes: boolean) {
    const rest = (record.draft.roles ?? []).filter((one) => one !== role);
    set(record, 'roles', yes ? [...rest, role].sort() : rest);
  }
  const problem = (one: SavedRecord<Person>) => one.problems.loan_last ?? one.problems.loan_first;
</script>

<ShelfList
  title="People"
  shelf={kit.people}
  add="Add a"
  starts={ROLES}
  empty="Nobody yet. With those who are filmed and those who help, a plate says who is not there on its day, whom it films twice, and whether a figure is as tall as who stands for it."
  what="person"
  specs={(one) => ((one.draft.roles ?? []).includes('animator') ? ANIMATOR : PERSON)}
  editable={kit.editable}
  {onremove}
>
  {#snippet children(one)}
    {#each ROLES as role (role.name)}
      <label class="flex min-h-7 items-center gap-1.5">
        <input
          type="checkbox"
          disabled={!kit.editable}
          checked={(one.draft.roles ?? []).includes(role.name)}
          onchange={(event) => does(one, role.name, event.currentTarget.checked)}
        />
        {role.does}
      </label>
    {/each}
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1 pt-1">
      {#each DAYS as [field, word] (field)}
        <span class="flex items-center gap-1">
          <label for="{id}-{one.id}-{field}" class="text-soft text-sm">{word}</label>
          <input
            id="{id}-{one.id}-{field}"
            class="field w-auto! min-h-7! py-0.5!"
            type="date"
            disabled={!kit.editable}
            value={one.draft[field] ?? ''}
            onchange={(event) => set(one, field, event.currentTarget.value || null)}
          />
        </span>
      {/each}
      {#if problem(one)}
        <p role="alert" class="w-full text-sm font-semibold">{problem(one)}</p>
      {/if}
    </div>
  {/snippet}
</ShelfList>
