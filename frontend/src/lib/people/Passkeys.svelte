<script lang="ts">
  import { api, ask, type Schemas } from '../api/client';
  import { make, mayUse, NO_PASSKEYS } from './passkey';
  import { when } from './reach';

  let held = $state.raw<Schemas['Passkeys'] | null>(null);
  let name = $state('');
  let codes = $state.raw<string[]>([]);
  let problem = $state('');
  let busy = $state(false);
  const whyNot = $derived(held?.why_not || (mayUse() ? '' : NO_PASSKEYS));

  async function doing(what: () => Promise<unknown>) {
    busy = true;
    problem = '';
    try {
      await what();
      held = await ask(() => api.GET('/api/account/passkeys'));
    } catch (error) {
      problem = (error as Error).message;
    } finally {
      busy = false;
    }
  }
  void doing(() => Promise.resolve());

  function add(event: SubmitEvent) {
    event.preventDefault();
    void doing(async () => {
      const asked = await ask(() => api.POST('/api/account/passkeys/begin'));
      const credential = await make(asked);
      const made = await ask(() =>
        api.POST('/api/account/passkeys', { body: { name, credential } }),
      );
      if (made.codes.length > 0) codes = made.codes;
      name = '';
    });
  }
  const remove = (passkey_id: number) =>
    doing(async () => {
      await ask(() =>
        api.DELETE('/api/account/passkeys/{passkey_id}', { params: { path: { passkey_id } } }),
      );
      codes = [];
    });
  const renew = () =>
    doing(async () => {
      codes = (await ask(() => api.POST('/api/account/passkeys/codes'))).codes;
    });
  const file = $derived(`data:text/plain,${encodeURIComponent(codes.join('\n'))}`);
</script>

<h3 class="border-line mt-5 border-b">Passkeys</h3>
{#if held}
  <ul aria-label="Your passkeys">
    {#each held.items as one (one.id)}
      <li class="border-line flex items-center gap-3 border-b py-1">
        <span class="grow">
          {one.name}
          <span class="text-soft block text-sm">
            since {when(one.made_at)}{one.used_at
              ? `, last shown ${when(one.used_at)}`
              : ', not shown yet'}
          </span>
        </span>
        <button class="btn" disabled={busy} onclick={() => remove(one.id)}>Take away</button>
      </li>
    {/each}
  </ul>
  {#if held.items.length > 0}
    <p class="text-soft mt-2 flex flex-wrap items-center justify-between gap-2 text-sm">
      {held.codes_left} spare codes left.
      <button class="underline" disabled={busy} onclick={renew}>Make new ones</button>
    </p>
  {/if}
  {#if codes.length > 0}
    <div class="border-ochre mt-2 border-l-4 pl-3">
      <p>
        Spare codes, for the day the passkey is lost: each lets you in once, beside your password.
        They are shown only now; print them or put them where you keep such things.
      </p>
      <ul class="mt-2 grid grid-cols-2 gap-x-4 font-mono text-sm" aria-label="Spare codes">
        {#each codes as code (code)}<li>{code}</li>{/each}
      </ul>
      <p class="mt-2 flex gap-2">
        <a class="btn" href={file} download="spare-codes.txt">As a file</a>
        <button class="btn" onclick={() => (codes = [])}>I have them</button>
      </p>
    </div>
  {/if}
  {#if whyNot}
    <p class="text-soft mt-2 text-sm">{whyNot}</p>
  {:else}
    {#if held.items.length === 0}
      <p class="text-soft mt-2 text-sm">
        With one, your password alone lets nobody in: this device, a phone or a key on your ring is
        shown beside it.
      </p>
    {/if}
    <form class="mt-2 flex flex-wrap items-end gap-3" onsubmit={add}>
      <label class="grow">
        What it is on
        <input class="field" maxlength="120" placeholder="my phone" required bind:value={name} />
      </label>
      <button class="btn" disabled={busy}>Make a passkey</button>
    </form>
  {/if}
{/if}
{#if problem}<p role="alert" class="mt-2 font-semibold">{problem}</p>{/if}
