<script lang="ts">
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { Table } from './table.svelte';

  type Props = { table: Table };
  /** The film as a sheet runs: down, each picture beside the frame it is taken for, then those that
   * are to come. */
  let { table }: Props = $props();
  /** Height of a row, screen pixels. */
  const HIGH = 58;
  let list = $state<HTMLDivElement>();
  let scrolled = $state(0);
  let height = $state(600);
  const film = $derived(table.film);
  const taken = $derived(table.all?.taken ?? []);
  const frames = $derived(table.all?.frames ?? 0);
  const rows = $derived(Math.max(film.length + 1, taken.length));
  const first = $derived(Math.max(Math.floor(scrolled / HIGH) - 4, 0));
  const seen = $derived(
    Array.from(
      { length: Math.min(Math.ceil(height / HIGH) + 9, rows - first) },
      (_, i) => first + i,
    ),
  );
  const held = (i: number) => (taken[i + 1] ?? frames + 1) - (taken[i] ?? frames + 1);

  // What is in hand is in sight; else where the next one comes.
  $effect(() => {
    const at = table.inHand ? film.indexOf(table.inHand) : table.next - 1;
    if (!list) return;
    const { scrollTop, clientHeight } = list;
    if (at * HIGH < scrollTop || (at + 1) * HIGH > scrollTop + clientHeight)
      list.scrollTop = Math.max(at * HIGH - clientHeight / 2, 0);
  });
</script>

<div
  bind:this={list}
  bind:clientHeight={height}
  class="relative min-h-0 grow overflow-y-auto max-lg:h-64"
  onscroll={(event) => (scrolled = event.currentTarget.scrollTop)}
  role="group"
  aria-label="Pictures of the film"
  data-testid="film"
>
  <div class="relative" style:height="{rows * HIGH}px">
    {#each seen as i (i)}
      {@const shown = film[i]}
      {@const next = table.next === i + 1 && (!shown || table.aim.kind !== 'end')}
      <div
        class={[
          'border-line absolute inset-x-0 border-b',
          table.inHand && table.inHand === shown ? 'bg-card' : '',
          next ? 'border-ochre border-l-4' : 'border-l-4 border-l-transparent',
        ]}
        style:top="{i * HIGH}px"
        style:height="{HIGH}px"
      >
        {#if shown}
          {@const chosen = table.inHand === shown}
          <button
            class="flex h-full w-full items-center gap-2 px-1 text-left text-sm"
            aria-pressed={chosen}
            aria-label="Picture {shown.picture}{shown.row.verdict ? `: ${shown.row.verdict}` : ''}"
            data-testid="exposure"
            data-verdict={shown.row.verdict}
            onclick={() => void table.choose(chosen ? null : shown)}
          >
            <img
              class={[
                'h-12 w-21 shrink-0 border-2 object-cover',
                chosen ? 'border-ochre' : 'border-transparent',
              ]}
              src={table.look(shown.block.id, shown.row.number)}
              alt=""
              loading="lazy"
            />
            <span class="min-w-0 grow leading-tight">
              <span class="flex items-center gap-1">
                <b>{shown.picture}</b>
                {#if shown.row.verdict && shown.row.verdict !== 'holds'}
                  <VerdictMark verdict={shown.row.verdict} size={18} named={false} />
                {/if}
              </span>
              <span class="text-soft block text-xs">
                {#if taken[i]}frame {taken[i]}{#if held(i) > 1}, {held(i)} long{/if}{:else}beyond
                  the sheet{/if}
              </span>
              {#if shown.picture === shown.block.first && table.blocks.length > 1}
                <span class="block truncate text-xs"
                  >begins {shown.block.name ||
                    `block ${table.blocks.indexOf(shown.block) + 1}`}</span
                >
              {/if}
            </span>
          </button>
        {:else}
          <p class={['flex h-full items-center gap-2 px-1 text-sm', next ? '' : 'text-soft']}>
            <span
              class="border-line grid h-12 w-21 shrink-0 place-items-center border border-dashed text-xs"
              >{next ? 'next' : ''}</span
            >
            <span class="leading-tight"
              ><b class={next ? '' : 'font-normal'}>{i + 1}</b>
              <span class="text-soft block text-xs"
                >{#if taken[i]}frame {taken[i]}{#if held(i) > 1}, {held(i)} long{/if}{:else}beyond
                  the sheet{/if}</span
              ></span
            >
          </p>
        {/if}
      </div>
    {/each}
  </div>
</div>
