<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { restSays, worthSays } from '../../lib/shot/lens';
  import type { Lens } from './kit.svelte';

  type Props = {
    record: SavedRecord<Lens>;
    /** Where it is measured. */
    href: string;
    disabled: boolean;
  };
  let { record, href, disabled }: Props = $props();
  const measured = $derived(record.draft.measured ?? []);
  function forget(marked: number) {
    record.set(
      'measured',
      measured.filter((one) => one.marked_mm !== marked),
    );
    void record.commit();
  }
</script>

<div class="pt-1 text-sm" data-testid="measured">
  {#each measured as one (one.marked_mm)}
    <p class="flex flex-wrap gap-x-2">
      <span>{worthSays(one)}; <span class="text-soft">{restSays(one)}</span></span>
      {#if !disabled}
        <button
          class="text-soft underline"
          aria-label="Forget what was measured at {one.marked_mm} mm"
          onclick={() => forget(one.marked_mm)}>forget</button
        >
      {/if}
    </p>
  {:else}
    <p class="text-soft">
      Not measured: taken to be what its ring says, and to keep lines straight.
    </p>
  {/each}
  {#if record.problems['measured']}
    <p role="alert" class="font-semibold">{record.problems['measured']}</p>
  {/if}
  <a class="underline" {href}>{measured.length ? 'Measure it again' : 'Measure it'}</a>
</div>
