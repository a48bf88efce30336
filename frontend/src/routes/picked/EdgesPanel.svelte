<script lang="ts">
  import { say } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import { DIRECTIONS, edgesLack, takenRows, type Direction } from './picked';
  import type { PickedRoom } from './room.svelte';

  let { room }: { room: PickedRoom } = $props();
  const by = $derived(room.byEdges);
  const lack = $derived(edgesLack(room.edges));
</script>

<section aria-label="Edges" data-testid="edges">
  <p class="text-soft text-sm">
    For a picture that nobody took notes of: an old photograph, a sky from the shelf. Trace straight
    edges that run three ways (walls, tables, doors, a road); something of known height on the
    ground tells how high the lens was. The picture must be whole: cut off at one side, its middle
    lies elsewhere.
  </p>
  {#if room.editable}
    <div class="my-2 flex flex-wrap gap-1" role="group" aria-label="Trace">
      {#each DIRECTIONS as one (one.value)}
        <button
          class={['btn', room.armed === one.value && 'btn-main']}
          aria-pressed={room.armed === one.value}
          onclick={() => room.arm(one.value as Direction)}
        >
          <svg width="22" height="6" aria-hidden="true" class="mr-1 inline"
            ><line
              x1="0"
              y1="3"
              x2="22"
              y2="3"
              stroke="currentColor"
              stroke-width="2"
              stroke-dasharray={one.dash}
            /></svg
          >{one.name}</button
        >
      {/each}
      <button
        class={['btn', room.armed === 'upright' && 'btn-main']}
        aria-pressed={room.armed === 'upright'}
        onclick={() => room.arm('upright')}>something of known height</button
      >
    </div>
    <p class="min-h-6 text-sm font-semibold" role="status">
      {#if room.armed === 'upright'}
        Press on its foot, where it stands on the ground, and drag to its top.
      {:else if room.armed}
        Press on one end of the edge and drag to the other. Esc, and what is there can be moved.
      {:else}{lack}{/if}
    </p>
  {/if}
  {#each room.uprights as one, n (n)}
    <div class="flex items-end gap-2">
      <div class="flex-1">
        <NumberField
          label="Known height {n + 1}"
          hint="how tall it is, foot to top"
          kind="length"
          value={one.height_m}
          disabled={!room.editable}
          onlive={(value) => value !== null && room.tall(n, value)}
          oncommit={() => void room.saveEdges(`how tall what stands there is`)}
        />
      </div>
      {#if room.editable}
        <button
          class="text-soft underline"
          aria-label="Remove known height {n + 1}"
          onclick={() => void room.dropEdge(`u${n}`)}>Remove</button
        >
      {/if}
    </div>
  {/each}
  {#if room.busy}
    <p role="status" class="text-soft mt-2">Working out how it was taken</p>
  {:else if by?.problem && !lack}
    <p role="alert" class="mt-2 font-semibold">Nothing yet: {by.problem}</p>
  {:else if by?.focal_widths && !lack}
    {@const widths = by.focal_widths}
    <h3 class="mt-3">How it was taken</h3>
    <table class="mt-1" data-testid="taken">
      <tbody>
        {#each takenRows(by, room.uprights.length) as [name, value, sure] (name)}
          <tr>
            <th scope="row" class="text-soft pr-4 text-left font-normal">{name}</th>
            <td class="text-right font-bold tabular-nums">{value}</td>
            <td class="text-soft pl-2 whitespace-nowrap tabular-nums">{sure}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="text-soft text-sm">
      The edges lie {by.rms_px.toFixed(1)} px off such a camera in the mean; ± holds nine errors of ten.
      The white line is its horizon: it cuts everything at the height of the lens.
    </p>
    {#if room.editable && room.storyOf}
      {@const story = room.storyOf}
      <p class="mt-2">
        <button class="btn btn-main" onclick={() => void room.takeForStory()}
          >Take it for the story’s camera</button
        >
        <span class="text-soft block text-sm"
          >of shot {story.number}: {say(widths * story.sensor_width_mm, 'mm')} on its {say(
            story.sensor_width_mm,
            'mm',
          )}, as wide as this picture is. Undo takes it back.</span
        >
      </p>
    {:else if room.editable && room.shots.length > 0}
      <ChoiceField
        label="Take it for the story’s camera of"
        value={null}
        empty="no shot"
        options={room.shots.map((one) => ({ value: one.id, name: `${one.number} ${one.title}` }))}
        onchange={(id) => id && void room.forShot(id)}
      />
    {/if}
    {#if room.told}<p role="status" class="mt-1 font-semibold">{room.told}</p>{/if}
  {/if}
  {#if room.edges.length > 0}
    <details class="mt-3" open={lack !== ''}>
      <summary>{room.edges.length} {room.edges.length === 1 ? 'edge' : 'edges'} traced</summary>
      <ul class="mt-1">
        {#each room.edges as edge, n (n)}
          <li class="border-line flex items-center gap-2 border-t py-0.5" data-testid="edge">
            <b class="w-5 text-right tabular-nums">{n + 1}</b>
            <div class="flex-1">
              <ChoiceField
                label="runs"
                value={edge.direction}
                options={DIRECTIONS}
                disabled={!room.editable}
                onchange={(value) => value && void room.turnEdge(n, value as Direction)}
              />
            </div>
            {#if room.editable}
              <button
                class="text-soft underline"
                aria-label="Remove edge {n + 1}"
                onclick={() => void room.dropEdge(`e${n}`)}>Remove</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    </details>
  {/if}
</section>
