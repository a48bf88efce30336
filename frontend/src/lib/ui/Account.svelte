<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../api/client';
  import Passkeys from '../people/Passkeys.svelte';
  import { when } from '../people/reach';
  import { bytes } from '../pictures/groups';
  import { who } from '../session.svelte';
  import Modal from './Modal.svelte';

  let { onclose }: { onclose: () => void } = $props();
  let old = $state('');
  let next = $state('');
  let problem = $state('');
  let told = $state('');
  let account = $state.raw<Schemas['AccountOut'] | null>(null);
  let leaving = $state(false);
  let once = $state('');
  let refused = $state('');
  let devices = $state.raw<Schemas['Device'][]>([]);
  const others = $derived(devices.filter((one) => !one.here));

  async function load() {
    try {
      [devices, account] = await Promise.all([
        ask(() => api.GET('/api/devices')),
        ask(() => api.GET('/api/account')),
      ]);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  void load();

  async function doing(what: () => Promise<unknown>, said: string) {
    problem = told = '';
    try {
      await what();
      told = said;
      await load();
    } catch (error) {
      problem = error instanceof Failure ? error.message : String(error);
    }
  }
  function changePassword(event: SubmitEvent) {
    event.preventDefault();
    void doing(async () => {
      await who.changePassword(old, next);
      old = next = '';
    }, 'The password is changed; every other device is signed out.');
  }
  const end = (device_id: number) =>
    doing(
      () => ask(() => api.DELETE('/api/devices/{device_id}', { params: { path: { device_id } } })),
      'Signed out there.',
    );
  const endAll = () =>
    doing(() => ask(() => api.DELETE('/api/devices')), 'Signed out everywhere but here.');

  async function erase(event: SubmitEvent) {
    event.preventDefault();
    refused = '';
    try {
      await ask(() => api.POST('/api/account/erase', { body: { password: once } }));
      await who.load();
      onclose();
    } catch (error) {
      refused = error instanceof Failure ? error.message : String(error);
    }
  }

  /** The file is fetched by the browser itself, so whether it may is asked first. */
  const take = () =>
    doing(async () => {
      await ask(() => api.GET('/api/account/sure'));
      const link = document.createElement('a');
      link.href = '/api/account/everything.json';
      link.download = '';
      link.click();
    }, '');

  /** `Firefox on Linux`, as far as a browser says so of itself. */
  function browser(agent: string): string {
    const named =
      /(Firefox|Edg|OPR|Chrome|Safari)\//.exec(agent)?.[1]?.replace('Edg', 'Edge') ?? 'A browser';
    const system = /(Android|iPhone|iPad|Windows|Mac OS X|Linux)/.exec(agent)?.[1];
    return system ? `${named} on ${system}` : named;
  }
</script>

<Modal
  open
  title="Your account"
  description="You are signed in as {who.session?.user}.{account
    ? ` You own ${account.owns} of at most ${account.may_own} productions; your pictures take ${bytes(account.pictures_bytes)} of ${bytes(account.pictures_most)}.`
    : ''}"
  {onclose}
>
  <h3 class="border-line border-b">Where you are signed in</h3>
  <ul>
    {#each devices as one (one.id)}
      <li class="border-line flex items-center gap-3 border-b py-1">
        <span class="grow">
          {browser(one.device)}{#if one.here}<b>, this one</b>{/if}
          <span class="text-soft block text-sm">
            since {when(one.began_at)}, last seen {when(one.seen_at)}, from {one.address}
          </span>
        </span>
        {#if !one.here}<button class="btn" onclick={() => end(one.id)}>Sign out</button>{/if}
      </li>
    {/each}
  </ul>
  {#if others.length > 1}
    <button class="btn mt-2" onclick={endAll}>Sign out everywhere but here</button>
  {/if}
  <h3 class="border-line mt-5 border-b">Another password</h3>
  <form onsubmit={changePassword} class="mt-2 grid gap-3">
    <label>
      Present password
      <input
        class="field"
        type="password"
        autocomplete="current-password"
        required
        bind:value={old}
      />
    </label>
    <label>
      New password
      <input class="field" type="password" autocomplete="new-password" required bind:value={next} />
    </label>
    <p class="text-soft text-sm">
      At least ten characters, not a common word, not your name, not only digits.
    </p>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <p role="status">{told}</p>
    <div><button class="btn btn-main">Change it</button></div>
  </form>
  <Passkeys />
  <h3 class="border-line mt-5 border-b">What is kept about you</h3>
  <p class="mt-2 flex flex-wrap gap-3">
    <button type="button" class="btn" onclick={take}>All of it, as JSON</button>
    <button type="button" class="btn" onclick={() => (leaving = !leaving)}
      >Erase the account…</button
    >
  </p>
  {#if leaving}
    <form onsubmit={erase} class="border-ink mt-3 grid gap-3 border-l-4 pl-3">
      <p>
        What you made stays, without your name. Productions that nobody else belongs to go to the
        bin, and are erased after thirty days. This cannot be taken back.
      </p>
      <label>
        Your password, once more
        <input
          class="field"
          type="password"
          autocomplete="current-password"
          required
          bind:value={once}
        />
      </label>
      {#if refused}<p role="alert" class="font-semibold">{refused}</p>{/if}
      <div><button class="btn btn-main">Erase it for good</button></div>
    </form>
  {/if}
  <div class="mt-5 flex justify-end">
    <button type="button" class="btn" onclick={onclose}>Close</button>
  </div>
</Modal>
