<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import { dayInWords } from '../../lib/days';
  import { hours, range } from '../../lib/kinds';

  /** Everything that is animated: blocks, pace, what is left, what building it again costs. */
  let { production }: { production: string } = $props();
  let tables = $state.raw<Schemas['AtTable'][] | null>(null);
  let problem = $state('');
  $effect(() => {
    const params = { path: { production_id: production } };
    problem = '';
    ask(() => api.GET('/api/productions/{production_id}/at-table', { params }))
      .then((told) => (tables = told))
      .catch((error: Error) => (problem = error.message));
  });
  const left = $derived((tables ?? []).reduce((sum, table) => sum + table.progress.hours_left, 0));
  const rebuild = $derived(tables?.[0]?.rebuild ?? null);
  /** The farthest that the bars go: all that a plate takes, in hours. */
  const spent = (table: Schemas['AtTable']) => table.days.reduce((sum, day) => sum + day.hours, 0);
  const full = $derived(
    Math.max(1, ...(tables ?? []).map((table) => spent(table) + table.progress.hours_left)),
  );
</script>

{#if problem}
  <p role="alert" class="mt-3 font-semibold">{problem}</p>
{:else if !tables}
  <p role="status" class="mt-3">Counting pictures…</p>
{:else if tables.length === 0}
  <p class="text-soft mt-3 max-w-prose">
    Nothing is animated yet. A puppet's plate stands here as soon as a shot has one, with the days
    it took and the days it still takes.
  </p>
{:else}
  <p class="mt-3">
    About <b>{hours(left)}</b> at the table are left for
    {tables.length === 1 ? 'one plate' : `${tables.length} plates`}.
    {#if rebuild}<span class="text-soft"
        >Building a set again costs {range(rebuild)}: every block more is one.</span
      >{/if}
  </p>
  <ul class="mt-2 grid gap-3">
    {#each tables as table (table.plate_id)}
      {@const done = spent(table)}
      {@const p = table.progress}
      <li class="bg-card border-line border p-3" data-table={table.plate}>
        <div class="flex flex-wrap items-baseline gap-x-3">
          <h2 class="text-lg">
            <a
              class="hover:underline"
              href="/productions/{production}/shots/{table.shot_id}/frames?plate={table.plate_id}"
              >{table.shot}: {table.plate}</a
            >
          </h2>
          <span class="ml-auto">{table.taken} of {table.pictures} pictures taken</span>
        </div>
        <svg viewBox="0 0 600 14" class="mt-1 block w-full" aria-hidden="true">
          <path d="M0 7h600" stroke="var(--line)" />
          <path d="M0 7H{(done / full) * 600}" stroke="var(--ink)" stroke-width="7" />
          <path
            d="M{(done / full) * 600} 7h{(p.hours_left / full) * 600}"
            stroke="var(--soft)"
            stroke-width="3"
          />
        </svg>
        <p>
          {#if p.pictures_left === 0}
            All of it stands, in {hours(done)}.
          {:else}
            {done > 0 ? `${hours(done)} at work` : 'Nobody has begun'}; {p.pictures_left}
            {p.pictures_left === 1 ? 'picture is' : 'pictures are'} left, about
            <b>{hours(p.hours_left)}</b>
            {p.measured
              ? `at the ${p.pictures_per_h.toFixed(1)} pictures an hour measured here`
              : `at the usual ${p.pictures_per_h.toFixed(0)} pictures an hour`}{#if p.done_on}:
              {p.days_left}
              {p.days_left === 1 ? 'day' : 'days'} more, as the days have come so far done on
              <b>{dayInWords(p.done_on)}</b>{/if}.
          {/if}
        </p>
        {#if table.trouble}<p role="alert">
            Its sheet cannot be computed, and the usual hold counts: {table.trouble}
          </p>{/if}
        {#if table.blocks.length || table.days.length}
          <div class="mt-1 grid gap-x-6 text-sm sm:grid-cols-2">
            {#if table.blocks.length}
              <table>
                <caption class="text-soft text-left text-xs">Blocks</caption>
                <tbody>
                  {#each table.blocks as block, i (i)}
                    <tr class="border-line border-t"
                      ><th scope="row" class="text-left font-normal">{block.name}</th><td
                        class="text-right"
                        >{dayInWords(block.begun)}{block.ended && block.ended !== block.begun
                          ? ` to ${dayInWords(block.ended)}`
                          : ''}</td
                      ><td class="pl-2 text-right whitespace-nowrap">{block.pictures} pictures</td
                      ></tr
                    >
                  {/each}
                </tbody>
              </table>
            {/if}
            {#if table.days.length}
              <table>
                <caption class="text-soft text-left text-xs">Days at the table</caption>
                <tbody>
                  {#each table.days as day, i (i)}
                    <tr class="border-line border-t"
                      ><th scope="row" class="text-left font-normal">{dayInWords(day.day)}</th><td
                        class="text-right whitespace-nowrap"
                        >{day.by_hand ? 'frames' : 'pictures'} {day.first} to {day.last}</td
                      ><td class="pl-2 text-right whitespace-nowrap">{hours(day.hours)}</td></tr
                    >
                  {/each}
                </tbody>
              </table>
            {/if}
          </div>
        {/if}
      </li>
    {/each}
  </ul>
{/if}
