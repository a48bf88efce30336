<script lang="ts">
  type Props = {
    /** The production whose rooms these are. */
    production: string;
    /** The shot whose rooms these are; without it those of the production. */
    shot?: string;
    /** The room we are in: the end of its address. */
    here?: string;
  };
  let { production, shot, here = '' }: Props = $props();
  type Room = readonly [key: string, name: string, whole?: string];
  const ofProduction: Room[] = [
    ['', 'Board'],
    ['recipes', 'Recipes'],
    ['continuity', 'Continuity'],
    ['hours', 'Hours and days'],
    ['kit', 'Kit'],
    ['pictures', 'Pictures'],
    ['people', 'People'],
  ];
  const ofShot: Room[] = [
    ['', 'Bench'],
    ['method', 'Method'],
    ['lockoff', 'Lock-off'],
    ['frames', 'Frames'],
    ['dry-run', 'Dry run'],
    ['pictures', 'Pictures'],
    ['sketches', 'Sketches'],
    // As short as the strip of the Bench needs it.
    ['hours', 'Hours', 'Hours and cautions'],
  ];
  const rooms = $derived(shot ? ofShot : ofProduction);
  const base = $derived(`/productions/${production}${shot ? `/shots/${shot}` : ''}`);
</script>

<nav
  aria-label={shot ? 'Rooms of the shot' : 'Rooms of the production'}
  class="flex flex-wrap gap-x-3"
>
  {#each rooms as [key, name, whole] (key)}
    <a
      class={['hover:underline', here === key ? 'font-semibold' : 'text-soft']}
      aria-current={here === key ? 'page' : undefined}
      aria-label={whole}
      title={whole}
      href={key ? `${base}/${key}` : base}>{name}</a
    >
  {/each}
</nav>
