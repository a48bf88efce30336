<script lang="ts">
  import NumberField from '../../lib/ui/NumberField.svelte';
  import { length } from '../../lib/quantities';
  import type { SetDesk } from './desk.svelte';
  import { SIDES, toggled, type SetMap } from './pieces';

  /** The edges of the set, where somebody can stand, and where the tapes begin. */
  let { desk }: { desk: SetDesk } = $props();
  const editable = $derived(desk.bench.editable);
  const told = $derived(desk.answer);
  type Edge = 'left_m' | 'right_m' | 'near_m' | 'far_m';
  const EDGES: { field: Edge; label: string; hint: string }[] = [
    { field: 'left_m', label: 'Left edge', hint: 'right of the lens is plus' },
    { field: 'right_m', label: 'Right edge', hint: '' },
    { field: 'near_m', label: 'Near edge', hint: 'ahead of the lens' },
    { field: 'far_m', label: 'Far edge', hint: '' },
  ];
  const blocked = $derived(
    desk.map.sides.filter((side) => told && !told.open_sides.includes(side)),
  );

  function corners() {
    const { plate } = desk.bench;
    if (!plate || !told) return;
    const { left_m, right_m, near_m } = told.edges;
    desk.bench.decide(
      plate,
      {
        fix_left_x_m: left_m,
        fix_left_y_m: near_m,
        fix_right_x_m: right_m,
        fix_right_y_m: near_m,
      },
      'Tapes from the near corners',
    );
  }
</script>

<section class="border-line border-b px-3 py-2" aria-label="Edges of the set">
  <h2 class="text-lg">The set</h2>
  {#each EDGES as edge (edge.field)}
    <NumberField
      label={edge.label}
      hint={edge.hint}
      kind="length"
      nullable
      value={desk.map[edge.field] ?? null}
      derived={told?.edges[edge.field] ?? null}
      disabled={!editable}
      onlive={(value) =>
        desk.set({ ...desk.map, [edge.field]: value } as SetMap, 'Edge of the set', false)}
      oncommit={() => desk.rest()}
    />
  {/each}
  <fieldset class="mt-1">
    <legend class="text-soft text-sm">Somebody can stand</legend>
    <div class="flex flex-wrap gap-x-4">
      {#each SIDES as side (side.value)}
        <label class="flex items-center gap-1 text-sm">
          <input
            type="checkbox"
            checked={desk.map.sides.includes(side.value)}
            disabled={!editable}
            onchange={(event) =>
              desk.set(
                toggled(desk.map, side.value, event.currentTarget.checked),
                'Where somebody can stand',
              )}
          />
          {side.name}
        </label>
      {/each}
    </div>
  </fieldset>
  {#if blocked.length}
    <p class="text-sm">
      No room for a person between set and wall: {blocked
        .map((side) => SIDES.find((one) => one.value === side)?.name)
        .join(', ')}.
    </p>
  {/if}
  {#if told}
    {@const [left, right] = told.fixed}
    <p class="mt-1 text-sm">
      The tapes begin at <b>{left.name}</b> and <b>{right.name}</b>, {length(
        Math.hypot(right.x_m - left.x_m, right.y_m - left.y_m),
      )} apart.
    </p>
    {#if editable}
      <button class="btn mt-1 min-h-8! py-0!" onclick={corners}
        >Begin them at the near corners</button
      >
      <p class="text-soft text-xs">
        Tapes to the floor marks begin there too; the Bench places the ends anywhere.
      </p>
    {/if}
  {/if}
</section>
