<script lang="ts">
  import Ruler from '@lucide/svelte/icons/ruler';
  import { Popover } from 'bits-ui';
  import { NOTATIONS } from '../notations';
  import { units, type Notation } from '../units.svelte';

  const keys = Object.keys(NOTATIONS) as (keyof Notation)[];
</script>

<Popover.Root>
  <Popover.Trigger class="p-1" aria-label="Units" title="Units"><Ruler size={17} /></Popover.Trigger
  >
  <Popover.Portal>
    <Popover.Content
      class="bg-card border-ink z-30 border-t-4 p-4 shadow-xl"
      sideOffset={6}
      collisionPadding={8}
    >
      {#each keys as key (key)}
        <fieldset class="mb-2">
          <legend class="text-soft text-sm">{NOTATIONS[key].title}</legend>
          {#each NOTATIONS[key].options as option (option.value)}
            <label class="mr-3 inline-flex min-h-7 items-center gap-1.5">
              <input
                type="radio"
                name={`units-${key}`}
                checked={units.now[key] === option.value}
                onchange={() => units.choose({ [key]: option.value })}
              />
              {option.name}
            </label>
          {/each}
        </fieldset>
      {/each}
      {#if units.own}
        <button class="mb-2 text-sm underline" onclick={() => units.forget()}>
          As the production has it
        </button>
      {/if}
      <p class="text-soft max-w-60 text-xs">
        You may type either in any field: 66 mm, 5'6", 100 fc, f/5.6⅓, 1/48.
      </p>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
