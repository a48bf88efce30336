<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import LinkLine from '../../lib/people/LinkLine.svelte';
  import { linkTo, when } from '../../lib/people/reach';
  import Modal from '../../lib/ui/Modal.svelte';
  import { navigate } from '../../router';
  import { ROLES, type Role } from './roles';

  type Member = Schemas['Member'];
  type Props = {
    production: string;
    members: Member[];
    owner: boolean;
    /** Something has changed. */
    onchanged: () => void;
  };
  let { production, members, owner, onchanged }: Props = $props();
  let problem = $state('');
  let going = $state.raw<Member | null>(null);
  let reset = $state.raw<{ member: Member; address: string; hours: number } | null>(null);
  const path = (member: Member) => ({ production_id: production, user_id: member.id });

  async function doing(what: () => Promise<unknown>) {
    problem = '';
    try {
      await what();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    }
    onchanged();
  }
  const setRole = (member: Member, role: Role) =>
    doing(() =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/members/{user_id}', {
          params: { path: path(member) },
          body: { role },
        }),
      ),
    );
  async function letGo(member: Member) {
    going = null;
    await doing(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/members/{user_id}', {
          params: { path: path(member) },
        }),
      );
      if (member.you) navigate('/');
    });
  }
  const makeReset = (member: Member) =>
    doing(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/members/{user_id}/password-link', {
          params: { path: path(member) },
        }),
      );
      reset = { member, address: linkTo('new-password', made.key), hours: made.holds_h };
    });
</script>

{#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
<ul>
  {#each members as member (member.id)}
    <li
      class="border-line flex flex-wrap items-center gap-x-3 gap-y-1 border-b py-1.5"
      aria-label={member.name}
    >
      <span class="min-w-32 grow">
        <b>{member.name}</b>{#if member.you}<span class="text-soft ml-1">(you)</span>{/if}
        {#if member.joined_at}
          <span class="text-soft block text-sm">since {when(member.joined_at)}</span>
        {/if}
      </span>
      {#if owner}
        <select
          class="field w-28!"
          aria-label="Role of {member.name}"
          value={member.role}
          onchange={(event) => setRole(member, event.currentTarget.value as Role)}
        >
          {#each ROLES as role (role.key)}<option value={role.key}>{role.key}</option>{/each}
        </select>
      {:else}
        <span>{member.role}</span>
      {/if}
      {#if owner && !member.you}
        <button
          class="btn"
          disabled={member.why_no_reset !== ''}
          title={member.why_no_reset || `For ${member.name}, who forgot the password`}
          onclick={() => makeReset(member)}>Password link</button
        >
      {/if}
      {#if owner || member.you}
        <button class="btn" onclick={() => (going = member)}
          >{member.you ? 'Leave' : 'Remove'}</button
        >
      {/if}
    </li>
  {/each}
</ul>

{#if going}
  {@const member = going}
  <Modal
    open
    title={member.you ? 'Leave this production?' : `Remove ${member.name}?`}
    description={member.you
      ? 'What you made stays. Invitations and crew links that you made stop working, and only an owner can ask you back.'
      : `What ${member.name} made stays. Invitations and crew links that they made stop working at once.`}
    onclose={() => (going = null)}
  >
    <div class="flex justify-end gap-2">
      <button class="btn" onclick={() => (going = null)}>{member.you ? 'Stay' : 'Keep'}</button>
      <button class="btn btn-main" onclick={() => letGo(member)}
        >{member.you ? 'Leave' : 'Remove'}</button
      >
    </div>
  </Modal>
{/if}
{#if reset}
  <Modal
    open
    title="A new password for {reset.member.name}"
    description="Hand this address to {reset.member
      .name} and to nobody else: whoever opens it first sets the password. It holds for {reset.hours} hours, once, and is shown only here."
    onclose={() => (reset = null)}
  >
    <LinkLine label="new password of {reset.member.name}" address={reset.address} />
    <div class="flex justify-end">
      <button class="btn btn-main" onclick={() => (reset = null)}>Done</button>
    </div>
  </Modal>
{/if}
