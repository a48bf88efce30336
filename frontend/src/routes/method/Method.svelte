<script lang="ts">
  import { hours, range } from '../../lib/kinds';
  import { say } from '../../lib/quantities';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { route } from '../../router';
  import ViewChoice from '../../lib/shot/ViewChoice.svelte';
  import RecipeSheet from '../recipes/RecipeSheet.svelte';
  import FactsForm from './FactsForm.svelte';
  import { Method } from './method.svelte';
  import Outcome from './Outcome.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let method = $state.raw<Method | null>(null);
  let problem = $state('');
  let saving = $state(false);
  let name = $state('');
  let does = $state('');
  let all = $state(false);

  $effect(() => {
    if (!production || !shot) return;
    const opened = new Method(production, shot);
    method = null;
    problem = '';
    opened
      .load()
      .then(() => (method = opened))
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });

  const options = $derived(method?.advice?.options ?? []);
  const listed = $derived(all ? options : options.slice(0, 8));
  const danger = ['safe', 'care', 'care', 'licensed people', 'licensed people'];
  const scale = ['none', 'little', 'some', 'much'];
  const others = $derived(
    (method?.book.recipes ?? []).filter((r) => !options.some((o) => o.recipe === r.key)),
  );
</script>

<svelte:head><title>Method · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={method
    ? [
        { name: method.about.name, href: `/productions/${production}` },
        {
          name: `${method.shot.draft.number} ${method.shot.draft.title}`,
          href: `/productions/${production}/shots/${shot}`,
        },
        { name: 'Method' },
      ]
    : []}
>
  {#if shot}<Rooms {production} {shot} here="method" />{/if}
  <SavedMark />
</TopStrip>
{#if problem}
  <main class="p-6"><p role="alert" class="font-semibold">{problem}</p></main>
{:else if method}
  {@const m = method}
  <main class="grid xl:h-[calc(100dvh-2.9rem)] xl:grid-cols-[17rem_minmax(0,1fr)_minmax(0,27rem)]">
    <h1 class="sr-only">How to build shot {m.shot.draft.number}</h1>
    <section
      aria-label="Facts"
      class="border-line bg-card border-r p-3 xl:min-h-0 xl:overflow-y-auto"
    >
      <FactsForm method={m} />
    </section>
    <section aria-label="Ways to build it" class="p-3 xl:min-h-0 xl:overflow-y-auto">
      <p class="font-semibold">
        {m.shot.draft.number}
        {m.shot.draft.title}
        <span class="text-soft font-normal">· {say(m.shot.draft.screen_time_s, 'seconds')}</span>
      </p>
      {#if m.shot.draft.action}<p class="text-soft text-sm">{m.shot.draft.action}</p>{/if}
      {#if m.trouble}<p role="alert" class="mt-2 font-semibold">{m.trouble}</p>{/if}
      {#if options.length === 0 && m.advice}
        <p class="mt-3">
          Nothing in the book shows all this. Tick fewer things, or combine two recipes: look at
          one, apply it, then the other.
        </p>
      {:else}
        <table class="mt-2 w-full text-sm">
          <caption class="text-soft text-left">
            Best first: safety, hours on set, hours in post, money, risk of filming it again.
          </caption>
          <thead class="text-soft text-left">
            <tr class="border-line border-b">
              <th class="font-normal">way</th>
              <th class="font-normal">danger</th>
              <th class="font-normal">set</th>
              <th class="font-normal">post</th>
              <th class="font-normal">money</th>
              <th class="font-normal">risk</th>
            </tr>
          </thead>
          {#each listed as option, i (option.recipe)}
            <tbody
              class={['border-line border-b', m.looking === option.recipe ? 'bg-well' : '']}
              data-option={option.recipe}
            >
              <tr>
                <td class="pt-1">
                  <button
                    class="text-left font-semibold hover:underline"
                    aria-pressed={m.looking === option.recipe}
                    onclick={() => m.look(option.recipe)}
                  >
                    {i + 1}. {option.name}
                  </button>
                  {#if m.uses.some((u) => u.key === option.recipe)}
                    <span class="text-soft">in use</span>
                  {/if}
                </td>
                <td>{danger[option.danger]}</td>
                <td title={range(option.set)}>{hours(option.set.likely)}</td>
                <td title={range(option.post)}>{hours(option.post.likely)}</td>
                <td>{scale[option.money]}</td>
                <td>{scale[option.risk]}</td>
              </tr>
              <tr>
                <td colspan="6" class="text-soft pb-1">
                  {#if option.blocked.length > 0}<b
                      >Not as things are: {option.blocked.join('; ')}.</b
                    >{/if}
                  {#if option.lacks.length > 0}
                    Does not show: {option.lacks
                      .map((s) => m.book.subjects[s]?.toLowerCase() ?? s)
                      .join(', ')}.
                  {/if}
                  {#if option.reasons.length > 0}For: {option.reasons.join('; ')}.{/if}
                  {#if option.against.length > 0}Against: {option.against.join('; ')}.{/if}
                  {#if option.decided_by && i + 1 < options.length}
                    <i>Before the next: {option.decided_by}.</i>
                  {/if}
                </td>
              </tr>
            </tbody>
          {/each}
        </table>
        {#if options.length > 8}
          <button class="mt-1 text-sm underline" onclick={() => (all = !all)}>
            {all ? 'Only the first eight' : `All ${options.length}`}
          </button>
        {/if}
      {/if}
      {#if m.advice && m.advice.turns.length > 0}
        <h2 class="mt-4 font-semibold">What would change the ranking</h2>
        <ul class="text-sm" data-testid="turns">
          {#each m.advice.turns as turn (turn.change)}
            <li>
              With {turn.change}:
              <button class="underline" onclick={() => m.look(turn.first)}>{turn.name}</button> comes
              first.
            </li>
          {/each}
        </ul>
      {/if}
      {#if m.advice && m.advice.economy.length > 0}
        <h2 class="mt-4 font-semibold">Saving work here</h2>
        <ul class="grid gap-1 text-sm" data-testid="economy">
          {#each m.advice.economy as advice (advice.key)}<li>{advice.sentence}</li>{/each}
        </ul>
      {/if}
      <label class="mt-4 block text-sm">
        <span class="text-soft">Any other recipe of the book</span>
        <select
          id="any-recipe"
          class="field"
          value=""
          onchange={(event) => {
            if (event.currentTarget.value) m.look(event.currentTarget.value);
            event.currentTarget.value = '';
          }}
        >
          <option value="">choose</option>
          {#each others as r (r.key)}<option value={r.key}>{r.name}</option>{/each}
        </select>
      </label>
    </section>
    <section
      aria-label="The chosen way"
      class="border-line bg-card border-l p-3 xl:min-h-0 xl:overflow-y-auto"
    >
      {#if m.notice}<p role="alert" class="bg-well mb-2 p-2 font-semibold">{m.notice}</p>{/if}
      {#if m.recipe}
        <ViewChoice
          label="For which view"
          views={m.shot.draft.views ?? []}
          value={m.viewId}
          onchange={(id) => m.lookFrom(id)}
        />
        <Outcome method={m} />
        <RecipeSheet recipe={m.recipe} {production} />
      {/if}
      {#if m.editable && m.plates.length > 0}
        <button
          class="btn mt-4"
          onclick={() => {
            name = '';
            does = m.shot.draft.title;
            saving = true;
          }}>Save the way this shot is built as our own recipe</button
        >
      {/if}
    </section>
  </main>
  <ClashDialog record={m.shot} name="this shot" />
  <Modal
    open={saving}
    title="A recipe of our own"
    description={`The ${m.plates.length} plates of this shot, with their settings, lock-offs, reasons and stand-ins.`}
    onclose={() => (saving = false)}
  >
    <form
      class="grid gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        saving = false;
        void m.save(name, does);
      }}
    >
      <label
        >Name <input
          id="own-name"
          class="field"
          required
          maxlength="120"
          bind:value={name}
        /></label
      >
      <label>
        What it does
        <input id="own-effect" class="field" maxlength="2000" bind:value={does} />
      </label>
      <button class="btn btn-main justify-self-end">Save it in the book</button>
    </form>
  </Modal>
{:else}
  <p class="text-soft p-6">Loading</p>
{/if}
