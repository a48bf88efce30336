<script lang="ts">
  import { dayInWords } from '../../lib/days';
  import { api, ask, type Schemas } from '../../lib/api/client';
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import { hours, range } from '../../lib/kinds';
  import CautionList from '../../lib/ui/CautionList.svelte';
  import HoursBar from '../../lib/ui/HoursBar.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { route } from '../../router';
  import AtTable from './AtTable.svelte';
  import PaceLine from './PaceLine.svelte';

  const production = $derived(route.params.production ?? '');
  let about = $state.raw<Schemas['ProductionOut'] | null>(null);
  let all = $state.raw<Schemas['HoursOut'] | null>(null);
  let days = $state.raw<Schemas['DayOut'][]>([]);
  let problem = $state('');
  let by = $state<'days' | 'shots' | 'recipes' | 'lockoffs' | 'animated' | 'table'>('days');

  async function load(id: string) {
    const path = { params: { path: { production_id: id } } };
    try {
      [about, all, days, held] = await Promise.all([
        ask(() => api.GET('/api/productions/{production_id}', path)),
        ask(() => api.GET('/api/productions/{production_id}/hours', path)),
        ask(() => api.GET('/api/productions/{production_id}/days', path)),
        ask(() => api.GET('/api/productions/{production_id}/lockoffs', path)),
      ]);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    if (production) void load(production);
  });

  let held = $state.raw<Schemas['HeldLockOff'][]>([]);
  const groups = $derived(
    by === 'days' || by === 'table' || by === 'animated'
      ? []
      : ((all?.[by] ?? []) as Schemas['Total'][]),
  );
  const full = $derived(Math.max(1, ...groups.flatMap((g) => [g.set.high, g.post.high])));
  const tabs = [
    { key: 'days', name: 'Days' },
    { key: 'shots', name: 'Shots' },
    { key: 'recipes', name: 'Recipes' },
    { key: 'lockoffs', name: 'Lock-offs' },
    { key: 'animated', name: 'Animated' },
    { key: 'table', name: 'The table' },
  ] as const;
  /** Where a working day of eight hours ends on the day's bar. */
  const DAY_H = 8;
  const dayFull = $derived(
    Math.max(DAY_H * 1.5, ...days.filter((d) => d.day).map((d) => d.set.high)),
  );
</script>

<svelte:head><title>Hours and days · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={[
    ...(about ? [{ name: about.name, href: `/productions/${production}` }] : []),
    { name: 'Hours and days' },
  ]}
>
  {#if production}<Rooms {production} here="hours" />{/if}
</TopStrip>
<main class="mx-auto max-w-5xl p-4">
  <h1 class="sr-only">Hours and days</h1>
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if all}
    <p class="text-lg" data-testid="whole-hours">
      {all.whole.plates} plates in {all.whole.shots} shots: about <b>{range(all.whole.set)}</b> on
      set and
      <b>{range(all.whole.post)}</b> in post.
    </p>
    {#each all.pace as pace (pace.phase)}<PaceLine {pace} />{/each}
    <div class="border-line mt-3 flex gap-4 border-b" role="tablist" aria-label="Totals by">
      {#each tabs as tab (tab.key)}
        <button
          role="tab"
          aria-selected={by === tab.key}
          class={[
            '-mb-px border-b-2 px-1 py-1',
            by === tab.key ? 'border-ochre font-semibold' : 'border-transparent',
          ]}
          onclick={() => (by = tab.key)}>{tab.name}</button
        >
      {/each}
    </div>
    {#if by === 'days'}
      {#if !days.some((d) => d.day)}
        <p class="text-soft mt-3 max-w-prose">
          No plate has a day of filming yet. Choose shots on the Board and give them a day; their
          hours and cautions gather here.
        </p>
      {/if}
      <ol class="mt-3 grid gap-3">
        {#each days as day (day.day ?? 'none')}
          <li class="bg-card border-line border p-3" data-day={day.day ?? 'none'}>
            <div class="flex flex-wrap items-baseline gap-3">
              <h2 class="text-lg">{day.day ? dayInWords(day.day) : 'No day yet'}</h2>
              {#if day.past}<span class="text-soft">past</span>{/if}
              <span class="ml-auto">set {range(day.set)}</span>
            </div>
            {#if day.day}
              <svg viewBox="0 0 600 16" class="mt-1 block w-full" aria-hidden="true">
                <path d="M0 8h600" stroke="var(--line)" />
                <path
                  d="M0 8H{(day.set.likely / dayFull) * 600}"
                  stroke="var(--ink)"
                  stroke-width="7"
                />
                <path
                  d="M{(day.set.likely / dayFull) * 600} 8H{(day.set.high / dayFull) * 600}"
                  stroke="var(--soft)"
                  stroke-width="3"
                />
                <path
                  d="M{(DAY_H / dayFull) * 600} 0v16"
                  stroke="var(--ochre)"
                  stroke-width="1.5"
                  stroke-dasharray="3 2"
                />
              </svg>
              <p class="text-soft text-xs">
                The dashed mark is a working day of {DAY_H} hours{day.set.likely > DAY_H
                  ? `: this is ${hours(day.set.likely - DAY_H)} more than one`
                  : ''}.
              </p>
            {/if}
            <ul class="mt-2 grid gap-x-6 sm:grid-cols-2">
              {#each day.plates as plate (plate.id)}
                <li class="flex items-center gap-2 text-sm">
                  <PlateSymbol kind={plate.kind} size={24} />
                  <a
                    class="min-w-0 grow truncate hover:underline"
                    href="/productions/{production}/shots/{plate.shot_id}"
                    >{plate.shot}: {plate.name}</a
                  >
                  {#if plate.lock_group}<span class="text-soft whitespace-nowrap"
                      >lock-off {plate.lock_group}{plate.stands_for
                        ? `, set up for shot ${plate.stands_for}`
                        : ''}</span
                    >{/if}
                  <span class="whitespace-nowrap">{hours(plate.set.likely)}</span>
                </li>
              {/each}
            </ul>
            {#each day.parted as apart (apart.plate_id)}
              <p class="mt-1 flex items-start gap-1.5 text-sm" data-testid="parted">
                <VerdictMark verdict={apart.verdict} />
                <span>{apart.shot}: {apart.sentence}</span>
              </p>
            {/each}
            <details class="mt-2" open={day.day !== null && !day.past}>
              <summary class="font-semibold">Cautions of the day ({day.cautions.length})</summary>
              <div class="mt-1"><CautionList cautions={day.cautions} /></div>
            </details>
          </li>
        {/each}
      </ol>
    {:else if by === 'animated'}
      <AtTable {production} />
    {:else if by === 'table'}
      <table class="mt-3 w-full text-sm">
        <caption class="text-soft text-left">
          Every default in one place; minutes per unit. All of it is judgement, and your logged
          hours pull it towards your own pace.
        </caption>
        <thead class="text-soft text-left">
          <tr
            ><th>work</th><th>where</th><th>per</th><th>low</th><th>likely</th><th>high</th><th
              >note</th
            ></tr
          >
        </thead>
        <tbody>
          {#each all.table as rate (rate.key)}
            <tr class="border-line border-t">
              <td>{rate.name}</td>
              <td class="text-soft">{rate.phase}</td>
              <td class="text-soft">{rate.unit}</td>
              <td>{Number(rate.low_min.toFixed(1))}</td>
              <td class="font-semibold">{Number(rate.likely_min.toFixed(1))}</td>
              <td>{Number(rate.high_min.toFixed(1))}</td>
              <td class="text-soft">{rate.note}</td>
            </tr>
          {/each}
        </tbody>
      </table>
      <table class="mt-4 w-full max-w-prose text-sm" data-testid="subjects">
        <caption class="text-soft text-left">
          Shapes drawn round what is cut out by hand, where nobody typed another number. Judgement.
        </caption>
        <thead class="text-soft text-left">
          <tr><th>what</th><th>shapes</th><th>which</th></tr>
        </thead>
        <tbody>
          {#each all.subjects as subject (subject.key)}
            <tr class="border-line border-t">
              <td>{subject.name}</td>
              <td class="font-semibold">{subject.shapes}</td>
              <td class="text-soft">{subject.note}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {:else}
      {#if by === 'lockoffs'}
        <p class="text-soft mt-3 max-w-prose">
          {groups.length > 0
            ? 'A set-up that stands once and serves all that is filmed from it, in one shot or in several: the first of them carries its hours.'
            : 'No plate is in a lock-off yet. Give two plates the same name in Lock-off, in one shot or in several; recipes that need one bring it along.'}
        </p>
      {/if}
      <ul class="mt-3">
        {#each groups as group (group.key)}
          <li class="border-line flex flex-wrap items-center gap-x-4 border-b py-1">
            <span class="min-w-0 grow truncate">
              {#if by === 'shots'}
                <a class="hover:underline" href="/productions/{production}/shots/{group.key}/hours"
                  >{group.name}</a
                >
              {:else}{group.name}{/if}
              {#if by === 'lockoffs'}
                <span class="block text-sm">
                  {#each held.find((one) => one.name === group.key)?.shots ?? [] as shot (shot.id)}
                    <a
                      class="mr-2 underline"
                      href="/productions/{production}/shots/{shot.id}/lockoff"
                      >{shot.number} {shot.title}</a
                    >{/each}
                </span>
              {/if}
              <span class="text-soft text-sm"
                >{group.plates} {group.plates === 1 ? 'plate' : 'plates'}</span
              >
            </span>
            <HoursBar label="set" value={group.set} {full} />
            <HoursBar label="post" value={group.post} {full} />
            <span class="text-soft w-28 text-right text-sm">
              {group.logged_set + group.logged_post > 0
                ? `${hours(group.logged_set + group.logged_post)} logged`
                : ''}
            </span>
          </li>
        {/each}
      </ul>
    {/if}
  {:else if !problem}<p class="text-soft">Loading</p>{/if}
</main>
