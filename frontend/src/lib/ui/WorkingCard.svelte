<script lang="ts">
  import { Popover } from 'bits-ui';
  import type { Schemas } from '../api/client';
  import { figure } from '../quantities';

  type Props = {
    workings: Schemas['Working'][];
    /** What it is the working of: then the trigger is a small sign beside a number. */
    of?: string;
  };
  let { workings, of = '' }: Props = $props();
</script>

<Popover.Root>
  {#if of}
    <Popover.Trigger
      class="text-soft hover:text-ink min-h-6 min-w-6 shrink-0 text-sm"
      aria-label={`Working of ${of}`}
      title="Working"
    >
      =
    </Popover.Trigger>
  {:else}
    <Popover.Trigger class="text-soft shrink-0 text-sm font-normal underline"
      >working</Popover.Trigger
    >
  {/if}
  <Popover.Portal>
    <Popover.Content
      class="bg-card border-ink z-30 max-h-[70dvh] w-[min(92vw,26rem)] overflow-auto border-t-4 p-4 shadow-xl"
      sideOffset={6}
      collisionPadding={8}
    >
      {#each workings as working, i (i)}
        <div class={i > 0 ? 'border-line mt-3 border-t pt-3' : ''}>
          <p class="font-semibold">{working.formula}</p>
          <table class="mt-1 w-full text-sm">
            <caption class="sr-only">Inputs and result</caption>
            <tbody>
              {#each [...working.inputs, ...(working.result.symbol ? [working.result] : [])] as q, j (j)}
                <tr class={j === working.inputs.length ? 'border-ink border-t font-semibold' : ''}>
                  <th scope="row" class="pr-2 text-left font-normal whitespace-nowrap"
                    >{q.symbol}</th
                  >
                  <td class="text-soft">{q.name}</td>
                  <td class="pl-2 text-right whitespace-nowrap">{figure(q.value)} {q.unit}</td>
                </tr>
              {/each}
            </tbody>
          </table>
          <p class="text-soft mt-1 text-sm">Source: {working.source}</p>
        </div>
      {/each}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
