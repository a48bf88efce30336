<script lang="ts">
  import UserRound from '@lucide/svelte/icons/user-round';
  import LogOut from '@lucide/svelte/icons/log-out';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import type { Snippet } from 'svelte';
  import { who } from '../session.svelte';
  import { theme } from '../theme.svelte';
  import Account from './Account.svelte';
  import UnitsMenu from './UnitsMenu.svelte';

  type Props = {
    /** Where we are, outermost first. `short`: what stands for a name where there is no room. */
    crumbs: { name: string; href?: string; short?: string }[];
    /** Where the name of the product leads. Default the productions. */
    home?: string;
    /** So much stands on it that the place in hand needs the room of our name. Default off. */
    tight?: boolean;
    /** What this screen adds to the strip. */
    children?: Snippet;
  };
  let { crumbs, home = '/', tight = false, children }: Props = $props();
  let accountOpen = $state(false);
</script>

<header
  class="border-line bg-card flex min-h-11 shrink-0 flex-wrap items-center gap-x-2.5 gap-y-1 border-b px-3 py-1 print:hidden"
>
  <nav aria-label="Where you are" class="flex min-w-0 flex-1 basis-60 items-center gap-2 pr-2">
    <a href={home} class="flex items-center gap-2 font-semibold">
      <svg viewBox="0 0 26 14" width="26" height="14" aria-hidden="true">
        <path
          d="M1 12h24M3 12V7M8 12V9M13 12V2M18 12V9M23 12V7"
          stroke="var(--ochre)"
          stroke-width="2"
          fill="none"
        />
      </svg>
      <!-- Where there is little room, the place in hand says more than our name. -->
      <span class={tight ? 'max-2xl:sr-only' : ''}>Jungoptic</span>
    </a>
    {#each crumbs as crumb (crumb.name)}
      <span class="text-soft" aria-hidden="true">/</span>
      {#if crumb.href}
        <!-- A name cut to three letters says nothing; what it leads to does. -->
        {@const short = tight ? crumb.short : undefined}
        <a
          href={crumb.href}
          title={crumb.name}
          aria-label={short ? `${short}: ${crumb.name}` : undefined}
          class={['hover:underline', short ? 'shrink-0' : 'truncate']}
        >
          {#if short}<span class="2xl:hidden">{short}</span>{/if}
          <span class={short ? 'max-2xl:hidden' : ''}>{crumb.name}</span>
        </a>
      {:else}
        <span title={crumb.name} class="truncate font-semibold">{crumb.name}</span>
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
      onclick={() => (accountOpen = true)}
      aria-label="Your account"
      title={`The account of ${who.session?.user}: devices, password`}
    >
      <UserRound size={17} />
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

{#if accountOpen}<Account onclose={() => (accountOpen = false)} />{/if}
