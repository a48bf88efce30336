<script lang="ts">
  import KeyRound from '@lucide/svelte/icons/key-round';
  import LogOut from '@lucide/svelte/icons/log-out';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import type { Snippet } from 'svelte';
  import { Failure } from '../api/client';
  import { who } from '../session.svelte';
  import { theme } from '../theme.svelte';
  import Modal from './Modal.svelte';
  import UnitsMenu from './UnitsMenu.svelte';

  type Props = {
    /** Where we are, outermost first. */
    crumbs: { name: string; href?: string }[];
    /** What this screen adds to the strip. */
    children?: Snippet;
  };
  let { crumbs, children }: Props = $props();
  let passwordOpen = $state(false);
  let old = $state('');
  let next = $state('');
  let problem = $state('');

  async function changePassword(event: SubmitEvent) {
    event.preventDefault();
    try {
      await who.changePassword(old, next);
      passwordOpen = false;
      old = next = problem = '';
    } catch (error) {
      problem = error instanceof Failure ? error.message : String(error);
    }
  }
</script>

<header
  class="border-line bg-card flex min-h-11 shrink-0 flex-wrap items-center gap-x-2.5 gap-y-1 border-b px-3 py-1 print:hidden"
>
  <nav aria-label="Where you are" class="flex min-w-0 flex-1 basis-60 items-center gap-2">
    <a href="/" class="flex items-center gap-2 font-semibold">
      <svg viewBox="0 0 26 14" width="26" height="14" aria-hidden="true">
        <path
          d="M1 12h24M3 12V7M8 12V9M13 12V2M18 12V9M23 12V7"
          stroke="var(--ochre)"
          stroke-width="2"
          fill="none"
        />
      </svg>
      <span>Jungoptic</span>
    </a>
    {#each crumbs as crumb (crumb.name)}
      <span class="text-soft" aria-hidden="true">/</span>
      {#if crumb.href}
        <a href={crumb.href} class="truncate hover:underline">{crumb.name}</a>
      {:else}
        <span class="truncate font-semibold">{crumb.name}</span>
      {/if}
    {/each}
  </nav>
  {@render children?.()}
  <UnitsMenu />
  <button
    class="p-1"
    onclick={() => theme.toggle()}
    aria-label={theme.current === 'paper' ? 'Dim theme' : 'Paper theme'}
    title={theme.current === 'paper' ? 'Dim theme' : 'Paper theme'}
  >
    {#if theme.current === 'paper'}<Moon size={17} />{:else}<Sun size={17} />{/if}
  </button>
  {#if who.signedIn}
    <button
      class="p-1"
      onclick={() => (passwordOpen = true)}
      aria-label="Change your password"
      title={`Change the password of ${who.session?.user}`}
    >
      <KeyRound size={17} />
    </button>
    <button
      class="p-1"
      onclick={() => who.signOut()}
      aria-label={`Sign out ${who.session?.user}`}
      title={`Sign out ${who.session?.user}`}
    >
      <LogOut size={17} />
    </button>
  {/if}
</header>

<Modal
  open={passwordOpen}
  title="Change your password"
  description="At least ten characters, not a common word, not your name, not only digits."
  onclose={() => (passwordOpen = false)}
>
  <form onsubmit={changePassword} class="grid gap-3">
    <label>
      Present password
      <input class="field" type="password" autocomplete="current-password" bind:value={old} />
    </label>
    <label>
      New password
      <input class="field" type="password" autocomplete="new-password" bind:value={next} />
    </label>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <div class="flex justify-end gap-2">
      <button type="button" class="btn" onclick={() => (passwordOpen = false)}>Keep the old</button>
      <button class="btn btn-main">Change it</button>
    </div>
  </form>
</Modal>
