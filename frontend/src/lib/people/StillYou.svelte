<script lang="ts">
  import { api, ask } from '../api/client';
  import { who } from '../session.svelte';
  import Modal from '../ui/Modal.svelte';

  let password = $state('');
  let problem = $state('');
  let busy = $state(false);

  async function go(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    problem = '';
    try {
      await ask(() => api.POST('/api/account/sure', { body: { password } }));
      password = '';
      who.isSure(true);
    } catch (error) {
      problem = (error as Error).message;
    } finally {
      busy = false;
    }
  }
  function leave() {
    password = problem = '';
    who.isSure(false);
  }
</script>

<Modal
  open={who.asksProof}
  title="Is it still you?"
  description="You gave your password a while ago, and what you ask for cannot be called back."
  onclose={leave}
>
  <form class="grid gap-3" onsubmit={go}>
    <input type="hidden" autocomplete="username" value={who.session?.user ?? ''} />
    <label>
      Your password
      <input
        class="field"
        type="password"
        autocomplete="current-password"
        required
        bind:value={password}
      />
    </label>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <div class="flex justify-end gap-2">
      <button type="button" class="btn" onclick={leave}>Leave it</button>
      <button class="btn btn-main" disabled={busy}>Go on</button>
    </div>
  </form>
</Modal>
