<script lang="ts">
  type Props = {
    /** What stands in front of this lens. */
    kind: string;
  };
  let { kind }: Props = $props();
</script>

<svg viewBox="0 0 34 26" width="34" height="26" aria-hidden="true" class="shrink-0">
  <g fill="none" stroke="var(--ink)" stroke-width="1.6">
    {#if kind === 'miniature'}
      <path d="M2 17h30M6 17v8M28 17v8" />
      <path d="M11 17V9l5-4 5 4v8M21 17v-4h5v4" />
    {:else if kind === 'screen'}
      <path d="M3 3h28v16q-14 5-28 0z" fill="var(--well)" />
      <circle cx="17" cy="8" r="2.2" fill="var(--ink)" />
      <path d="M17 10v7m0 0l-3 7m3-7l3 7M13 13h8" />
    {:else}
      <path d="M2 23h30M2 3h30" stroke-width=".8" />
      <circle cx="17" cy="7" r="2.5" fill="var(--ink)" />
      <path d="M17 9.5v7m0 0l-3.5 7m3.5-7l3.5 7M12 13h10" />
    {/if}
  </g>
</svg>
