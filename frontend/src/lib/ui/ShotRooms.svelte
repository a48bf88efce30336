<script lang="ts">
  type Props = {
    production: string;
    shot: string;
    /** The room we are in. */
    here: string;
  };
  let { production, shot, here }: Props = $props();
  const rooms = [
    { key: 'bench', name: 'Bench', path: '' },
    { key: 'method', name: 'Method', path: '/method' },
    { key: 'sketches', name: 'Sketches', path: '/sketches' },
    { key: 'hours', name: 'Hours and cautions', path: '/hours' },
  ];
</script>

<nav aria-label="Rooms of the shot" class="flex flex-wrap gap-x-3">
  {#each rooms as room (room.key)}
    <a
      class={['hover:underline', here === room.key ? 'font-semibold' : 'text-soft']}
      aria-current={here === room.key ? 'page' : undefined}
      href="/productions/{production}/shots/{shot}{room.path}">{room.name}</a
    >
  {/each}
</nav>
