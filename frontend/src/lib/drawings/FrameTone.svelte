<script lang="ts" module>
  import type { Schemas } from '../api/client';

  export type Tone = Schemas['Tone'];
  /** Tones that are blurred as one: the faces of one thing, its edges together. */
  export type Mass = { key: string; soft: string; kind: Tone['kind']; tones: Tone[] };

  /** All tones of all plates, the farther under the nearer, those of one thing together. */
  export function masses(tones: readonly Tone[]): Mass[] {
    const found: Mass[] = [];
    for (const tone of [...tones].sort((a, b) => b.far_m - a.far_m)) {
      const last = found.at(-1);
      const [across = 0, down = 0] = tone.soft_px;
      const soft = across < 0.3 && down < 0.3 ? '' : `${across} ${down}`;
      const key = `${tone.kind} ${tone.stand_in_id} ${soft}`;
      if (last && last.key === key) last.tones.push(tone);
      else found.push({ key, soft, kind: tone.kind, tones: [tone] });
    }
    return found;
  }
</script>

<script lang="ts">
  import { pathOf } from './geometry';

  type Props = { tones: readonly Tone[] };
  let { tones }: Props = $props();
  const id = $props.id();
  const all = $derived(masses(tones));
  const softs = $derived([...new Set(all.map((mass) => mass.soft).filter(Boolean))]);
  const grey = (value: number) => {
    const level = Math.round(value * 255);
    return `rgb(${level} ${level} ${level})`;
  };
</script>

<g data-layer="tone">
  <defs>
    {#each softs as soft, i (soft)}
      <filter
        id="{id}-soft-{i}"
        x="-0.5"
        y="-0.5"
        width="2"
        height="2"
        color-interpolation-filters="sRGB"
      >
        <feGaussianBlur stdDeviation={soft} />
      </filter>
    {/each}
  </defs>
  {#each all as mass, i (`${i} ${mass.key}`)}
    <g filter={mass.soft ? `url(#${id}-soft-${softs.indexOf(mass.soft)})` : undefined}>
      {#each mass.tones as tone, j (j)}
        {@const shade = mass.kind === 'shadow'}
        <path
          d={tone.paths.map(pathOf).join('')}
          fill={shade ? 'black' : grey(tone.grey)}
          fill-opacity={shade ? tone.grey : undefined}
          stroke={shade ? 'none' : grey(tone.grey)}
          class="whole"
        />
      {/each}
    </g>
  {/each}
</g>

<style>
  /* Neighbours meet without a gap, at any size. */
  .whole {
    stroke-width: 1px;
    vector-effect: non-scaling-stroke;
  }
</style>
