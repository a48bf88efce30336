<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import { dayInWords } from '../../lib/days';
  import { when } from '../../lib/people/reach';
  import { say } from '../../lib/quantities';
  import TopStrip from '../../lib/ui/TopStrip.svelte';

  let key = $state(location.hash.slice(1));
  /** What the link opens, before a name is given. */
  let what = $state.raw<Schemas['CrewWhat'] | null>(null);
  let open = $state.raw<Schemas['CrewOut'] | null>(null);
  let name = $state('');
  let problem = $state('');
  let busy = $state(false);

  async function begin(given: string) {
    problem = '';
    try {
      if (given) {
        what = await ask(() => api.POST('/api/crew/look', { body: { key: given } }));
        name ||= what.name;
      } else {
        open = await ask(() => api.GET('/api/crew'));
      }
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => void begin(key));

  async function enter(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    problem = '';
    try {
      open = await ask(() => api.POST('/api/crew', { body: { key, name } }));
      // The key is not left to be read off the screen, or filmed.
      history.replaceState(history.state, '', '/crew');
      what = null;
      key = '';
    } catch (error) {
      problem = (error as Error).message;
    } finally {
      busy = false;
    }
  }
  async function leave() {
    try {
      await ask(() => api.DELETE('/api/crew'));
      await begin('');
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  /** `the cards of 2026-06-20` with the day as people write it. */
  const inWords = (opens: string) =>
    opens.replace(/\d{4}-\d\d-\d\d/, (day) => dayInWords(day)).replace(/^t/, 'T');
</script>

<svelte:window
  onhashchange={() => {
    open = null;
    key = location.hash.slice(1);
  }}
/>
<svelte:head><title>Cards · Jungoptic</title></svelte:head>
<TopStrip crumbs={[]} home="/crew" />
<main class="mx-auto max-w-2xl p-4">
  {#if problem}<p role="alert" class="mb-3 font-semibold">{problem}</p>{/if}
  {#if what}
    <h1 class="text-2xl">{what.production}</h1>
    <p class="mt-1 text-lg">{inWords(what.opens)}, until {when(what.until)}</p>
    <form class="mt-5 grid gap-3" onsubmit={enter}>
      <label class="text-lg">
        Your name
        <input
          class="field min-h-12! text-lg"
          required
          maxlength="60"
          autocomplete="name"
          bind:value={name}
        />
      </label>
      <p class="text-soft text-sm">
        It stands beside every take that you log and line that you tick.
      </p>
      <button class="btn btn-main min-h-12! justify-center text-lg" disabled={busy}>
        Open the cards
      </button>
    </form>
  {:else if open}
    {#if open.links.length === 0 && !problem}
      <h1 class="text-2xl">No cards on this device</h1>
      <p class="mt-2">
        Scan the code of a printed card, or open the link that you were given. Members sign in
        <a class="underline" href="/">here</a>.
      </p>
    {/if}
    {#each open.links as link, place (place)}
      <section class="mb-8" aria-label="{link.production}: {inWords(link.opens)}">
        <h1 class="text-2xl">{link.production}</h1>
        <p class="text-soft">{inWords(link.opens)}, until {when(link.until)}</p>
        {#if link.why_not}
          <p class="mt-2 font-semibold">{link.why_not}</p>
        {:else if link.cards.length === 0}
          <p class="mt-2">No card has been issued for this yet. Look again later.</p>
        {/if}
        <ul class="mt-3 grid gap-2">
          {#each link.cards as card (card.id)}
            <li>
              <a
                class="bg-card border-line border-l-ochre flex items-center gap-4 border border-l-4 p-3"
                href="/crew/{card.production_id}/{card.id}"
              >
                <b class="text-3xl whitespace-nowrap">{card.slate}</b>
                <span class="grow">
                  <span class="block text-lg">{card.plate}</span>
                  <span class="text-soft text-sm">
                    shot {card.shot} · {card.scale === 1 ? 'life size' : say(card.scale, 'scale')}
                  </span>
                </span>
                <span class="text-right text-sm whitespace-nowrap">
                  {card.ticked} of {card.lines} ticked<br />
                  {card.takes}
                  {card.takes === 1 ? 'take' : 'takes'}
                </span>
              </a>
            </li>
          {/each}
        </ul>
      </section>
    {/each}
    {#if open.links.length > 0}
      <p class="text-soft">
        You are {open.name} here.
        <button class="underline" onclick={leave}>Forget these cards on this device</button>
      </p>
    {/if}
  {:else if !problem}
    <p class="text-soft">Loading</p>
  {/if}
</main>
