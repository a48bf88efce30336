<script lang="ts">
  import type { Verdict } from '../api/client';

  type Props = {
    verdict: Verdict;
    /** Width in pixels. Default 22. */
    size?: number;
    /** Say the word for a screen reader. Off where the word stands beside it. Default true. */
    named?: boolean;
    /** Something was not asked yet: it holds, strains or breaks so far. */
    soFar?: boolean;
  };
  let { verdict, size = 22, named = true, soFar = false }: Props = $props();
  // What breaks already breaks whatever else is asked.
  const open = $derived(soFar && verdict === 'holds');
  // A beam on two supports: it carries, it sags, it has snapped.
  const beams: Record<Verdict, string> = {
    holds: 'M2 5h18',
    strains: 'M2 4q9 8 18 0',
    breaks: 'M2 4l7.5 6M20 4l-7.5 6',
  };
  const colours: Record<Verdict, string> = {
    holds: 'var(--holds)',
    strains: 'var(--strains)',
    breaks: 'var(--breaks)',
  };
</script>

<svg
  viewBox="0 0 22 14"
  width={size}
  height={(size * 14) / 22}
  role={named ? 'img' : 'presentation'}
  aria-label={named ? (open ? 'holds so far' : verdict) : undefined}
  aria-hidden={named ? undefined : 'true'}
  class="shrink-0"
>
  <path
    d={beams[verdict]}
    fill="none"
    stroke={colours[verdict]}
    stroke-width="3"
    stroke-dasharray={open ? '3.6 3.6' : undefined}
  />
  <path d="M1 14l2.5-6 2.5 6zM16 14l2.5-6 2.5 6z" fill="var(--soft)" />
</svg>
