<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import MarkTable from '../../lib/drawings/MarkTable.svelte';
  import StagePair from '../../lib/drawings/StagePair.svelte';
  import CrewLinks from '../../lib/people/CrewLinks.svelte';
  import { when } from '../../lib/people/reach';
  import { length, say } from '../../lib/quantities';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { units } from '../../lib/units.svelte';
  import { route } from '../../router';
  import BoardSheet from './BoardSheet.svelte';
  import LogTake from './LogTake.svelte';
  import { Ticks } from './ticks.svelte';

  const production = $derived(route.params.production ?? '');
  const pk = $derived(route.params.card ?? '');
  let card = $state.raw<Schemas['CardOut'] | null>(null);
  let role = $state('');
  let problem = $state('');
  let ticks = $state.raw<Ticks | null>(null);
  /** Whoever came by a crew link sees the card and logs on it; there is no way on from there. */
  const byLink = $derived(route.pathname.startsWith('/crew/'));
  const films = $derived(byLink || (role !== 'viewer' && role !== ''));
  /** How often it looks for what others ticked and logged, milliseconds. */
  const LOOK_MS = 15_000;

  const read = (production_id: string, id: string) =>
    ask(() =>
      api.GET('/api/productions/{production_id}/cards/{pk}', {
        params: { path: { production_id, pk: id } },
      }),
    ) as Promise<Schemas['CardOut']>;
  const roleIn = async (production_id: string) =>
    (
      await ask(() =>
        api.GET('/api/productions/{production_id}', { params: { path: { production_id } } }),
      )
    ).role;

  async function load(production_id: string, id: string) {
    problem = '';
    try {
      const [found, own] = await Promise.all([
        read(production_id, id),
        byLink ? '' : roleIn(production_id),
      ]);
      card = found;
      role = own;
      // Whoever came by a link enters no production: the card's own way of writing is usual here.
      if (byLink) units.usual(found.content.notation ?? {});
      ticks?.stop();
      ticks = new Ticks(production_id, id, found.ticks);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = said(error);
    }
  }
  /** What others did meanwhile. */
  async function look() {
    if (!card || !ticks || document.hidden) return;
    try {
      const found = await read(production, card.id);
      if (found.id !== card.id) return;
      ticks.stored = found.ticks;
      card = found;
    } catch (error) {
      // Without a connection what is here stays; a link that has ended says so.
      if (error instanceof Failure && !error.passing) problem = said(error);
    }
  }
  /** Why there is no card to see. */
  function said(error: Failure): string {
    const shut = byLink && error.status === 401;
    return shut
      ? 'No link is open on this device any more: scan the code once more.'
      : error.message;
  }
  $effect(() => {
    const timer = setInterval(() => void look(), LOOK_MS);
    return () => {
      clearInterval(timer);
      ticks?.stop();
    };
  });
  $effect(() => {
    if (production && pk) void load(production, pk);
  });

  const groups = $derived.by(() => {
    const found: { name: string; lines: Schemas['CardLine'][] }[] = [];
    for (const line of card?.content.lines ?? []) {
      const last = found.at(-1);
      if (last?.name === line.group) last.lines.push(line);
      else found.push({ name: line.group, lines: [line] });
    }
    return found;
  });
</script>

<svelte:window onfocus={() => void look()} ononline={() => void ticks?.send()} />
<svelte:head><title>Card {card?.slate ?? ''} · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={card
    ? [
        {
          name: `Shot ${card.content.shot}`,
          ...(byLink ? {} : { href: `/productions/${production}/shots/${card.shot_id}` }),
        },
        { name: card.slate },
      ]
    : []}
  home={byLink ? '/crew' : '/'}
/>
{#if problem}
  <p role="alert" class="p-6 font-semibold">{problem}</p>
{:else if card}
  {@const content = card.content}
  <main class="mx-auto max-w-4xl p-3 sm:p-5">
    <header class="flex items-start justify-between gap-4">
      <div>
        <h1 class="text-2xl">{content.plate}</h1>
        <p class="text-soft">
          Shot {content.shot} · {content.scale === 1 ? 'life size' : say(content.scale, 'scale')}
        </p>
        {#if content.action}<p class="mt-1 max-w-prose">{content.action}</p>{/if}
      </div>
      <p class="text-4xl leading-none font-bold whitespace-nowrap sm:text-5xl" aria-label="Slate">
        {card.slate}
      </p>
    </header>
    <p class="text-soft mt-1 text-sm">
      Issued {new Date(card.created_at).toLocaleString()} by {card.issued_by ??
        'somebody who left'}. The numbers on a card never change; issue a new one when the plan
      does.
      <a
        class="text-ink underline"
        href="/api/productions/{production}/cards/{card.id}/pdf"
        target="_blank">Print, A5 PDF</a
      >
    </p>
    {#if byLink}
      <a class="btn mt-2 min-h-11!" href="/crew">All cards</a>
    {:else}
      <BoardSheet {production} {card} editable={films} onsaved={(saved) => (card = saved)} />
      {#if films}
        <details class="border-line border-b py-2" data-testid="crew-link">
          <summary class="min-h-8 cursor-pointer py-1"
            ><b>On a phone</b>, without an account</summary
          >
          <p class="text-soft max-w-prose text-sm">
            Whoever has the link sees this card, ticks its list, logs takes and sends photographs of
            them, under a name they type; nothing else. Print the card afterwards, and the code
            stands on it.
          </p>
          <CrewLinks {production} card={card.id} />
        </details>
      {/if}
    {/if}

    {#each content.findings as finding (finding.title)}
      <p class="border-ink mt-3 flex gap-2 border-l-4 pl-3">
        <span class="pt-1"><VerdictMark verdict={finding.verdict} size={26} /></span>
        <span><b>{finding.title}:</b> {finding.sentence}</span>
      </p>
    {/each}

    <div class="mt-4 grid gap-x-8 gap-y-4 sm:grid-cols-2">
      {#each groups as group (group.name)}
        <section>
          <h2 class="border-ink border-b-2 text-sm font-semibold">{group.name}</h2>
          <dl>
            {#each group.lines as line (line.label)}
              <div class="border-line border-b py-1">
                <dt class="text-soft text-sm">{line.label}</dt>
                <dd class="flex flex-wrap items-baseline justify-between gap-x-3">
                  <span class={line.value.length > 14 ? 'text-xl font-bold' : 'text-3xl font-bold'}
                    >{line.value}</span
                  >
                  {#if line.detail}<span class="text-soft text-sm">{line.detail}</span>{/if}
                </dd>
              </div>
            {/each}
          </dl>
        </section>
      {/each}
    </div>

    {#if content.marks.length > 0}
      <section class="mt-5">
        <h2 class="border-ink border-b-2 text-sm font-semibold">Marks</h2>
        <!-- What does not fit a phone is reached with the arrow keys too. -->
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div class="overflow-x-auto" tabindex="0" role="group" aria-label="Marks, with tapes">
          <MarkTable marks={content.marks} large fixed={(content.fixed ?? []).map((p) => p.name)} />
        </div>
      </section>
    {/if}
    {#if (content.eyelines ?? []).length > 0}
      <section class="mt-5">
        <h2 class="border-ink border-b-2 text-sm font-semibold">Eyelines</h2>
        <ul>
          {#each content.eyelines ?? [] as line (line.stand_in_id)}
            <li class="border-line border-b py-1">
              <b>{line.name}</b> looks at {line.target}: mark
              <b class="text-lg">{length(line.height_m)}</b> up, {length(line.distance_m)} from the eyes.
            </li>
          {/each}
        </ul>
      </section>
    {/if}

    {#if card.pictured}
      <figure class="mt-5">
        <img
          src="/api/productions/{production}/cards/{card.id}/picture"
          alt="{content.plate}, as this plan films it"
          class="border-line w-full border"
          loading="lazy"
        />
        <figcaption class="text-soft text-sm">
          As this plan films it: developed in simulation before the card was issued.
        </figcaption>
      </figure>
    {/if}
    {#if content.elevation && content.plan}
      <section class="bg-card border-line mt-5 border" aria-label="Drawings, to scale">
        <StagePair
          elevation={content.elevation}
          plan={content.plan}
          name={content.plate}
          height={340}
        />
      </section>
    {/if}

    <section class="mt-5">
      <h2 class="border-ink border-b-2 text-sm font-semibold">Lock off</h2>
      {#if ticks?.problem}<p role="alert" class="font-semibold">{ticks.problem}</p>{/if}
      <ul>
        {#each content.checklist as item (item)}
          <li class="border-line border-b">
            <label class="flex min-h-11 items-center gap-3 py-1">
              <input
                type="checkbox"
                class="size-6 shrink-0"
                checked={ticks?.done(item) ?? false}
                disabled={!films}
                onchange={(event) => ticks?.tick(item, event.currentTarget.checked)}
              />
              <span>
                {item}
                {#if ticks?.by(item)}
                  {@const by = ticks.by(item)}
                  <span class="text-soft block text-sm">{by?.by}, {when(by?.at ?? '')}</span>
                {:else if ticks?.done(item)}
                  <span class="text-soft block text-sm">on this device so far</span>
                {/if}
              </span>
            </label>
          </li>
        {/each}
      </ul>
    </section>

    {#if (content.threads ?? []).length > 0}
      <section class="mt-5" aria-label="Continuity">
        <h2 class="border-ink border-b-2 text-sm font-semibold">Continuity</h2>
        <ul class="mt-1">
          {#each content.threads ?? [] as thread (thread.name)}
            <li>
              <b>{thread.name}</b>
              {thread.task}. <span class="text-soft">{thread.note}</span>
            </li>
          {/each}
        </ul>
      </section>
    {/if}
    <section class="mt-5" aria-label="Cautions">
      <h2 class="border-ink border-b-2 text-sm font-semibold">Cautions</h2>
      {#each content.cautions as hazard (hazard.key)}
        <div class="border-ink mt-2 border-2 p-2">
          <h3>{hazard.name}</h3>
          {#each hazard.cautions as caution (caution)}<p>{caution}</p>{/each}
          {#each hazard.read_by ?? [] as read (read.name)}
            <p class="text-soft text-sm">
              Read by {read.name}, {read.at.slice(0, 16).replace('T', ' ')} UTC
            </p>
          {/each}
        </div>
      {/each}
    </section>
    {#if content.note}
      <section class="mt-5">
        <h2 class="border-ink border-b-2 text-sm font-semibold">Note</h2>
        <p class="whitespace-pre-wrap">{content.note}</p>
      </section>
    {/if}

    <LogTake
      {production}
      {card}
      editable={films}
      {byLink}
      onlogged={(take) => {
        if (card) card = { ...card, takes: [take, ...card.takes] };
      }}
    />
  </main>
{:else}
  <p class="text-soft p-6">Loading</p>
{/if}
