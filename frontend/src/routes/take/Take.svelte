<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import { SavedRecord } from '../../lib/edit/record.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { route } from '../../router';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';
  import { filledBy, READINGS, type Take } from './readings';
  import TakePictures from './TakePictures.svelte';

  const production = $derived(route.params.production ?? '');
  const pk = $derived(route.params.take ?? '');
  let page = $state.raw<Schemas['TakePage'] | null>(null);
  let record = $state.raw<SavedRecord<Take> | null>(null);
  let editable = $state(false);
  let problem = $state('');

  const path = $derived({ path: { production_id: production, pk } });

  async function refresh() {
    page = await ask(() =>
      api.GET('/api/productions/{production_id}/takes/{pk}', { params: path }),
    );
    return page;
  }

  /** A file was read: it may have filled readings in. What is being typed stays. */
  async function reread() {
    record?.renew((await refresh()).take);
  }

  async function load() {
    problem = '';
    try {
      const found = await refresh();
      const about = await ask(() =>
        api.GET('/api/productions/{production_id}', {
          params: { path: { production_id: production } },
        }),
      );
      editable = about.role !== 'viewer';
      record = new SavedRecord<Take>(found.take, async (revision, changes) => {
        const saved = await ask(() =>
          api.PATCH('/api/productions/{production_id}/takes/{pk}', {
            params: path,
            body: { revision, ...changes },
          }),
        );
        await refresh();
        return saved;
      });
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    // While the address changes, the parameters pass through an empty moment.
    if (production && pk) void load();
  });
  $effect(() => {
    const shown = record;
    return () => shown?.dispose();
  });
</script>

<svelte:head><title>Take {page?.take.number ?? ''} · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={page
    ? [
        { name: `Shot ${page.shot}`, href: `/productions/${production}/shots/${page.shot_id}` },
        { name: page.take.slate, href: `/productions/${production}/cards/${page.take.card_id}` },
        { name: `take ${page.take.number}` },
      ]
    : []}
>
  <SavedMark />
</TopStrip>
{#if problem}
  <p role="alert" class="p-6 font-semibold">{problem}</p>
{:else if page && record}
  {@const take = record}
  <main class="mx-auto max-w-4xl p-3 sm:p-5">
    <h1 class="text-2xl">{page.plate}: {page.take.slate}, take {page.take.number}</h1>
    <p class="text-soft text-sm">
      Logged {new Date(page.take.created_at).toLocaleString()} by {page.take.logged_by ??
        'somebody'}, held against the card as it was issued.
    </p>
    <section
      aria-label="Verdict"
      data-verdict={page.report.verdict}
      class="border-ink bg-card mt-3 flex items-center gap-4 border-l-8 p-4"
    >
      <VerdictMark verdict={page.report.verdict} size={56} />
      <p class="text-xl font-semibold">{page.report.advice}</p>
    </section>

    <section class="mt-5">
      <h2 class="text-lg">What each departure costs alone</h2>
      {#if page.report.departures.length === 0}
        <p class="text-soft">Everything as planned.</p>
      {:else}
        <div class="overflow-x-auto">
          <table class="mt-1 w-full min-w-[34rem]">
            <thead class="text-soft text-left text-sm">
              <tr>
                <th class="font-normal">Reading</th>
                <th class="text-right font-normal">Planned</th>
                <th class="text-right font-normal">Filmed</th>
                <th class="pl-4 font-normal">Cost</th>
              </tr>
            </thead>
            <tbody>
              {#each page.report.departures as row (row.name)}
                <tr class="border-line border-t align-top">
                  <th scope="row" class="py-1 text-left font-normal whitespace-nowrap"
                    >{row.name}</th
                  >
                  <td class="text-soft py-1 pl-4 text-right whitespace-nowrap">{row.planned}</td>
                  <td class="py-1 pl-4 text-right font-bold whitespace-nowrap">{row.actual}</td>
                  <td class="py-1 pl-4">
                    <span class="flex gap-2">
                      <span class="pt-1"><VerdictMark verdict={row.verdict} size={18} /></span>
                      {row.cost}
                    </span>
                  </td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
    </section>

    <section class="mt-5">
      <h2 class="text-lg">All together</h2>
      <ul>
        {#each page.report.findings as finding (finding.key)}
          <li class="border-line flex gap-3 border-t py-1.5" data-finding={finding.key}>
            <span class="pt-1"><VerdictMark verdict={finding.verdict} size={26} /></span>
            <div class="grow">
              <h3 class="flex justify-between">
                {finding.title}
                {#if finding.workings.length > 0}<WorkingCard workings={finding.workings} />{/if}
              </h3>
              <p>{finding.sentence}</p>
            </div>
          </li>
        {/each}
      </ul>
    </section>

    <TakePictures
      {production}
      take={page.take}
      {editable}
      shot={page.shot_id}
      onread={() => void reread()}
    />

    <section class="mt-5 max-w-md" aria-label="Readings">
      <h2 class="text-lg">Correct a reading</h2>
      {#each READINGS as reading (reading.field)}
        <NumberField
          label={reading.label}
          hint={page.take.from_file.includes(reading.field) ? filledBy(reading.field) : ''}
          kind={reading.kind}
          nullable
          disabled={!editable}
          value={take.draft[reading.field] ?? null}
          derived={page.planned[reading.field]}
          problem={take.problems[reading.field]}
          onlive={(value) => take.set(reading.field, value)}
          oncommit={() => void take.commit()}
        />
      {/each}
      <NumberField
        label="Number of the take"
        kind="plain"
        disabled={!editable}
        value={take.draft.number}
        problem={take.problems['number']}
        onlive={(value) => take.set('number', value ?? take.stored.number)}
        oncommit={() => void take.commit()}
      />
      <TextField
        label="Note"
        rows={2}
        value={take.draft.note ?? ''}
        problem={take.problems['note']}
        disabled={!editable}
        onlive={(value) => take.set('note', value)}
        oncommit={() => void take.commit()}
      />
      <label class="mt-2 flex items-center gap-2">
        <input
          type="checkbox"
          class="size-5"
          disabled={!editable}
          checked={take.draft.circled ?? false}
          onchange={(event) => {
            take.set('circled', event.currentTarget.checked);
            void take.commit();
          }}
        />
        Circled
      </label>
      {#if take.problems['']}<p role="alert" class="font-semibold">{take.problems['']}</p>{/if}
    </section>
  </main>
  <ClashDialog record={take} name="this take" />
{:else}
  <p class="text-soft p-6">Loading</p>
{/if}
