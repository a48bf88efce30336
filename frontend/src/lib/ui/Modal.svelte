<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';

  type Props = {
    open: boolean;
    title: string;
    /** A sentence under the title; also what a screen reader announces. */
    description?: string;
    /** Whether Escape and a click outside close it. Default true. */
    closable?: boolean;
    /** Room for two columns beside each other. Default one. */
    wide?: boolean;
    onclose?: () => void;
    children: Snippet;
  };
  let {
    open,
    title,
    description,
    closable = true,
    wide = false,
    onclose,
    children,
  }: Props = $props();
  const behaviour = $derived(closable ? 'close' : 'ignore');
</script>

<Dialog.Root {open} onOpenChange={(now) => !now && onclose?.()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/45" />
    <Dialog.Content
      class="bg-card border-ink fixed top-1/2 left-1/2 z-50 max-h-[90dvh] -translate-x-1/2 -translate-y-1/2 overflow-auto border-t-4 p-5 shadow-xl {wide
        ? 'w-[min(94vw,52rem)]'
        : 'w-[min(94vw,30rem)]'}"
      escapeKeydownBehavior={behaviour}
      interactOutsideBehavior={behaviour}
    >
      <Dialog.Title class="text-lg">{title}</Dialog.Title>
      {#if description}
        <Dialog.Description class="text-soft mt-1">{description}</Dialog.Description>
      {/if}
      <div class="mt-4">{@render children()}</div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
