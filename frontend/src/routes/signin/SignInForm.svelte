<script lang="ts">
  import { untrack } from 'svelte';
  import { api, ask, Failure } from '../../lib/api/client';
  import SecondStep from '../../lib/people/SecondStep.svelte';
  import { who } from '../../lib/session.svelte';
  import { navigate } from '../../router';

  type Props = {
    /** Whether what the demo button promises is opened: not where somebody is at work already. */
    opens?: boolean;
    /** The key of an invitation, by which an account may be made. */
    invitation?: string;
    /** An account has been made by it. */
    onmade?: () => void;
  };
  let { opens = false, invitation = '', onmade }: Props = $props();
  let username = $state('');
  let password = $state('');
  let problem = $state('');
  // Who is asked in for the first time has no account yet.
  let making = $state(untrack(() => invitation !== ''));
  let busy = $state(false);

  async function go(event?: SubmitEvent) {
    event?.preventDefault();
    busy = true;
    problem = '';
    try {
      await (making ? signUp() : who.signIn(username, password));
    } catch (error) {
      problem = error instanceof Failure ? error.message : String(error);
    } finally {
      busy = false;
    }
  }

  async function signUp() {
    await who.signUp(username, password, invitation);
    onmade?.();
  }

  async function demo() {
    username = who.session?.demo_user ?? '';
    password = who.session?.demo_password ?? '';
    making = false;
    await go();
    if (!opens || problem || !who.signedIn) return;
    const { items, count } = await ask(() => api.GET('/api/productions'));
    const [only] = items;
    // Beside productions of one's own it is one to choose.
    if (only && count === 1) {
      navigate('/productions/:production', { params: { production: only.id } });
    }
  }
</script>

{#if who.session?.passkey}
  <SecondStep asked={who.session.passkey} />
{:else}
  <form onsubmit={go} class="grid gap-3">
    <label>
      User name
      <input class="field" autocomplete="username" maxlength="60" required bind:value={username} />
    </label>
    <label>
      Password
      <input
        class="field"
        type="password"
        autocomplete={making ? 'new-password' : 'current-password'}
        required
        bind:value={password}
      />
    </label>
    {#if making}
      <p class="text-soft text-sm">
        At least ten characters, not a common word, not your name, not only digits.
      </p>
    {/if}
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <div class="flex flex-wrap items-center gap-3">
      <button class="btn btn-main" disabled={busy}>{making ? 'Make the account' : 'Sign in'}</button
      >
      {#if who.session?.may_sign_up || invitation}
        <button type="button" class="underline" onclick={() => (making = !making)}>
          {making ? 'I have an account' : 'Make an account'}
        </button>
      {/if}
    </div>
    {#if who.session?.demo_user && !invitation}
      <div class="border-line mt-2 border-t pt-3">
        <button type="button" class="btn" onclick={demo} disabled={busy}>
          Open the demo production
        </button>
        <p class="text-soft mt-1 text-sm">
          signs in as {who.session.demo_user} with {who.session.demo_password}
        </p>
      </div>
    {/if}
  </form>
{/if}
