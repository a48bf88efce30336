<script lang="ts">
  /** The sun's way over a place from above: north up, the zenith in the middle, the skyline round it,
   * and the camera in the middle pointing where it must. */
  type Pair = readonly number[];
  type Props = {
    /** Azimuth and elevation every ten minutes. */
    path: readonly Pair[];
    hours: readonly { clock: string; azimuth_deg: number; elevation_deg: number }[];
    skyline: readonly Pair[];
    /** Where the camera points, degrees from north; null: nowhere yet. */
    heading: number | null;
    /** The height that is looked for. */
    wanted: number | null;
  };
  let { path, hours, skyline, heading, wanted }: Props = $props();
  const [R, C] = [96, 118];
  /** Height as distance from the edge: the zenith lies in the middle. */
  const place = (azimuth: number, elevation: number) => {
    const a = (azimuth * Math.PI) / 180;
    const r = R * (1 - Math.max(elevation, -6) / 90);
    return [C + r * Math.sin(a), C - r * Math.cos(a)] as const;
  };
  const at = (p: Pair) => {
    const [x, y] = place(p[0] ?? 0, p[1] ?? 0);
    return `${x.toFixed(1)} ${y.toFixed(1)}`;
  };
  const rim = $derived(
    skyline.length
      ? `M${skyline.map((p) => at([p[0] ?? 0, Math.max(p[1] ?? 0, 0)])).join('L')}Z`
      : '',
  );
  const edge = `M${C - R} ${C}a${R} ${R} 0 1 0 ${2 * R} 0a${R} ${R} 0 1 0 ${-2 * R} 0Z`;
</script>

<figure>
  <svg
    viewBox="0 0 {2 * C} {2 * C}"
    class="block w-full max-w-60"
    role="img"
    aria-label={`The sun's way over the place${heading === null ? '' : `; camera to ${Math.round(heading)}°`}`}
    data-testid="sun-compass"
  >
    <circle cx={C} cy={C} r={R} fill="var(--card)" stroke="var(--ink)" />
    {#each [30, 60] as ring (ring)}
      <circle cx={C} cy={C} r={R * (1 - ring / 90)} fill="none" stroke="var(--line)" />
      <text x={C + 2} y={C - R * (1 - ring / 90) - 2} font-size="8" fill="var(--soft)">{ring}°</text
      >
    {/each}
    {#if wanted !== null}
      <circle
        cx={C}
        cy={C}
        r={R * (1 - wanted / 90)}
        fill="none"
        stroke="var(--ochre)"
        stroke-width="7"
        stroke-opacity=".3"
      />
    {/if}
    {#if rim}<path d="{edge}{rim}" fill="var(--soft)" fill-opacity=".45" fill-rule="evenodd" />{/if}
    {#if path.length > 1}
      <path
        d={`M${path.map(at).join('L')}`}
        fill="none"
        stroke="var(--ochre-ink)"
        stroke-width="2.2"
      />
    {/if}
    {#each hours as hour, i (i)}
      {#if hour.elevation_deg > 0}
        {@const [x, y] = place(hour.azimuth_deg, hour.elevation_deg)}
        <circle cx={x} cy={y} r="2.6" fill="var(--ochre)" stroke="var(--ink)" stroke-width=".7" />
        <text {x} y={y - 5} text-anchor="middle" class="haloed" font-size="8" fill="var(--ink)"
          >{hour.clock}</text
        >
      {/if}
    {/each}
    {#each [[0, 'N'], [90, 'E'], [180, 'S'], [270, 'W']] as const as [azimuth, name] (azimuth)}
      {@const [x, y] = place(azimuth, -10)}
      <text {x} y={y + 4} text-anchor="middle" font-size="11" fill="var(--ink)">{name}</text>
    {/each}
    {#if heading !== null}
      <g transform="translate({C} {C}) rotate({heading})">
        <path d="M-4.5 7h9V-4l-2.2 -3h-4.6l-2.2 3Z" fill="var(--ink)" />
        <path d="M-2 -8L-14 -58M2 -8L14 -58" stroke="var(--ink)" stroke-width=".9" />
        <path d="M0 -10V-70m-3 5l3 -6l3 6" fill="none" stroke="var(--ink)" stroke-width="1.2" />
      </g>
    {/if}
  </svg>
  <figcaption class="text-soft text-xs">
    North up, the zenith in the middle; grey is what rises round the place. {#if heading !== null}The
      camera points to {Math.round(heading)}°.{/if}
  </figcaption>
</figure>
