<script lang="ts">
  import { hours, range, type Range } from '../kinds';

  type Props = {
    /** What the hours are for. */
    label: string;
    value: Range;
    /** Hours at the right end of the bar. */
    full: number;
    /** Width in pixels. Default 96. */
    width?: number;
  };
  let { label, value, full, width = 96 }: Props = $props();
  const x = $derived((h: number) => (full > 0 ? Math.min(h / full, 1) * (width - 2) : 0));
</script>

<span class="flex items-center gap-1.5" title={`${label}: ${range(value)}`}>
  <span class="text-soft w-7 text-xs">{label}</span>
  <svg {width} height="10" viewBox="0 0 {width} 10" aria-hidden="true" class="shrink-0">
    <path d="M0 5h{width}" stroke="var(--line)" />
    <path
      d="M{x(value.low)} 5H{Math.max(x(value.high), x(value.low) + 1)}"
      stroke="var(--soft)"
      stroke-width="4"
      opacity=".45"
    />
    <path d="M{x(value.likely)} 0v10" stroke="var(--ink)" stroke-width="2" />
  </svg>
  <span class="w-12 text-right text-sm whitespace-nowrap">{hours(value.likely)}</span>
</span>
