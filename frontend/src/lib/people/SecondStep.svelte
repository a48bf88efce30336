<script lang="ts">
  import { who } from '../session.svelte';
  import { mayUse, NO_PASSKEYS, show } from './passkey';

  type Props = {
    /** What the browser is asked; empty where the site was opened by a number. */
    asked: Record<string, unknown>;
    /** Signed in. */
    ondone?: () => void;
  };
  let { asked, ondone }: Props = $props();
  const can = $derived(mayUse() && Object.keys(asked).length > 0);
  let code = $state('');
  let problem = $state('');
  let busy = $state(false);

  async function doing(what: () => Promise<void>) {
    busy = true;
    problem = '';
    try {
      await what();
      ondone?.();
    } catch (error) {
      problem = (error as Error).message;
    } finally {
      busy = false;
    }
  }
  const byPasskey = () => doing(async () => who.secondStep({ credential: await show(asked) }));
  function byCode(event: SubmitEvent) {
    event.preventDefault();
    void doing(() => who.secondStep({ code }));
  }
</script>

<div class="grid gap-3">
  <p>Your password is right. This account wants a passkey beside it.</p>
  {#if can}
    <div>
      <button class="btn btn-main" disabled={busy} onclick={byPasskey}>Show the passkey</button>
    </div>
  {:else}
    <p class="text-soft">{NO_PASSKEYS}</p>
  {/if}
  <form class="border-line grid gap-3 border-t pt-3" onsubmit={byCode}>
    <label>
      Or one of your spare codes
      <input class="field" autocomplete="one-time-code" maxlength="60" required bind:value={code} />
    </label>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <div class="flex flex-wrap items-center gap-3">
      <button class="btn" disabled={busy}>Sign in by the code</button>
      <button type="button" class="underline" onclick={() => who.leaveDoor()}
        >Begin with the password again</button
      >
    </div>
  </form>
</div>
