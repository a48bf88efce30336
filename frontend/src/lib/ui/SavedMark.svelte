<script lang="ts">
  import { status } from '../edit/status.svelte';
</script>

<span
  role="status"
  data-testid="saved-mark"
  data-state={status.state}
  class={['text-sm', status.state === 'trouble' ? 'text-ink font-semibold' : 'text-soft']}
>
  {status.text}
</span>
