<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import type { Schemas } from '../api/client';

  type Props = {
    /** What the link is for, as a screen reader says it. */
    label: string;
    address: string;
    /** The same for a phone's camera. */
    code?: Schemas['PhoneCode'] | null;
    /** How wide the code is drawn, rem. Default 9. */
    wide?: number;
  };
  let { label, address, code = null, wide = 9 }: Props = $props();
  let told = $state('');
  let box = $state<HTMLInputElement>();

  async function copy() {
    box?.select();
    try {
      await navigator.clipboard.writeText(address);
      told = 'Copied';
    } catch {
      // Without HTTPS a page may not reach the clipboard; what is chosen can be copied by hand.
      told = 'It is marked: copy it with the keyboard';
    }
  }
</script>

<div class="flex flex-wrap items-end gap-x-3 gap-y-2">
  {#if code}
    <!-- Black on white with a wide margin, in either theme: a phone reads nothing else. -->
    <svg
      viewBox="0 0 {code.side} {code.side}"
      style:width="{wide}rem"
      class="shrink-0 bg-white p-2.5"
      shape-rendering="crispEdges"
      role="img"
      aria-label="Code for a phone: {label}"
    >
      <path d={code.path} fill="#000" />
    </svg>
  {/if}
  <div class="min-w-56 grow">
    <div class="flex gap-2">
      <input
        bind:this={box}
        class="field font-mono text-xs"
        readonly
        value={address}
        aria-label="Address: {label}"
        onfocus={(event) => event.currentTarget.select()}
      />
      <button type="button" class="btn shrink-0" onclick={copy} aria-label="Copy: {label}">
        <Copy size={15} /> Copy
      </button>
    </div>
    <p role="status" class="text-soft min-h-5 text-sm">{told}</p>
  </div>
</div>
