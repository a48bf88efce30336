<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { navigate } from '../../router';

  type Props = {
    production: string;
    editable: boolean;
    /** Has the breakdown printed, which takes a while. */
    onprint: () => void;
  };
  let { production, editable, onprint }: Props = $props();
  const out = [
    { name: 'Table (CSV)', file: 'board.csv' },
    { name: 'Timeline (OTIO)', file: 'board.otio' },
  ];
</script>

<DropdownMenu.Root>
  <DropdownMenu.Trigger class="btn">In and out</DropdownMenu.Trigger>
  <DropdownMenu.Portal>
    <DropdownMenu.Content
      class="bg-card border-ink z-40 min-w-56 border shadow-lg"
      align="end"
      sideOffset={4}
    >
      {#if editable}
        <DropdownMenu.Item
          class="data-highlighted:bg-well cursor-pointer px-3 py-2"
          onSelect={() => navigate('/productions/:production/import', { params: { production } })}
          >Bring in a table or an edit list</DropdownMenu.Item
        >
      {/if}
      <DropdownMenu.Item
        class="data-highlighted:bg-well cursor-pointer px-3 py-2"
        onSelect={onprint}>Breakdown on paper (PDF)</DropdownMenu.Item
      >
      {#each out as { name, file } (file)}
        <DropdownMenu.Item
          class="data-highlighted:bg-well cursor-pointer px-3 py-2"
          onSelect={() => window.open(`/api/productions/${production}/export/${file}`, '_blank')}
          >{name}</DropdownMenu.Item
        >
      {/each}
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>
