<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { Kind } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import { GELS, ROLES } from '../../lib/light';
  import type { Plate } from '../../lib/shot/plan';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  type Lamp = Schemas['LampPlace'];
  const lamps = $derived(record.draft.lamps ?? []);
  const kindOf = (id: string) => bench.kit.lamps.find((l) => l.id === id)?.kind ?? 'panel';
  const indoors = $derived(
    bench.kit.rooms.find((r) => r.id === record.draft.room_id)?.height_m != null,
  );
  /** The sun is no lamp in a room. */
  const offered = $derived(bench.kit.lamps.filter((l) => l.kind !== 'sun' || !indoors));
  const named = (id: string) =>
    bench.kit.lamps.find((l) => l.id === id)?.name ?? 'a lamp that is gone';
  type LampNumber = {
    field: 'x_m' | 'y_m' | 'z_m' | 'level' | 'aim_x_m' | 'aim_y_m' | 'aim_z_m' | 'size_m';
    label: string;
    kind: Kind;
    hint?: string;
    nullable?: boolean;
    /** What undo calls a change of it; default: Lamp. */
    step?: string;
  };
  const numbers: LampNumber[] = [
    { field: 'y_m', label: 'ahead', kind: 'length' },
    { field: 'x_m', label: 'to the right', kind: 'length' },
    { field: 'z_m', label: 'up', kind: 'length' },
    { field: 'level', label: 'dimmer', kind: 'percent' },
  ];
  const aims: LampNumber[] = [
    { field: 'aim_y_m', label: 'aimed ahead', kind: 'length', step: 'Aim a lamp' },
    { field: 'aim_x_m', label: 'aimed right', kind: 'length', step: 'Aim a lamp' },
    { field: 'aim_z_m', label: 'aimed up', kind: 'length', step: 'Aim a lamp' },
  ];
  const opening: LampNumber = {
    field: 'size_m',
    label: 'opening or frame',
    kind: 'length',
    hint: 'across; empty: the lamp itself',
    nullable: true,
    step: 'Opening or frame',
  };
  const plain = () => $state.snapshot(lamps) as Lamp[];

  function place(id: string) {
    // To the key's side, at about the distance of the action, above it.
    const own = bench.standIns.find(
      (s) => s.draft.plate_id === record.id && s.draft.kind !== 'ground',
    );
    const scale = record.draft.scale ?? 1;
    const away = Math.max(((own?.draft.y_m ?? 3) / scale) * 0.8, 0.2);
    const aside = (bench.shot.draft.key_from_deg ?? 45) < 0 ? -1 : 1;
    const round = (v: number) => Math.round(v * 100) / 100;
    const next: Lamp = {
      lamp_id: id,
      key: crypto.randomUUID(),
      x_m: round(aside * Math.max(0.5 * away, 0.3)),
      y_m: round(away),
      z_m: round(Math.max(0.6 * away, 0.5)),
      level: 1,
      gel: '',
      upright: true,
      role: '',
    };
    bench.change(record, 'lamps', [...plain(), next], 'Place a lamp');
  }
  /** The lamps with some decisions about one of them changed. */
  const changed = (index: number, values: Partial<Lamp>) =>
    plain().map((lamp, i) => (i === index ? { ...lamp, ...values } : lamp));
  function decide(index: number, values: Partial<Lamp>, label: string) {
    bench.change(record, 'lamps', changed(index, values), label);
  }
  /** Where a lamp is aimed: at the action, at the screen, or at a point of its own. */
  const aimOf = (lamp: Lamp) => ((lamp.aim_y_m ?? null) === null ? '' : 'point');
  function aim(index: number, at: string | null) {
    const lamp = plain()[index];
    if (!lamp) return;
    const nowhere = { aim_x_m: null, aim_y_m: null, aim_z_m: null };
    if (!at) return decide(index, nowhere, 'Aim at the action');
    const screen = at === 'screen' ? bench.answer?.study?.screen : null;
    const to = screen
      ? { x: screen.centre_x_m, y: screen.distance_m, z: screen.height_m / 2 }
      : { x: 0, y: Math.max(lamp.y_m + 1, 1), z: 0.5 };
    const round = (v: number) => Math.round(v * 100) / 100;
    decide(
      index,
      { aim_x_m: round(to.x), aim_y_m: round(to.y), aim_z_m: round(to.z) },
      'Aim a lamp',
    );
  }
  const aimChoices = $derived([
    ...(record.draft.kind === 'screen' ? [{ value: 'screen', name: 'the screen' }] : []),
    { value: 'point', name: 'a point of its own' },
  ]);
  function live(index: number, field: keyof Lamp, value: number | null) {
    bench.live(record, 'lamps', changed(index, { [field]: value }));
  }
</script>

{#snippet number(lamp: Lamp, i: number, spec: LampNumber)}
  <NumberField
    label={`Lamp ${i + 1}, ${spec.label}`}
    hint={spec.hint}
    kind={spec.kind}
    nullable={spec.nullable ?? false}
    value={lamp[spec.field] ?? null}
    problem={record.problems[`lamps.${i}.${spec.field}`]}
    disabled={!bench.editable}
    onlive={(value) => (value !== null || spec.nullable) && live(i, spec.field, value)}
    oncommit={() => bench.commit(record, spec.step ?? 'Lamp')}
  />
{/snippet}

{#each lamps as lamp, i (i)}
  <details class="border-line border-t py-0.5">
    <summary class="text-sm">{i + 1}. {named(lamp.lamp_id)}</summary>
    {#each numbers as spec (spec.field)}{@render number(lamp, i, spec)}{/each}
    <ChoiceField
      label={`Lamp ${i + 1}, gel`}
      value={lamp.gel ?? ''}
      options={GELS}
      problem={record.problems[`lamps.${i}.gel`]}
      disabled={!bench.editable}
      onchange={(value) => decide(i, { gel: (value ?? '') as Lamp['gel'] }, 'Gel')}
    />
    <ChoiceField
      label={`Lamp ${i + 1}, meant as`}
      value={lamp.role ?? ''}
      options={ROLES}
      problem={record.problems[`lamps.${i}.role`]}
      disabled={!bench.editable}
      onchange={(value) => decide(i, { role: (value ?? '') as Lamp['role'] }, 'Meant as')}
    />
    {@render number(lamp, i, opening)}
    <ChoiceField
      label={`Lamp ${i + 1}, aimed at`}
      value={aimOf(lamp) || null}
      empty="the action"
      options={aimChoices}
      disabled={!bench.editable}
      onchange={(value) => aim(i, value)}
    />
    {#if aimOf(lamp)}
      {#each aims as spec (spec.field)}{@render number(lamp, i, spec)}{/each}
    {/if}
    {#if kindOf(lamp.lamp_id) === 'bank'}
      <label class="flex min-h-7 items-center gap-1.5">
        <input
          type="checkbox"
          disabled={!bench.editable}
          checked={lamp.upright ?? true}
          onchange={(event) => decide(i, { upright: event.currentTarget.checked }, 'Turn a bank')}
        />
        stands upright
      </label>
    {/if}
    {#if bench.editable}
      <button
        class="text-sm underline"
        onclick={() =>
          bench.change(
            record,
            'lamps',
            plain().filter((_, j) => j !== i),
            'Take a lamp away',
          )}>Take it away</button
      >
    {/if}
  </details>
{/each}
{#if bench.editable}
  <label class="text-sm">
    <span class="sr-only">Place a lamp</span>
    <select
      class="field mt-1 min-h-7! py-0.5!"
      value=""
      onchange={(event) => {
        const id = event.currentTarget.value;
        event.currentTarget.value = '';
        if (id) place(id);
      }}
    >
      <option value="">{offered.length ? 'place a lamp' : 'no lamps in the kit yet'}</option>
      {#each offered as lamp (lamp.id)}<option value={lamp.id}>{lamp.name}</option>{/each}
    </select>
  </label>
{/if}
