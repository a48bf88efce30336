<script lang="ts">
  import type { SavedRecord } from '../edit/record.svelte';
  import TextField from '../ui/TextField.svelte';
  import type { OpenShot } from './open-shot.svelte';
  import type { Plate } from './plan';

  type Props = { bench: OpenShot; record: SavedRecord<Plate>; label: string };
  let { bench, record, label }: Props = $props();
  const known = $derived(
    (bench.lockoffs.held ?? []).map((one) => ({
      value: one.name,
      name: one.shots
        .map((s) => `shot ${s.number}: ${s.plates.map((p) => p.name).join(', ')}`)
        .join('; '),
    })),
  );
</script>

<TextField
  {label}
  value={record.draft.lock_group ?? ''}
  problem={record.problems.lock_group}
  disabled={!bench.editable}
  suggestions={known}
  onfocus={() => void bench.lockoffs.ask()}
  onlive={(value) => bench.alone(record, 'lock_group', value)}
  oncommit={() => bench.commitAll([record], 'Lock-off')}
/>
