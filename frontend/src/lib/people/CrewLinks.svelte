<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../api/client';
  import { dayInWords } from '../days';
  import LinkLine from './LinkLine.svelte';
  import OnlyHere from './OnlyHere.svelte';
  import { holdFor, when } from './reach';

  type Link = Schemas['CrewLinkOut'];
  type Props = {
    production: string;
    /** The card whose links these are; without it those of the production. */
    card?: string;
    /** The days on which something is filmed. */
    days?: string[];
  };
  let { production, card, days = [] }: Props = $props();
  let links = $state.raw<Link[] | null>(null);
  let problem = $state('');
  let day = $state('');
  let hold = $state(7);
  let busy = $state(false);
  const holding = $derived((links ?? []).filter((one) => !one.why_not));
  const ended = $derived((links ?? []).filter((one) => one.why_not));
  const path = $derived({ production_id: production });

  async function load(of: string, card_id?: string) {
    try {
      links = await ask(() =>
        api.GET('/api/productions/{production_id}/crew-links', {
          params: { path: { production_id: of }, query: { card_id } },
        }),
      );
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => void load(production, card));

  async function doing(what: () => Promise<unknown>) {
    busy = true;
    problem = '';
    try {
      await what();
      await load(production, card);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    } finally {
      busy = false;
    }
  }
  const make = () =>
    doing(() =>
      ask(() =>
        api.POST('/api/productions/{production_id}/crew-links', {
          params: { path },
          body: { days: hold, ...(card ? { card_id: card } : { film_on: day }) },
        }),
      ),
    );
  const withdraw = (link: Link) =>
    doing(() =>
      ask(() =>
        api.DELETE('/api/productions/{production_id}/crew-links/{pk}', {
          params: { path: { ...path, pk: link.id } },
        }),
      ),
    );
  const name = (link: Link) =>
    link.film_on ? `The cards of ${dayInWords(link.film_on)}` : `Card ${link.opens.slice(5)}`;
</script>

{#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
{#if links}
  {#if holding.length > 0}<OnlyHere />{/if}
  <ul>
    {#each holding as link (link.id)}
      <li class="border-line border-b py-3" aria-label={name(link)}>
        <div class="flex flex-wrap items-baseline justify-between gap-x-4">
          <b>{name(link)}</b>
          <span class="text-soft text-sm">
            {link.cards}
            {link.cards === 1 ? 'card' : 'cards'} · until {when(link.expires_at)} ·
            {link.opened === 0
              ? 'not opened yet'
              : `opened ${link.opened === 1 ? 'once' : `${link.opened} times`}`} · by
            {link.made_by || 'somebody who left'}
          </span>
        </div>
        <div class="mt-2 flex flex-wrap items-end gap-3">
          <div class="grow">
            <LinkLine label={name(link)} address={link.address} code={link.code} />
          </div>
          <button class="btn mb-5" disabled={busy} onclick={() => withdraw(link)}>Withdraw</button>
        </div>
      </li>
    {/each}
  </ul>
  <form
    class="mt-3 flex flex-wrap items-end gap-3"
    onsubmit={(event) => {
      event.preventDefault();
      void make();
    }}
  >
    {#if !card}
      <label class="grow">
        The day that is filmed
        {#if days.length > 0}
          <select
            class="field"
            required
            value={day}
            onchange={(event) => {
              day = event.currentTarget.value;
              hold = holdFor(day, new Date());
            }}
          >
            <option value="" disabled>choose a day</option>
            {#each days as one (one)}<option value={one}>{dayInWords(one)}</option>{/each}
          </select>
        {:else}
          <span class="text-soft block">
            No plate has a filming date yet. Give them one on the Board or the Bench; a single card
            has its link on the card.
          </span>
        {/if}
      </label>
    {/if}
    {#if card || days.length > 0}
      <label>
        Holds for
        <span class="flex items-center gap-2">
          <input class="field w-20!" type="number" min="1" max="90" required bind:value={hold} />
          days
        </span>
      </label>
      <button class="btn btn-main" disabled={busy}>
        {holding.length > 0 && card ? 'Make another' : 'Make the link'}
      </button>
    {/if}
  </form>
  {#if ended.length > 0}
    <details class="text-soft mt-2 text-sm">
      <summary>Ended: {ended.length}</summary>
      <ul>
        {#each ended as link (link.id)}
          <li>{name(link)}, made {when(link.made_at)}: {link.why_not.split(';')[0]}.</li>
        {/each}
      </ul>
    </details>
  {/if}
{:else if !problem}
  <p class="text-soft">Loading</p>
{/if}
