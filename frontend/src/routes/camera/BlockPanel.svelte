<script lang="ts">
  import { hours } from '../../lib/kinds';
  import type { Table } from './table.svelte';

  type Props = { table: Table; editable: boolean };
  let { table, editable }: Props = $props();
  const sat = $derived(table.all?.sat ?? []);
  const asked = $derived(table.all?.taken.length ?? 0);
  const done = $derived(table.film.length);
  /** Nothing is begun behind a block that is still to be filled. */
  const open = $derived(table.blocks.at(-1)?.exposures.length === 0);
  const day = (text: string) =>
    new Date(text).toLocaleDateString(undefined, { dateStyle: 'medium' });
</script>

<section class="px-3 py-2" aria-label="Blocks of work">
  <h2 class="text-lg">Blocks of work</h2>
  <p>
    <b>{done}</b> of {asked}
    {asked === 1 ? 'picture' : 'pictures'}
    {table.all?.begun
      ? 'that the sheet asks for'
      : 'by the usual hold, for nothing is on the sheet yet,'}
    {done === 1 ? 'is' : 'are'} taken.
  </p>
  {#each table.blocks as block, i (block.id)}
    <div
      class={['border-line mt-1 border-t py-1', block.id === table.blockId && 'bg-well px-1']}
      data-testid="block"
    >
      <p class="flex items-center gap-2">
        <button
          class="text-left underline"
          aria-pressed={block.id === table.blockId}
          onclick={() => {
            table.blockId = block.id;
            table.aim = { kind: 'end' };
          }}>{block.name || `Block ${i + 1}`}</button
        >
        <span class="text-soft text-sm"
          >{block.exposures.length
            ? `pictures ${block.first} to ${block.first + block.exposures.length - 1}`
            : 'no picture yet'}, begun {day(block.begun_at)}</span
        >
      </p>
      {#if block.id === table.blockId && editable}
        <label class="flex items-center gap-2 text-sm"
          >called<input
            class="field min-h-7! py-0!"
            value={block.name}
            maxlength="120"
            placeholder="Block {i + 1}"
            onchange={(event) => void table.rename(block, event.currentTarget.value)}
          /></label
        >
        {#if block.dropped.length}
          <details class="text-sm">
            <summary>{block.dropped.length} dropped, kept for a month</summary>
            <ul class="mt-1 flex flex-wrap gap-1">
              {#each block.dropped as number (number)}
                <li>
                  <button
                    class="border-line border"
                    title="Fetch it back"
                    aria-label="Fetch dropped picture {number} back"
                    onclick={() => void table.fetch(block, number)}
                    ><img
                      class="h-10 w-16 object-cover"
                      src={table.look(block.id, number)}
                      alt=""
                      loading="lazy"
                    /></button
                  >
                </li>
              {/each}
            </ul>
          </details>
        {/if}
      {/if}
    </div>
  {/each}
  {#if editable}
    <button
      class="btn mt-1"
      disabled={open}
      title={open ? 'The last block has no picture yet' : undefined}
      onclick={() => void table.begin()}
      >{table.blocks.length ? 'Begin another block' : 'Begin a block'}</button
    >
  {/if}
  <p class="text-soft mt-1 text-sm">
    A block is what is taken while nothing is taken down: its pictures are compared with its first.
  </p>
  {#if sat.length}
    <h3 class="mt-2">The pace, by the camera</h3>
    <table class="w-full text-sm">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Day</th><th class="text-right font-normal">pictures</th
          ><th class="text-right font-normal">at work</th></tr
        ></thead
      >
      <tbody>
        {#each sat as one, i (i)}
          <tr class="border-line border-t"
            ><td>{day(one.day)}</td><td class="text-right">{one.first} to {one.last}</td><td
              class="text-right">{hours(one.hours)}</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
</section>
