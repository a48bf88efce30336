<script lang="ts">
  import { edged, type Area } from './area';

  type Props = { area: Area; onarea: (area: Area) => void };
  let { area, onarea }: Props = $props();
</script>

<fieldset class="text-sm">
  <legend class="text-soft">The part, drawn over the picture or set here</legend>
  {#each ['left', 'top', 'right', 'bottom'] as side, n (side)}
    <label class="flex items-center gap-2"
      ><span class="w-16">{side}</span>
      <input
        type="range"
        min="0"
        max="100"
        value={Math.round((area[n] ?? 0) * 100)}
        oninput={(event) => onarea(edged(area, n, event.currentTarget.valueAsNumber / 100))}
      />
      <span class="tabular-nums">{Math.round((area[n] ?? 0) * 100)} %</span></label
    >
  {/each}
</fieldset>
