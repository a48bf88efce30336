<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import CrewLinks from '../../lib/people/CrewLinks.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { route } from '../../router';
  import Doings from './Doings.svelte';
  import Invitations from './Invitations.svelte';
  import Members from './Members.svelte';

  const production = $derived(route.params.production ?? '');
  let about = $state.raw<Schemas['ProductionOut'] | null>(null);
  let members = $state.raw<Schemas['Member'][]>([]);
  let days = $state.raw<string[]>([]);
  let problem = $state('');
  /** Counts what was changed here, so that what tells of it is read anew. */
  let version = $state(0);
  const owner = $derived(about?.role === 'owner');
  const films = $derived(about !== null && about.role !== 'viewer');

  async function load(id: string) {
    const path = { params: { path: { production_id: id } } };
    try {
      const [found, all] = await Promise.all([
        ask(() => api.GET('/api/productions/{production_id}', path)),
        ask(() => api.GET('/api/productions/{production_id}/members', path)),
      ]);
      [about, members] = [found, all];
      version += 1;
      if (found.role === 'viewer') return;
      const rows = await ask(() => api.GET('/api/productions/{production_id}/days', path));
      days = rows.flatMap((row) => (row.day ? [row.day] : []));
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    if (production) void load(production);
  });
</script>

<svelte:head><title>People · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={[
    ...(about ? [{ name: about.name, href: `/productions/${production}` }] : []),
    { name: 'People' },
  ]}
>
  {#if production}<Rooms {production} here="people" />{/if}
</TopStrip>
<main class="mx-auto max-w-6xl p-4">
  <h1 class="sr-only">People</h1>
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if about}
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-2">
      <div class="grid content-start gap-6">
        <section aria-label="Members">
          <h2 class="border-ink border-b-2 text-lg">Who belongs</h2>
          <Members {production} {members} {owner} onchanged={() => load(production)} />
        </section>
        {#if owner}
          <section aria-label="Invitations">
            <h2 class="border-ink border-b-2 text-lg">Ask somebody in</h2>
            <p class="text-soft mt-1 text-sm">
              A link, copied by hand, lets in one person: with the account they have, or one they
              make there.
            </p>
            <Invitations {production} {version} />
          </section>
        {/if}
      </div>
      {#if films}
        <section aria-label="Crew links">
          <h2 class="border-ink border-b-2 text-lg">For a day, without an account</h2>
          <p class="text-soft mt-1 text-sm">
            Whoever has the link sees the newest cards of that day, ticks their lists, logs takes
            and sends photographs of them, under a name they type; nothing else. Printed cards carry
            its code.
          </p>
          <CrewLinks {production} {days} />
        </section>
      {/if}
    </div>
    {#if owner}
      <section class="mt-8" aria-label="Who did what">
        <h2 class="border-ink mb-2 border-b-2 text-lg">Who did what</h2>
        <Doings {production} {members} {version} />
      </section>
    {/if}
  {:else if !problem}
    <p class="text-soft">Loading</p>
  {/if}
</main>
