<script lang="ts">
  import Circle from '@lucide/svelte/icons/circle';
  import { untrack } from 'svelte';
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import Drop from '../../lib/pictures/Drop.svelte';
  import type { Group } from '../../lib/pictures/groups';
  import SendList from '../../lib/pictures/SendList.svelte';
  import { sendingsOf } from '../../lib/pictures/sending.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import { READINGS, type Reading, type Take } from '../take/readings';

  type Props = {
    production: string;
    card: Schemas['CardOut'];
    editable: boolean;
    /** Whether somebody without an account logs: stills are theirs to send, clips are not. */
    byLink?: boolean;
    onlogged: (take: Take) => void;
  };
  let { production, card, editable, byLink = false, onlogged }: Props = $props();

  type Draft = {
    id: string;
    circled: boolean;
    note: string;
    readings: Partial<Record<Reading, number | null>>;
  };
  const fresh = (): Draft => ({ id: crypto.randomUUID(), circled: false, note: '', readings: {} });
  const key = untrack(() => `jungoptic.take.${card.id}`);
  /** Kept on the device until the server has it: a dead battery or a dropped link loses nothing. */
  function kept(): Draft | null {
    try {
      const found = JSON.parse(localStorage.getItem(key) ?? 'null') as Draft | null;
      return found && typeof found.id === 'string' ? { ...fresh(), ...found } : null;
    } catch {
      return null;
    }
  }
  const before = kept();
  let open = $state(before !== null);
  let draft = $state<Draft>(before ?? fresh());
  let problem = $state('');
  let problems = $state<Record<string, string>>({});
  let busy = $state(false);
  const next = $derived(Math.max(0, ...card.takes.map((t) => t.number)) + 1);

  function keep() {
    localStorage.setItem(key, JSON.stringify($state.snapshot(draft)));
  }

  const sendings = $derived(sendingsOf(production));
  let dropProblem = $state('');
  const mine = (take: string | undefined) => card.takes.some((one) => one.id === take);

  /** Each clip is a take of its own; what a phone photographs belongs to the newest. */
  async function recorded(groups: Group[], byCamera: boolean) {
    dropProblem = '';
    try {
      for (const group of groups) {
        const newest = card.takes[0];
        const photo = byCamera && newest;
        const take = photo ? newest : await made({ ...fresh(), note: group.name });
        if (!photo) onlogged(take);
        const role = byCamera ? 'reference' : 'recorded';
        await sendings.add([group], { take_id: take.id, role });
      }
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      dropProblem = error.message;
    }
  }
  /** The take of a draft, as the server has it by then. */
  function made({ id, circled, note, readings }: Draft): Promise<Take> {
    return ask(() =>
      api.POST('/api/productions/{production_id}/cards/{card_id}/takes', {
        params: { path: { production_id: production, card_id: card.id } },
        body: { id, circled, note, ...readings },
      }),
    );
  }

  async function log() {
    busy = true;
    problem = '';
    problems = {};
    keep();
    try {
      const take = await made($state.snapshot(draft));
      localStorage.removeItem(key);
      draft = fresh();
      open = false;
      onlogged(take);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
      problems = error.fields;
    } finally {
      busy = false;
    }
  }
</script>

{#snippet row(take: Take)}
  <span
    class={[
      'grid size-9 shrink-0 place-items-center text-lg font-bold',
      take.circled ? 'border-ink rounded-full border-3' : '',
    ]}
  >
    {take.number}
  </span>
  <span class="grow">{take.note || 'no note'}</span>
{/snippet}

<section class="mt-6 pb-24" aria-label="Takes">
  <h2 class="border-ink border-b-2 text-sm font-semibold">Takes</h2>
  {#if card.takes.length === 0}
    <p class="text-soft py-2">None yet. Log each one while the set still stands.</p>
  {/if}
  <ul>
    {#each card.takes as take (take.id)}
      <li class="border-line border-b">
        {#if byLink}
          <span class="flex min-h-11 items-center gap-3 py-1">
            {@render row(take)}
            <span class="text-soft text-sm">{take.logged_by}</span>
          </span>
        {:else}
          <a
            class="flex min-h-11 items-center gap-3 py-1"
            href="/productions/{production}/takes/{take.id}"
          >
            {@render row(take)}
            <span class="text-soft text-sm">what it costs</span>
          </a>
        {/if}
      </li>
    {/each}
  </ul>

  {#if editable}
    <div class="mt-3">
      {#if !byLink}
        <Drop
          label="Clips of this card"
          hint="Drop what was recorded: each clip becomes a take, as planned until somebody says otherwise"
          camera
          folder
          onfiles={(groups, byCamera) => void recorded(groups, byCamera)}
        />
      {:else if card.takes[0]}
        <Drop
          label="Photographs of take {card.takes[0].number}"
          hint="Photographs of the newest take: the slate, the tape, what stands where"
          camera
          onfiles={(groups) => void recorded(groups, true)}
        />
      {/if}
      {#if dropProblem}<p role="alert" class="font-semibold">{dropProblem}</p>{/if}
      <SendList {sendings} list={sendings.list.filter((one) => mine(one.place.take_id))} />
    </div>
  {/if}
  {#if editable && !open}
    <div class="border-line bg-paper fixed inset-x-0 bottom-0 border-t p-3 print:hidden">
      <button
        class="btn btn-main mx-auto flex min-h-12! w-full max-w-4xl justify-center text-lg"
        onclick={() => {
          open = true;
          keep();
        }}
      >
        Log take {next}
      </button>
    </div>
  {:else if editable}
    <form
      class="bg-card border-ochre mt-3 border-t-4 p-3"
      aria-label={`Take ${next}`}
      onsubmit={(event) => {
        event.preventDefault();
        void log();
      }}
    >
      <div class="flex items-center justify-between">
        <h3 class="text-xl">Take {next}</h3>
        <button
          type="button"
          class={['btn min-h-12!', draft.circled ? 'btn-main' : '']}
          aria-pressed={draft.circled}
          onclick={() => {
            draft.circled = !draft.circled;
            keep();
          }}
        >
          <Circle size={18} /> Circled
        </button>
      </div>
      <p class="text-soft my-1 text-sm">
        Grey numbers are as planned. Change only what the tape and the camera really show.
      </p>
      {#each READINGS as reading (reading.field)}
        <NumberField
          label={reading.label}
          kind={reading.kind}
          nullable
          value={draft.readings[reading.field] ?? null}
          derived={card.content.planned[reading.field]}
          problem={problems[reading.field]}
          onlive={(value) => {
            draft.readings[reading.field] = value;
            keep();
          }}
          oncommit={keep}
        />
      {/each}
      <label class="mt-2 block">
        Note
        <textarea class="field" rows="2" maxlength="2000" bind:value={draft.note} oninput={keep}
        ></textarea>
      </label>
      {#if problem}<p role="alert" class="mt-2 font-semibold">{problem}</p>{/if}
      <div class="mt-3 flex gap-3">
        <button class="btn btn-main min-h-12! grow justify-center text-lg" disabled={busy}>
          Save take {next}
        </button>
        <button
          type="button"
          class="btn min-h-12!"
          onclick={() => {
            localStorage.removeItem(key);
            draft = fresh();
            open = false;
          }}>Discard</button
        >
      </div>
    </form>
  {/if}
</section>
