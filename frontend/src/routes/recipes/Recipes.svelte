<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import Modal from '../../lib/ui/Modal.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { route } from '../../router';
  import { Book, families, find } from './book.svelte';
  import RecipeSheet from './RecipeSheet.svelte';

  const production = $derived(route.params.production ?? '');
  let about = $state.raw<Schemas['ProductionOut'] | null>(null);
  let book = $state.raw<Book | null>(null);
  let problem = $state('');
  let text = $state('');
  let chosen = $state('');
  let renaming = $state('');
  let dialog = $state<'' | 'rename' | 'remove'>('');
  let sheet = $state<HTMLElement | null>(null);

  async function load(id: string) {
    try {
      const opened = new Book(id);
      [about] = await Promise.all([
        ask(() =>
          api.GET('/api/productions/{production_id}', { params: { path: { production_id: id } } }),
        ),
        opened.load(),
      ]);
      book = opened;
      chosen ||= opened.recipes[0]?.key ?? '';
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    if (production) void load(production);
  });

  const found = $derived(find(book?.recipes ?? [], text));
  const recipe = $derived(found.find((r) => r.key === chosen) ?? found[0]);

  async function rename(event: SubmitEvent) {
    event.preventDefault();
    const own = recipe?.own;
    if (!own) return;
    await attempt(() =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/recipes/{pk}', {
          params: { path: { production_id: production, pk: own.id } },
          body: { revision: own.revision, name: renaming },
        }),
      ),
    );
  }
  async function remove() {
    const own = recipe?.own;
    if (!own) return;
    await attempt(() =>
      ask(() =>
        api.DELETE('/api/productions/{production_id}/recipes/{pk}', {
          params: { path: { production_id: production, pk: own.id } },
        }),
      ),
    );
  }
  async function attempt(work: () => Promise<unknown>) {
    try {
      problem = '';
      await work();
      dialog = '';
      await load(production);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  function choose(key: string) {
    chosen = key;
    sheet?.scrollTo({ top: 0 });
  }
</script>

<svelte:head><title>Recipes · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={[
    ...(about ? [{ name: about.name, href: `/productions/${production}` }] : []),
    { name: 'Recipes' },
  ]}
>
  {#if production}<Rooms {production} here="recipes" />{/if}
</TopStrip>
<main class="grid md:h-[calc(100dvh-2.9rem)] md:grid-cols-[19rem_minmax(0,1fr)] md:overflow-hidden">
  <h1 class="sr-only">The recipe book</h1>
  <div class="border-line bg-card border-r p-3 md:overflow-y-auto">
    <input
      class="field"
      type="search"
      placeholder="Search the book: glass, twice, shadow"
      aria-label="Search the book"
      bind:value={text}
    />
    {#if book && found.length === 0}
      <p class="text-soft mt-2">Nothing in the book says that. Try one plain word.</p>
    {/if}
    {#each families(found) as [name, list] (name)}
      <h2 class="text-soft mt-3 text-sm">{name}</h2>
      <ul>
        {#each list as one (one.key)}
          <li>
            <button
              class={[
                'w-full px-2 py-1 text-left',
                one.key === recipe?.key ? 'bg-well font-semibold' : '',
              ]}
              aria-pressed={one.key === recipe?.key}
              onclick={() => choose(one.key)}>{one.name}</button
            >
          </li>
        {/each}
      </ul>
    {/each}
  </div>
  <div class="p-4 md:overflow-y-auto" bind:this={sheet}>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    {#if recipe && book}
      <div class="mx-auto max-w-3xl">
        {#if recipe.own && about?.role !== 'viewer'}
          <div class="mb-2 flex gap-2">
            <button
              class="btn"
              onclick={() => {
                renaming = recipe.name;
                dialog = 'rename';
              }}>Rename</button
            >
            <button class="btn" onclick={() => (dialog = 'remove')}>Remove from the book</button>
          </div>
        {/if}
        <RecipeSheet {recipe} {production} references={book.references} />
      </div>
    {:else if !problem && !book}
      <p class="text-soft">Loading</p>
    {/if}
  </div>
</main>

<Modal open={dialog === 'rename'} title="Rename the recipe" onclose={() => (dialog = '')}>
  <form onsubmit={rename} class="grid gap-3">
    <label
      >Name <input
        id="recipe-name"
        class="field"
        required
        maxlength="120"
        bind:value={renaming}
      /></label
    >
    <button class="btn btn-main justify-self-end">Rename it</button>
  </form>
</Modal>
<Modal
  open={dialog === 'remove'}
  title={`Remove “${recipe?.name ?? ''}”?`}
  description="Shots that were built by it keep its text, their plates and their cautions."
  onclose={() => (dialog = '')}
>
  <div class="flex justify-end gap-2">
    <button class="btn" onclick={() => (dialog = '')}>Keep it</button>
    <button class="btn btn-main" onclick={remove}>Remove it</button>
  </div>
</Modal>
