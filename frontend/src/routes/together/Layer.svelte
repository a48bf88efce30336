<script lang="ts">
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import { howSaid, type Plate, type Together } from './together.svelte';

  type Props = { plate: Plate; together: Together };
  let { plate, together }: Props = $props();
  const pick = $derived(together.pick(plate.id));
  const picture = $derived(
    plate.pictures.find((one) => one.id === pick.picture) ?? plate.pictures[0] ?? null,
  );
  const id = $props.id();
</script>

<li class="border-line border-t pt-2" data-testid="layer" data-how={plate.how}>
  <p class="flex items-center gap-2">
    <PlateSymbol kind={plate.kind} size={24} />
    <b class="min-w-0 grow">{plate.name}</b>
    <label class="flex items-center gap-1 text-sm"
      ><input
        type="checkbox"
        checked={!pick.leftOut}
        disabled={!picture}
        onchange={(event) => together.set(plate.id, { leftOut: !event.currentTarget.checked })}
      /> in</label
    >
  </p>
  <p class="text-soft text-sm">{howSaid(plate)}</p>
  {#if picture}
    <label class="mt-1 flex items-center gap-2 text-sm" for="{id}-picture">
      <span class="sr-only">Take of {plate.name}</span>
      <select
        id="{id}-picture"
        class="field min-w-0 grow"
        value={pick.picture ?? ''}
        onchange={(event) => together.set(plate.id, { picture: event.currentTarget.value || null })}
      >
        {#each plate.pictures as one, n (one.id)}
          <option value={n === 0 ? '' : one.id}>{one.name}{n === 0 ? ' (counts)' : ''}</option>
        {/each}
      </select>
    </label>
    {#if picture.frames > 1}
      <label class="mt-1 flex items-center gap-2 text-sm">
        The shot begins in its frame
        <input
          type="number"
          class="field w-24"
          min="1"
          max={picture.frames}
          value={picture.begins}
          disabled={!together.editable}
          onchange={(event) => {
            const wanted = event.currentTarget.valueAsNumber;
            const whole = Number.isFinite(wanted)
              ? Math.min(Math.max(Math.round(wanted), 1), picture.frames)
              : picture.begins;
            event.currentTarget.value = String(whole);
            void together.begin(picture, whole);
          }}
        />
        <span class="text-soft tabular-nums">of {picture.frames.toLocaleString()}</span>
      </label>
    {/if}
    {#if plate.how === 'key'}
      <details class="mt-1 text-sm">
        <summary>Its key</summary>
        <label class="flex items-center gap-2"
          >Less than <input
            type="range"
            min="0"
            max="60"
            value={pick.low}
            oninput={(event) => together.set(plate.id, { low: event.currentTarget.valueAsNumber })}
          />
          <span class="tabular-nums">{pick.low} %</span> goes</label
        >
        <label class="flex items-center gap-2"
          >More than <input
            type="range"
            min="61"
            max="100"
            value={pick.high}
            oninput={(event) => together.set(plate.id, { high: event.currentTarget.valueAsNumber })}
          />
          <span class="tabular-nums">{pick.high} %</span> stays whole</label
        >
      </details>
    {/if}
  {:else}
    <p class="mt-1 text-sm font-semibold">Nothing of it is filmed yet.</p>
  {/if}
</li>
