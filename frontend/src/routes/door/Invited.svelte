<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import { when } from '../../lib/people/reach';
  import { who } from '../../lib/session.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { navigate } from '../../router';
  import { ROLES } from '../people/roles';
  import SignInForm from '../signin/SignInForm.svelte';

  const key = location.hash.slice(1);
  let invited = $state.raw<Schemas['Invited'] | null>(null);
  let problem = $state('');
  let busy = $state(false);
  const may = $derived(ROLES.find((one) => one.key === invited?.role)?.may);

  async function look() {
    if (!key) {
      problem = 'This address is not whole: copy the link to its very end.';
      return;
    }
    try {
      invited = await ask(() => api.POST('/api/invited', { body: { key } }));
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  void look();

  async function join() {
    busy = true;
    problem = '';
    try {
      const { production_id: production } = await ask(() =>
        api.POST('/api/invited/accept', { body: { key } }),
      );
      navigate('/productions/:production', { params: { production } });
    } catch (error) {
      problem = (error as Error).message;
    } finally {
      busy = false;
    }
  }
</script>

<svelte:head><title>Invitation · Jungoptic</title></svelte:head>
<TopStrip crumbs={[]} />
<main class="mx-auto max-w-xl p-6">
  {#if invited}
    <h1 class="text-2xl">{invited.production}</h1>
    <p class="mt-2">
      {invited.by || 'Somebody who left'} asks you in as <b>{invited.role}</b>: you may {may}. The
      invitation holds until {when(invited.expires_at)}.
    </p>
    {#if invited.why_not && !busy}
      <p class="mt-3 font-semibold">{invited.why_not} Ask for another.</p>
      {#if who.signedIn}<a class="btn mt-4" href="/">Your productions</a>{/if}
    {:else if who.signedIn}
      <div class="mt-5 flex flex-wrap items-center gap-3">
        <button class="btn btn-main min-h-11!" disabled={busy} onclick={join}>
          Join as {who.session?.user}
        </button>
        <button class="underline" onclick={() => who.signOut()}>Not you? Sign out</button>
      </div>
    {:else}
      <div class="bg-card border-ink mt-5 border-t-4 p-6 shadow">
        <p class="mb-3">Make an account to join, or sign in with the one you have.</p>
        <SignInForm invitation={key} onmade={() => void join()} />
      </div>
    {/if}
  {/if}
  {#if problem}<p role="alert" class="mt-3 font-semibold">{problem}</p>{/if}
</main>
