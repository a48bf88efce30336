<script lang="ts">
  import { status } from '../edit/status.svelte';
</script>

<!-- As wide whatever it says, so that nothing beside it moves under the pointer. -->
<span
  role="status"
  data-testid="saved-mark"
  data-state={status.state}
  class={[
    'inline-block min-w-16 text-sm',
    status.state === 'trouble' ? 'text-ink font-semibold' : 'text-soft',
  ]}
>
  {status.text}
</span>
