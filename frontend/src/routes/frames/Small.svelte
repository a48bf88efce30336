<script lang="ts">
  import { placeOf, type Strip } from './beside';

  type Props = { strip: Strip; frame: number; src: (sheet: number) => string; label?: string };
  let { strip, frame, src, label = '' }: Props = $props();
  const place = $derived(placeOf(strip, frame));
</script>

<span
  class="bg-well block h-full bg-no-repeat"
  role={label ? 'img' : undefined}
  aria-label={label || undefined}
  style:aspect-ratio="{strip.wide} / {strip.high}"
  style:background-image="url({src(place.sheet)})"
  style:background-size="{strip.across * 100}% {strip.down * 100}%"
  style:background-position="{place.x}% {place.y}%"
></span>
