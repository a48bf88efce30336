<script lang="ts">
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import { KINDS } from '../../lib/kinds';
  import { say } from '../../lib/quantities';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import { WORLD, type Plate, type StandIn } from '../../lib/shot/plan';
  import { ahead } from '../../lib/shot/views';
  import type { BenchView } from './view.svelte';
  import ViewList from './ViewList.svelte';

  type Props = { bench: OpenShot; view: BenchView };
  let { bench, view }: Props = $props();
  const shapes: { kind: StandIn['kind']; name: string }[] = [
    { kind: 'figure', name: 'Figure' },
    { kind: 'box', name: 'Box' },
    { kind: 'card', name: 'Card' },
    { kind: 'ground', name: 'Ground' },
  ];
  const scenery = $derived(
    bench.standIns.filter((s) => !bench.plates.some((p) => p.id === s.draft.plate_id)),
  );
  /** Whether something of a plate was not asked yet. */
  const waits = (id: string) =>
    (bench.report?.plates.find((p) => p.plate_id === id)?.unasked.length ?? 0) > 0;
  const verdictOf = (id: string) => bench.report?.plates.find((p) => p.plate_id === id)?.verdict;
</script>

{#snippet things(list: OpenShot['standIns'])}
  {#each list as standIn (standIn.id)}
    <li>
      <button
        class={[
          'w-full truncate py-0.5 pr-2 pl-12 text-left text-sm',
          bench.standIn === standIn.id ? 'bg-well font-semibold' : 'text-soft',
        ]}
        aria-pressed={bench.standIn === standIn.id}
        onclick={() => (bench.standIn = bench.standIn === standIn.id ? null : standIn.id)}
      >
        {standIn.draft.name}
        <span class="text-xs"
          >{say(ahead(bench.view, standIn.draft.x_m ?? 0, standIn.draft.y_m ?? 5), 'length')}</span
        >
      </button>
    </li>
  {/each}
{/snippet}

<nav
  aria-label="World and plates"
  class="border-line bg-card flex flex-col border-r xl:min-h-0 relative xl:overflow-y-auto"
>
  {#if bench.views.length > 0}<ViewList {bench} />{/if}
  <button
    class={['border-line border-b p-2 text-left', bench.selected === WORLD ? 'bg-well' : '']}
    aria-pressed={bench.selected === WORLD}
    onclick={() => {
      bench.selected = WORLD;
      bench.standIn = null;
    }}
  >
    <span class="font-semibold">The world</span>
    <span class="text-soft block text-sm">
      {say(bench.shot.draft.focal_mm, 'mm')}, {say(bench.shot.draft.camera_height_m, 'length')} up
    </span>
  </button>
  {#if scenery.length > 0}
    <ul>{@render things(scenery)}</ul>
  {/if}
  <ol>
    {#each bench.plates as plate (plate.id)}
      {@const verdict = verdictOf(plate.id)}
      {@const hidden = view.hidden.includes(plate.id)}
      <li class="border-line border-b">
        <div class={['flex', bench.selected === plate.id ? 'bg-well' : '']}>
          <button
            class={[
              'flex min-w-0 grow items-center gap-2 p-2 pr-0 text-left',
              hidden ? 'opacity-60' : '',
            ]}
            aria-pressed={bench.selected === plate.id}
            onclick={() => {
              bench.selected = plate.id;
              bench.standIn = null;
            }}
          >
            <PlateSymbol kind={plate.draft.kind} />
            <span class="min-w-0 grow">
              <span class="block truncate font-semibold">{plate.draft.name}</span>
              <span class="text-soft block text-sm">
                {KINDS[plate.draft.kind].short}
                {(plate.draft.scale ?? 1) === 1 ? '' : say(plate.draft.scale, 'scale')}
              </span>
            </span>
          </button>
          <span class="flex w-8 shrink-0 flex-col items-center justify-center gap-1">
            {#if verdict}<VerdictMark {verdict} soFar={waits(plate.id)} />{/if}
            <button
              class="text-soft hover:text-ink min-h-6 min-w-6"
              aria-pressed={!hidden}
              aria-label={`In the Frame: ${plate.draft.name}`}
              title={hidden ? 'Show it in the Frame' : 'Hide it in the Frame'}
              onclick={() => view.togglePlate(plate.id)}
            >
              {#if hidden}<EyeOff size={15} class="mx-auto" />{:else}<Eye
                  size={15}
                  class="mx-auto"
                />{/if}
            </button>
          </span>
        </div>
        <ul>
          {@render things(bench.standIns.filter((s) => s.draft.plate_id === plate.id))}
        </ul>
      </li>
    {/each}
  </ol>
  {#if bench.editable}
    <div class="grid gap-3 p-2">
      <label class="text-sm">
        <span class="text-soft">Add a plate</span>
        <select
          class="field"
          value=""
          onchange={(event) => {
            const kind = event.currentTarget.value as Plate['kind'] | '';
            event.currentTarget.value = '';
            if (kind) void bench.making.addPlate(kind);
          }}
        >
          <option value="">choose what is filmed</option>
          {#each Object.entries(KINDS) as [kind, { name }] (kind)}<option value={kind}
              >{name}</option
            >{/each}
        </select>
      </label>
      <label class="text-sm">
        <span class="text-soft">
          Add a stand-in {bench.plate ? `to ${bench.plate.draft.name}` : 'as scenery'}
        </span>
        <select
          class="field"
          value=""
          onchange={(event) => {
            const kind = event.currentTarget.value as StandIn['kind'] | '';
            event.currentTarget.value = '';
            if (kind) void bench.making.addStandIn(kind);
          }}
        >
          <option value="">choose its form</option>
          {#each shapes as { kind, name } (kind)}<option value={kind}>{name}</option>{/each}
        </select>
      </label>
      {#if bench.views.length === 0}
        <button
          class="btn text-sm"
          title="A close-up, an insert or a reverse angle, cut into this shot"
          onclick={() => bench.making.addView()}>Another view of this shot</button
        >
      {/if}
    </div>
  {/if}
</nav>
