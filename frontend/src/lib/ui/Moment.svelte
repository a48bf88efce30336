<script lang="ts">
  type Props = {
    /** The cameras of a shot, each with how many frames it shows. */
    views: { id: string | null; name: string; frames: number }[];
    view: string | null;
    frame: number;
  };
  /** Which camera of a shot, and which of its frames. */
  let { views, view = $bindable(), frame = $bindable() }: Props = $props();
  const frames = $derived(views.find((one) => one.id === view)?.frames ?? 1);
</script>

{#if views.length > 1}
  <label class="flex items-center gap-2">
    Camera
    <select
      class="border-line bg-card min-h-9 border px-2"
      value={view ?? ''}
      onchange={(event) => {
        view = event.currentTarget.value || null;
        frame = 1;
      }}
    >
      {#each views as one (one.id)}
        <option value={one.id ?? ''}>{one.name}</option>
      {/each}
    </select>
  </label>
{/if}
{#if frames > 1}
  <label class="flex grow items-center gap-2">
    Frame
    <input
      type="range"
      class="max-w-80 grow"
      min="1"
      max={frames}
      bind:value={frame}
      aria-valuetext={`frame ${frame} of ${frames}`}
    />
    <output class="text-sm whitespace-nowrap tabular-nums">{frame} of {frames}</output>
  </label>
{/if}
