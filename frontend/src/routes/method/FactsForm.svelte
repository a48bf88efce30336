<script lang="ts">
  import type { Facts, Method } from './method.svelte';

  type Props = { method: Method };
  let { method }: Props = $props();
  const facts = $derived(method.facts);
  const off = $derived(!method.editable);
  const flip = <T,>(list: readonly T[], item: T, on: boolean): T[] =>
    on ? [...list.filter((x) => x !== item), item] : list.filter((x) => x !== item);
  const whole = (event: Event & { currentTarget: HTMLInputElement }, most: number) => {
    const value = Math.round(event.currentTarget.valueAsNumber);
    return Number.isFinite(value) ? Math.min(Math.max(value, 1), most) : 1;
  };
</script>

<fieldset disabled={off} class="grid gap-3 text-sm">
  <legend class="mb-1 text-base font-semibold">A few facts</legend>
  <div role="group" aria-label="What it shows">
    <p class="text-soft">What must it show?</p>
    {#each Object.entries(method.book.subjects) as [key, name] (key)}
      <label class="flex items-center gap-1.5 py-px">
        <input
          type="checkbox"
          checked={(facts.shows ?? []).some((s) => s === key)}
          disabled={(facts.shows ?? []).length === 1 && facts.shows?.[0] === key}
          onchange={(event) =>
            method.tell({
              shows: flip(facts.shows ?? [], key, event.currentTarget.checked) as Facts['shows'],
            })}
        />
        {name}
      </label>
    {/each}
  </div>
  <label class="flex items-center justify-between gap-2">
    <span class="text-soft">Camera</span>
    <select
      id="fact-camera"
      class="field w-32!"
      value={facts.camera}
      onchange={(event) =>
        method.tell({ camera: event.currentTarget.value as 'locked' | 'moving' })}
    >
      <option value="locked">locked</option>
      <option value="moving">moving</option>
    </select>
  </label>
  <label class="flex items-center justify-between gap-2">
    <span class="text-soft">People, you included</span>
    <input
      id="fact-people"
      class="field w-20!"
      type="number"
      min="1"
      max="200"
      value={facts.people}
      onchange={(event) => method.tell({ people: whole(event, 200) })}
    />
  </label>
  <label class="flex items-center justify-between gap-2">
    <span class="text-soft">Shots that see the same</span>
    <input
      id="fact-again"
      class="field w-20!"
      type="number"
      min="1"
      max="500"
      value={facts.seen_again}
      onchange={(event) => method.tell({ seen_again: whole(event, 500) })}
    />
  </label>
  <label class="flex items-center justify-between gap-2">
    <span class="text-soft">It may look</span>
    <select
      id="fact-realism"
      class="field w-32!"
      value={String(facts.realism)}
      onchange={(event) => method.tell({ realism: Number(event.currentTarget.value) })}
    >
      <option value="3">real, no less</option>
      <option value="2">a little made</option>
      <option value="1">openly made</option>
    </select>
  </label>
  <label class="flex items-center gap-1.5">
    <input
      type="checkbox"
      checked={facts.screen_fits}
      onchange={(event) => method.tell({ screen_fits: event.currentTarget.checked })}
    />
    A screen fits where it is filmed
  </label>
  <label class="flex items-center gap-1.5">
    <input
      type="checkbox"
      checked={facts.night}
      onchange={(event) => method.tell({ night: event.currentTarget.checked })}
    />
    It is night outside
  </label>
  <div role="group" aria-label="What we have">
    <p class="text-soft">We have, or can borrow</p>
    {#each Object.entries(method.book.owned) as [key, name] (key)}
      <label class="flex items-center gap-1.5 py-px">
        <input
          type="checkbox"
          checked={(facts.owned ?? []).some((s) => s === key)}
          onchange={(event) =>
            method.tell({
              owned: flip(facts.owned ?? [], key, event.currentTarget.checked) as Facts['owned'],
            })}
        />
        {name}
      </label>
    {/each}
  </div>
</fieldset>
