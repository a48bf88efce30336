<script lang="ts">
  type Props = {
    /** The production whose rooms these are. */
    production: string;
    /** The room we are in. */
    here?: string;
  };
  let { production, here = '' }: Props = $props();
  const rooms = [
    { key: '', name: 'Board', path: '' },
    { key: 'recipes', name: 'Recipes', path: '/recipes' },
    { key: 'continuity', name: 'Continuity', path: '/continuity' },
    { key: 'hours', name: 'Hours and days', path: '/hours' },
    { key: 'kit', name: 'Kit', path: '/kit' },
  ];
</script>

<nav aria-label="Rooms of the production" class="flex flex-wrap gap-x-3">
  {#each rooms as room (room.key)}
    <a
      class={['hover:underline', here === room.key ? 'font-semibold' : 'text-soft']}
      aria-current={here === room.key ? 'page' : undefined}
      href="/productions/{production}{room.path}">{room.name}</a
    >
  {/each}
</nav>
