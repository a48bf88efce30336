<script lang="ts">
  import { api, ask, Failure } from '../../lib/api/client';
  import SecondStep from '../../lib/people/SecondStep.svelte';
  import { who } from '../../lib/session.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { navigate } from '../../router';

  const key = location.hash.slice(1);
  let user = $state('');
  let password = $state('');
  let problem = $state('');
  let busy = $state(false);

  async function look() {
    if (!key) {
      problem = 'This address is not whole: copy the link to its very end.';
      return;
    }
    try {
      user = (await ask(() => api.POST('/api/password/link', { body: { key } }))).user;
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  void look();

  async function set(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    problem = '';
    try {
      await who.newPassword(key, password);
      if (who.signedIn) navigate('/');
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    } finally {
      busy = false;
    }
  }
</script>

<svelte:head><title>New password · Jungoptic</title></svelte:head>
<TopStrip crumbs={[]} />
<main class="mx-auto max-w-xl p-6">
  {#if user}
    <h1 class="text-2xl">A new password for {user}</h1>
    {#if who.session?.passkey}
      <p class="my-3">It is set.</p>
      <SecondStep asked={who.session.passkey} ondone={() => navigate('/')} />
    {:else}
      <form class="mt-4 grid gap-3" onsubmit={set}>
        <input type="hidden" autocomplete="username" value={user} />
        <label>
          New password
          <input
            class="field"
            type="password"
            autocomplete="new-password"
            required
            bind:value={password}
          />
        </label>
        <p class="text-soft text-sm">
          At least ten characters, not a common word, not your name, not only digits. Every other
          device of yours is signed out.
        </p>
        <div><button class="btn btn-main" disabled={busy}>Set it and sign in</button></div>
      </form>
    {/if}
  {/if}
  {#if problem}<p role="alert" class="mt-3 font-semibold">{problem}</p>{/if}
</main>
