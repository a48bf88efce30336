<script lang="ts" generics="T extends Revisioned">
  import type { Revisioned, SavedRecord } from '../edit/record.svelte';
  import Modal from './Modal.svelte';

  type Props = {
    record: SavedRecord<T>;
    /** What the record is called. */
    name: string;
  };
  let { record, name }: Props = $props();
  let mine = $state<Record<string, boolean>>({});

  function shown(value: unknown) {
    if (value === null) return 'as derived';
    if (Array.isArray(value)) return value.length === 1 ? 'one entry' : `${value.length} entries`;
    if (typeof value === 'object') return 'as it was set there';
    return typeof value === 'number' ? String(value) : `“${value}”`;
  }
  const words = (field: string) =>
    field.replace(/_(m|mm|deg|px|s|fps|lux|id)$/, '').replaceAll('_', ' ');

  function settle() {
    const keep = (record.clash?.fields ?? []).filter((field) => mine[field] ?? true);
    mine = {};
    void record.settle(keep);
  }
</script>

{#if record.clash}
  <Modal
    open
    closable={false}
    title="Changed in two places"
    description={`Somebody else changed ${name} while you did. Choose for each; nothing is lost until you do.`}
  >
    <ul class="grid gap-3">
      {#each record.clash.fields as field (field)}
        <li>
          <fieldset>
            <legend class="font-semibold">{words(field)}</legend>
            <label class="flex gap-2">
              <input
                type="radio"
                name={field}
                checked={mine[field] ?? true}
                onchange={() => (mine[field] = true)}
              />
              Mine: {shown(record.draft[field])}
            </label>
            <label class="flex gap-2">
              <input
                type="radio"
                name={field}
                checked={!(mine[field] ?? true)}
                onchange={() => (mine[field] = false)}
              />
              Theirs: {shown(record.clash.theirs[field])}
            </label>
          </fieldset>
        </li>
      {/each}
    </ul>
    <div class="mt-4 flex justify-end">
      <button class="btn btn-main" onclick={settle}>Save these</button>
    </div>
  </Modal>
{/if}
