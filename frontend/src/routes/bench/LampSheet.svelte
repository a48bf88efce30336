<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { Kind } from '../../lib/quantities';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { Bench } from './bench.svelte';
  import type { Plate } from './plan';

  type Props = { bench: Bench; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  type Lamp = Schemas['LampPlace'];
  const lamps = $derived(record.draft.lamps ?? []);
  const named = (id: string) =>
    bench.kit.lamps.find((l) => l.id === id)?.name ?? 'a lamp that is gone';
  const numbers: {
    field: 'x_m' | 'y_m' | 'z_m' | 'level';
    label: string;
    kind: Kind;
  }[] = [
    { field: 'y_m', label: 'ahead', kind: 'length' },
    { field: 'x_m', label: 'to the right', kind: 'length' },
    { field: 'z_m', label: 'up', kind: 'length' },
    { field: 'level', label: 'dimmer, 0 to 1', kind: 'plain' },
  ];
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
      x_m: round(aside * Math.max(0.5 * away, 0.3)),
      y_m: round(away),
      z_m: round(Math.max(0.6 * away, 0.5)),
      level: 1,
    };
    bench.change(record, 'lamps', [...plain(), next], 'Place a lamp');
  }
  function live(index: number, field: keyof Lamp, value: number | null) {
    if (value === null) return;
    bench.live(
      record,
      'lamps',
      plain().map((lamp, i) => (i === index ? { ...lamp, [field]: value } : lamp)),
    );
  }
</script>

{#each lamps as lamp, i (i)}
  <details class="border-line border-t py-0.5">
    <summary class="text-sm">{i + 1}. {named(lamp.lamp_id)}</summary>
    {#each numbers as number (number.field)}
      <NumberField
        label={`Lamp ${i + 1}, ${number.label}`}
        kind={number.kind}
        value={lamp[number.field] ?? null}
        problem={record.problems[`lamps.${i}.${number.field}`]}
        disabled={!bench.editable}
        onlive={(value) => live(i, number.field, value)}
        oncommit={() => bench.commit(record, 'Lamp')}
      />
    {/each}
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
      <option value="">{bench.kit.lamps.length ? 'place a lamp' : 'no lamps in the kit yet'}</option
      >
      {#each bench.kit.lamps as lamp (lamp.id)}<option value={lamp.id}>{lamp.name}</option>{/each}
    </select>
  </label>
{/if}
