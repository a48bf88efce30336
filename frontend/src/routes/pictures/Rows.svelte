<script lang="ts">
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import Drop from '../../lib/pictures/Drop.svelte';
  import SendList from '../../lib/pictures/SendList.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { PictureDesk, PlateRow } from './desk.svelte';
  import Thumb from './Thumb.svelte';

  type Props = { desk: PictureDesk; plate: PlateRow };
  let { desk, plate }: Props = $props();
  const sendings = $derived(desk.sendings);
  const own = $derived(desk.on({ plate_id: plate.id }));
  /** So many takes are drawn at once; of many the others follow, a handful at a time, so that the
   * page answers meanwhile. */
  const AT_ONCE = 24;
  let drawn = $state(AT_ONCE);
  $effect(() => {
    if (drawn >= plate.takes.length) return;
    const timer = setTimeout(() => (drawn += AT_ONCE));
    return () => clearTimeout(timer);
  });
</script>

<section aria-label={plate.name} class="border-line border-t py-2">
  <h2 class="flex items-center gap-2"><PlateSymbol kind={plate.kind} size={28} />{plate.name}</h2>
  <div class="mt-1 flex flex-wrap items-start gap-3 pb-1">
    {#each plate.takes.slice(0, drawn) as take (take.id)}
      {@const pictures = desk.on({ take_id: take.id })}
      <div class="bg-well max-w-full p-1.5" data-testid="take" data-verdict={take.verdict}>
        <p class="flex items-center gap-1.5">
          <button
            class={[
              'grid size-8 place-items-center font-bold',
              take.circled ? 'border-ink rounded-full border-3' : 'border-line border',
            ]}
            aria-pressed={take.circled}
            aria-label="Circle take {take.number} of {take.slate}"
            title={take.circled ? 'The chosen take' : 'Choose this take'}
            disabled={!desk.editable}
            onclick={() => void desk.circle(take)}>{take.number}</button
          >
          <a
            class="hover:underline"
            href="/productions/{desk.production}/takes/{take.id}"
            title={take.advice}>{take.slate} take {take.number}</a
          >
          <VerdictMark verdict={take.verdict} size={18} />
        </p>
        {#if take.note}<p class="text-soft max-w-60 truncate text-xs">{take.note}</p>{/if}
        <div class="mt-1 flex flex-wrap gap-1">
          {#each pictures as picture (picture.id)}<Thumb {desk} {picture} />{/each}
          {#if desk.editable}
            <Drop
              tile
              folder
              label="Pictures of {take.slate} take {take.number}"
              onfiles={(groups) => void desk.send(groups, { take_id: take.id })}
            />
          {/if}
        </div>
        <SendList {sendings} list={sendings.of({ take_id: take.id })} />
      </div>
    {/each}
    {#each own as picture (picture.id)}<Thumb {desk} {picture} />{/each}
    {#if desk.editable}
      <Drop
        tile
        folder
        label="Pictures of {plate.name}"
        onfiles={(groups) => void desk.send(groups, { plate_id: plate.id })}
      />
    {/if}
    {#if plate.takes.length === 0 && own.length === 0}
      <p class="text-soft max-w-72 self-center text-sm">
        {plate.card_id
          ? 'No take is logged yet. Drop a clip on the set card, and it becomes one.'
          : 'No set card is issued yet, so there are no takes. Tests can be dropped here all the same.'}
      </p>
    {/if}
  </div>
  <SendList {sendings} list={sendings.of({ plate_id: plate.id })} />
</section>
