<script lang="ts">
  type Props = {
    /** What stands in front of this lens. */
    kind: string;
    /** Width in pixels. Default 34. */
    size?: number;
  };
  let { kind, size = 34 }: Props = $props();
</script>

<svg viewBox="0 0 34 26" width={size} height={(size * 26) / 34} aria-hidden="true" class="shrink-0">
  <g fill="none" stroke="var(--ink)" stroke-width="1.6">
    {#if kind === 'miniature'}
      <path d="M2 17h30M6 17v8M28 17v8" />
      <path d="M11 17V9l5-4 5 4v8M21 17v-4h5v4" />
    {:else if kind === 'screen'}
      <path d="M3 3h28v16q-14 5-28 0z" fill="var(--well)" />
      <circle cx="17" cy="8" r="2.2" fill="var(--ink)" />
      <path d="M17 10v7m0 0l-3 7m3-7l3 7M13 13h8" />
    {:else if kind === 'puppet'}
      <path d="M2 21h30M6 21v4M28 21v4" />
      <circle cx="17" cy="7" r="3" />
      <path d="M17 10v6M17 16l-4 5M17 16l4 5M17 12l-6 3M17 12l6-4" stroke-dasharray="2.4 1.2" />
    {:else if kind === 'element'}
      <rect x="3" y="2" width="28" height="22" fill="var(--ink)" />
      <path
        d="M17 21q-7-3-4-9 1 3 3 3-1-6 3-10 0 5 3 8 2 5-5 8z"
        fill="var(--card)"
        stroke="none"
      />
    {:else if kind === 'still'}
      <path d="M4 4h26v18H4z" />
      <path d="M4 18l7-7 6 5 5-4 8 7" stroke-width="1.2" />
      <circle cx="23" cy="8.5" r="1.8" stroke-width="1.2" />
    {:else}
      <path d="M2 23h30M2 3h30" stroke-width=".8" />
      <circle cx="17" cy="7" r="2.5" fill="var(--ink)" />
      <path d="M17 9.5v7m0 0l-3.5 7m3.5-7l3.5 7M12 13h10" />
    {/if}
  </g>
</svg>
