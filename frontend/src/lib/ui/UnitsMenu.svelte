<script lang="ts">
  import Ruler from '@lucide/svelte/icons/ruler';
  import { Popover } from 'bits-ui';
  import { units, type Notation } from '../units.svelte';

  const choices: {
    [K in keyof Notation]: { title: string; options: { value: Notation[K]; name: string }[] };
  } = {
    length: {
      title: 'Lengths',
      options: [
        { value: 'metric', name: 'mm and m' },
        { value: 'feet', name: 'feet and inches' },
      ],
    },
    light: {
      title: 'Light',
      options: [
        { value: 'lux', name: 'lux' },
        { value: 'footcandles', name: 'foot-candles' },
      ],
    },
    stop: {
      title: 'Stops',
      options: [
        { value: 'decimal', name: 'f/6.3' },
        { value: 'thirds', name: 'f/5.6⅓' },
      ],
    },
    shutter: {
      title: 'Shutter',
      options: [
        { value: 'angle', name: 'angle' },
        { value: 'time', name: '1/48 s' },
      ],
    },
  };
  const keys = Object.keys(choices) as (keyof Notation)[];
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
          <legend class="text-soft text-sm">{choices[key].title}</legend>
          {#each choices[key].options as option (option.value)}
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
      <p class="text-soft max-w-60 text-xs">
        You may type either in any field: 66 mm, 5'6", 100 fc, f/5.6⅓, 1/48.
      </p>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
