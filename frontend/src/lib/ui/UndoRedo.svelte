<script lang="ts">
  import Redo from '@lucide/svelte/icons/redo-2';
  import Undo from '@lucide/svelte/icons/undo-2';

  type Props = {
    /** What undo would take back; null when there is nothing. */
    undo: string | null;
    /** What redo would do again; null when there is nothing. */
    redo: string | null;
    onundo: () => void;
    onredo: () => void;
  };
  let { undo, redo, onundo, onredo }: Props = $props();
</script>

<div class="flex">
  <button
    class="p-1 disabled:opacity-40"
    disabled={undo === null}
    aria-label={`Undo ${undo ?? ''}`}
    title={`Undo ${undo ?? ''} (Ctrl+Z)`}
    onclick={onundo}><Undo size={17} /></button
  >
  <button
    class="p-1 disabled:opacity-40"
    disabled={redo === null}
    aria-label={`Redo ${redo ?? ''}`}
    title={`Redo ${redo ?? ''} (Ctrl+Shift+Z)`}
    onclick={onredo}><Redo size={17} /></button
  >
</div>
