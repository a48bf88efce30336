<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import LinkLine from '../../lib/people/LinkLine.svelte';
  import OnlyHere from '../../lib/people/OnlyHere.svelte';
  import { linkTo, when } from '../../lib/people/reach';
  import { ROLES, type Role } from './roles';

  type Invitation = Schemas['InvitationOut'];
  let { production, version }: { production: string; version: number } = $props();
  let all = $state.raw<Invitation[] | null>(null);
  let problem = $state('');
  let role = $state<Role>('crew');
  let note = $state('');
  let days = $state(7);
  let busy = $state(false);
  const waiting = $derived((all ?? []).filter((one) => !one.why_not));
  const ended = $derived((all ?? []).filter((one) => one.why_not));
  const may = $derived(ROLES.find((one) => one.key === role)?.may);
  const params = $derived({ path: { production_id: production } });

  async function load(of: string) {
    try {
      all = await ask(() =>
        api.GET('/api/productions/{production_id}/invitations', {
          params: { path: { production_id: of } },
        }),
      );
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    void version;
    void load(production);
  });

  async function doing(what: () => Promise<unknown>) {
    busy = true;
    problem = '';
    try {
      await what();
      await load(production);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    } finally {
      busy = false;
    }
  }
  function invite(event: SubmitEvent) {
    event.preventDefault();
    void doing(async () => {
      await ask(() =>
        api.POST('/api/productions/{production_id}/invitations', {
          params,
          body: { role, note, days },
        }),
      );
      note = '';
    });
  }
  const withdraw = (one: Invitation) =>
    doing(() =>
      ask(() =>
        api.DELETE('/api/productions/{production_id}/invitations/{pk}', {
          params: { path: { production_id: production, pk: one.id } },
        }),
      ),
    );
  const called = (one: Invitation) => `invitation as ${one.role}${one.note ? `, ${one.note}` : ''}`;
</script>

{#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
<form class="mt-2 grid grid-cols-[1fr_auto_auto] items-end gap-3" onsubmit={invite}>
  <label>
    For whom
    <input class="field" maxlength="120" placeholder="a name, so that you know" bind:value={note} />
  </label>
  <label>
    As
    <select class="field" bind:value={role}>
      {#each ROLES as one (one.key)}<option value={one.key}>{one.key}</option>{/each}
    </select>
  </label>
  <label>
    Holds for
    <span class="flex items-center gap-1">
      <input class="field w-16!" type="number" min="1" max="30" required bind:value={days} /> days
    </span>
  </label>
  <p class="text-soft col-span-2 self-center text-sm">{role}: {may}</p>
  <button class="btn btn-main" disabled={busy}>Make a link</button>
</form>
{#if waiting.length > 0}
  <OnlyHere />
  <ul class="mt-2">
    {#each waiting as one (one.id)}
      <li class="border-line border-t py-2" aria-label={called(one)}>
        <div class="flex flex-wrap items-baseline justify-between gap-x-3">
          <span><b>{one.note || 'Somebody'}</b> as {one.role}</span>
          <span class="text-soft text-sm">
            until {when(one.expires_at)}
            <button class="ml-2 underline" disabled={busy} onclick={() => withdraw(one)}
              >Withdraw</button
            >
          </span>
        </div>
        <LinkLine label={called(one)} address={linkTo('invited', one.key)} />
      </li>
    {/each}
  </ul>
{/if}
{#if ended.length > 0}
  <details class="text-soft mt-2 text-sm">
    <summary>Used or ended: {ended.length}</summary>
    <ul>
      {#each ended as one (one.id)}
        <li>
          {one.note || 'Somebody'} as {one.role}: {one.used_by
            ? `${one.used_by} came in by it`
            : one.why_not.replace('This invitation ', '').replace('.', '')}.
        </li>
      {/each}
    </ul>
  </details>
{/if}
