<script lang="ts">
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import AxisPanel from './AxisPanel.svelte';
  import type { SheetDesk } from './desk.svelte';
  import type { Column } from './marks';

  let { desk, column }: { desk: SheetDesk; column: Column } = $props();
  const editable = $derived(desk.bench.editable);
  const KINDS: Record<Column['kind'], string> = {
    part: 'A puppet, or a part of it',
    piece: 'Replacements',
    axis: 'A move',
    words: 'Sound and words',
    note: 'Notes',
  };
  const pieces = $derived((column.pieces ?? []).map((piece) => piece.key).join(', '));
  const change = (fields: Partial<Column>, label: string, rests = true) =>
    desk.change(column.key, fields, label, rests);
  const told = $derived(desk.told(column.key));
  function cut(text: string) {
    const keys = [...new Set(text.split(',').map((key) => key.trim().slice(0, 20)))];
    return keys.filter(Boolean).map((key) => ({ key, name: '' }));
  }
  let typed = $state<string | null>(null);
</script>

<section class="border-line border-b px-3 py-2" aria-label="Column">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">{column.name || 'Column'}</h2>
    {#if editable}<button
        class="text-soft text-sm underline"
        onclick={() => desk.remove(column.key)}>Remove the column</button
      >{/if}
  </div>
  <p class="text-soft text-sm">
    {KINDS[column.kind]}{#if told && column.kind !== 'axis'}: {told.changed.length}
      {told.changed.length === 1 ? 'mark' : 'changes'} in {desk.frames} frames{/if}{#if told && column.kind === 'axis'}:
      moved before {told.changed.length} of {desk.frames} frames{/if}.
  </p>
  <TextField
    label="Name"
    value={column.name}
    disabled={!editable}
    onlive={(value) => change({ name: value.slice(0, 60) || '·' }, 'Name', false)}
    oncommit={() => desk.rest()}
  />
  {#if column.kind === 'part' && desk.things.length}
    <ChoiceField
      label="Stands for"
      value={column.thing_id ?? null}
      options={desk.things}
      empty="nothing that is planned"
      disabled={!editable}
      onchange={(value) => change({ thing_id: value }, 'Thing')}
    />
  {:else if column.kind === 'piece'}
    <TextField
      label="Pieces, with commas"
      value={typed ?? pieces}
      disabled={!editable}
      onlive={(value) => (typed = value)}
      oncommit={() => {
        if (typed !== null) change({ pieces: cut(typed) }, 'Pieces');
        typed = null;
      }}
    />
  {:else if column.kind === 'axis'}
    <AxisPanel {desk} {column} />
  {/if}
</section>
