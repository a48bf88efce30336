<script lang="ts">
  import { Router } from 'sv-router';
  import { onSessionEnd, onUnsure } from './lib/api/client';
  import { status } from './lib/edit/status.svelte';
  import { sendingNow } from './lib/pictures/sending.svelte';
  import StillYou from './lib/people/StillYou.svelte';
  import { who } from './lib/session.svelte';
  import Modal from './lib/ui/Modal.svelte';
  import { route } from './router';
  import SignIn from './routes/signin/SignIn.svelte';
  import SignInForm from './routes/signin/SignInForm.svelte';

  let trouble = $state('');
  /** Screens for whoever has a link: they need no account. */
  const byLink = $derived(/^\/(crew|invited|new-password)(\/|$)/.test(route.pathname));
  onSessionEnd(async () => {
    // Who came by a link has nothing to sign in with.
    if (!who.signedIn && byLink) return false;
    await who.again();
    return true;
  });

  onUnsure(() => who.stillThem());

  async function start() {
    trouble = '';
    try {
      await who.load();
    } catch (error) {
      trouble = (error as Error).message;
    }
  }
  void start();

  /** A screen could not be fetched: the server was renewed, or cannot be reached. */
  let stale = $state(false);
  $effect(() => {
    const missed = (event: Event) => {
      event.preventDefault();
      stale = true;
    };
    window.addEventListener('vite:preloadError', missed);
    return () => window.removeEventListener('vite:preloadError', missed);
  });

  function warn(event: BeforeUnloadEvent) {
    if (status.unsaved || sendingNow()) event.preventDefault();
  }
</script>

<svelte:window onbeforeunload={warn} />

{#if stale}
  <p role="alert" class="bg-well flex justify-between p-2 font-semibold">
    This screen could not be fetched: Jungoptic was renewed in the meantime, or cannot be reached.
    <button class="underline" onclick={() => location.reload()}>Load the page again</button>
  </p>
{/if}
{#if trouble}
  <main class="p-8">
    <p role="alert">{trouble}</p>
    <button class="btn mt-3" onclick={start}>Try again</button>
  </main>
{:else if who.session}
  {#if who.signedIn || who.asksAgain || byLink}
    <Router />
  {:else}
    <SignIn />
  {/if}
  <Modal
    open={who.asksAgain}
    title="Sign in again"
    description="Your session has ended. Everything on this page is kept and will be saved."
    closable={false}
  >
    <SignInForm />
  </Modal>
  <StillYou />
{/if}
