<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  /** What the recipe brings stays. */
  const fixed = $derived<string[]>(record.draft.recipe_hazards ?? []);
  let table = $state<Schemas['HazardOut'][]>([]);
  let problem = $state('');
  ask(() => api.GET('/api/calc/hazards'))
    .then((found) => (table = found))
    .catch((error: Error) => (problem = error.message));

  function toggle(key: string, on: boolean) {
    const now = (record.draft.hazards ?? []).filter((k) => k !== key);
    const next = (on ? [...now, key] : now) as Plate['hazards'];
    bench.change(record, 'hazards', next, 'Hazards');
  }
</script>

<fieldset class="mt-1">
  <legend class="text-soft text-sm">
    Hazards: each puts its cautions on every set card. Local codes and licensed people decide.
  </legend>
  {#if problem}<p role="alert">{problem}</p>{/if}
  <div class="grid grid-cols-2 text-sm">
    {#each table as hazard (hazard.key)}
      <label class="flex items-center gap-1.5 py-0.5" title={hazard.cautions.join(' ')}>
        <input
          type="checkbox"
          disabled={!bench.editable || fixed.includes(hazard.key)}
          checked={fixed.includes(hazard.key) ||
            (record.draft.hazards ?? []).some((key) => key === hazard.key)}
          onchange={(event) => toggle(hazard.key, event.currentTarget.checked)}
        />
        {hazard.name}{fixed.includes(hazard.key) ? ' (recipe)' : ''}
      </label>
    {/each}
  </div>
</fieldset>
