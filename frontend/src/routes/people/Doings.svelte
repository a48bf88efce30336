<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import { when } from '../../lib/people/reach';

  type Props = { production: string; members: Schemas['Member'][]; version: number };
  let { production, members, version }: Props = $props();
  let doings = $state.raw<Schemas['DoingTold'][] | null>(null);
  let older = $state<number | null>(null);
  let member = $state('');
  let people = $state(false);
  let problem = $state('');

  async function load(of: string, who: string, about: boolean, before?: number) {
    problem = '';
    try {
      const page = await ask(() =>
        api.GET('/api/productions/{production_id}/history', {
          params: {
            path: { production_id: of },
            query: {
              older: before,
              member: who === '' ? undefined : Number(who),
              about: about ? 'people' : 'all',
              limit: 60,
            },
          },
        }),
      );
      if (of !== production || who !== member || about !== people) return;
      doings = before === undefined ? page.doings : [...(doings ?? []), ...page.doings];
      older = page.older;
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    void version;
    void load(production, member, people);
  });
</script>

<div class="flex flex-wrap items-center gap-4">
  <label class="flex items-center gap-2">
    By
    <select class="field w-40!" bind:value={member}>
      <option value="">everybody</option>
      {#each members as one (one.id)}<option value={String(one.id)}>{one.name}</option>{/each}
    </select>
  </label>
  <label class="flex items-center gap-2">
    <input type="checkbox" class="size-4" bind:checked={people} /> only people and links
  </label>
</div>
{#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
{#if doings}
  {#if doings.length === 0}<p class="text-soft mt-2">Nothing is written down yet.</p>{/if}
  <ol class="mt-2" aria-label="Doings, newest first">
    {#each doings as one (one.id)}
      <li class="border-line grid grid-cols-[9.5rem_1fr] gap-x-3 border-b py-1 max-sm:grid-cols-1">
        <span class="text-soft text-sm tabular-nums" title={one.address}>{when(one.at)}</span>
        <span>
          <b>{one.who}</b>
          {one.what}{#if one.more > 0 && one.changes.length > 0}<span class="text-soft"
              >, in {one.more + 1} edits</span
            >{/if}
          {#each one.changes.slice(0, 6) as change (change.what)}
            <span class="text-soft block text-sm">
              {change.what}{change.before ? ` ${change.before} →` : ':'}
              <span class="text-ink">{change.after}</span>
            </span>
          {/each}
          {#if one.changes.length > 6}
            <span class="text-soft block text-sm">and {one.changes.length - 6} more</span>
          {/if}
        </span>
      </li>
    {/each}
  </ol>
  {#if older !== null}
    {@const before = older}
    <button class="btn mt-3" onclick={() => load(production, member, people, before)}>Older</button>
  {/if}
{:else if !problem}
  <p class="text-soft">Loading</p>
{/if}
