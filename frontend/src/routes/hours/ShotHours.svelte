<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import { CUTS, hours, range } from '../../lib/kinds';
  import CautionList from '../../lib/ui/CautionList.svelte';
  import HoursBar from '../../lib/ui/HoursBar.svelte';
  import Rooms from '../../lib/ui/Rooms.svelte';
  import TopStrip from '../../lib/ui/TopStrip.svelte';
  import { route } from '../../router';
  import PaceLine from './PaceLine.svelte';

  const production = $derived(route.params.production ?? '');
  const shot = $derived(route.params.shot ?? '');
  let about = $state.raw<Schemas['ProductionOut'] | null>(null);
  let whole = $state.raw<Schemas['WholeShot'] | null>(null);
  let effort = $state.raw<Schemas['ShotHours'] | null>(null);
  let cautions = $state.raw<Schemas['Caution'][]>([]);
  let problem = $state('');
  let typed = $state<Record<string, string>>({});

  async function load(p: string, s: string) {
    const path = { params: { path: { production_id: p, shot_id: s } } };
    try {
      [about, whole, effort, cautions] = await Promise.all([
        ask(() =>
          api.GET('/api/productions/{production_id}', { params: { path: { production_id: p } } }),
        ),
        ask(() =>
          api.GET('/api/productions/{production_id}/shots/{pk}', {
            params: { path: { production_id: p, pk: s } },
          }),
        ),
        ask(() => api.GET('/api/productions/{production_id}/shots/{shot_id}/effort', path)),
        ask(() => api.GET('/api/productions/{production_id}/shots/{shot_id}/cautions', path)),
      ]);
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    if (production && shot) void load(production, shot);
  });

  const mayFilm = $derived(about !== null && about.role !== 'viewer');
  const full = $derived(
    Math.max(1, ...(effort?.parts ?? []).flatMap((p) => [p.set.high, p.post.high])),
  );
  const wayFull = (part: Schemas['PartOut']) =>
    Math.max(1, ...part.ways.flatMap((w) => [w.set.high + w.post.high]));
  const sum = (w: Schemas['WayOut']) => ({
    low: w.set.low + w.post.low,
    likely: w.set.likely + w.post.likely,
    high: w.set.high + w.post.high,
  });

  async function attempt(work: () => Promise<void>) {
    problem = '';
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    }
  }
  function log(plate_id: string | null, phase: 'set' | 'post', value: number | null) {
    void attempt(async () => {
      effort = await ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/hours', {
          params: { path: { production_id: production, shot_id: shot } },
          body: { plate_id, phase, hours: value },
        }),
      );
    });
  }
  function submit(event: SubmitEvent, part: Schemas['PartOut'], phase: 'set' | 'post') {
    event.preventDefault();
    const key = `${part.plate_id}.${phase}`;
    const value = Number((typed[key] ?? '').replace(',', '.').replace(/\s*h$/, ''));
    if (!Number.isFinite(value) || value <= 0) {
      problem = `“${typed[key]}” is no number of hours. Try 1.5.`;
      return;
    }
    typed[key] = '';
    log(part.plate_id, phase, value);
  }
  function read(key: string, name: string) {
    void attempt(async () => {
      cautions = await ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/cautions/{key}/read', {
          params: { path: { production_id: production, shot_id: shot, key } },
          body: { name },
        }),
      );
    });
  }
  const loggedOf = (part: Schemas['PartOut'], phase: string) =>
    part.logged.find((entry) => entry.phase === phase);
  const phasesOf = (part: Schemas['PartOut']) =>
    (part.plate_id ? ['set', 'post'] : ['post']) as ('set' | 'post')[];
</script>

<svelte:head><title>Hours and cautions · Jungoptic</title></svelte:head>
<TopStrip
  crumbs={about && whole
    ? [
        { name: about.name, href: `/productions/${production}` },
        {
          name: `${whole.shot.number} ${whole.shot.title}`,
          href: `/productions/${production}/shots/${shot}`,
        },
        { name: 'Hours and cautions' },
      ]
    : []}
>
  {#if shot}<Rooms {production} {shot} here="hours" />{/if}
</TopStrip>
<main class="grid gap-6 p-4 lg:grid-cols-[minmax(0,1fr)_24rem]">
  <section aria-label="Hours">
    <h1 class="text-xl">Hours</h1>
    {#if problem}<p role="alert" class="bg-well my-2 p-2 font-semibold">{problem}</p>{/if}
    {#if effort}
      <p data-testid="shot-hours">
        On set about <b>{range(effort.set)}</b>, in post about <b>{range(effort.post)}</b>.
      </p>
      {#each effort.pace as pace (pace.phase)}<PaceLine {pace} />{/each}
      {#if effort.parts.length === 0}
        <p class="text-soft mt-2">
          No plates yet: <a class="underline" href="/productions/{production}/shots/{shot}/method"
            >choose a method</a
          > and the hours follow.
        </p>
      {/if}
      <ul class="mt-2 grid gap-2">
        {#each effort.parts as part (part.plate_id ?? 'whole')}
          <li class="bg-card border-line border p-2" data-part={part.name}>
            <div class="flex flex-wrap items-center gap-x-4">
              <b class="grow"
                >{part.name}{#if part.stands_for}<span class="text-soft text-sm font-normal"
                    >, from the set-up of shot {part.stands_for}</span
                  >{/if}</b
              >
              {#if part.plate_id}<HoursBar label="set" value={part.set} {full} />{/if}
              <HoursBar label="post" value={part.post} {full} />
            </div>
            <details class="text-sm">
              <summary class="text-soft">how it adds up</summary>
              <table class="w-full">
                <tbody>
                  {#each part.lines as line, i (i)}
                    <tr class="border-line border-t">
                      <td>{line.name}</td>
                      <td class="text-soft">{line.phase}</td>
                      <td class="text-soft text-right"
                        >{Number(line.amount.toFixed(1))} × {line.unit}</td
                      >
                      <td class="text-right">{range(line.hours)}</td>
                    </tr>
                  {/each}
                </tbody>
              </table>
            </details>
            {#if part.ways.length > 0}
              <details class="text-sm">
                <summary class="text-soft">what if it were cut another way?</summary>
                <table class="mt-1 w-full">
                  <tbody>
                    {#each part.ways as way (way.cut)}
                      <tr class="border-line border-t" data-way={way.cut}>
                        <td>
                          {#if way.cut === part.cut}<b>{way.name}</b> (as planned){:else}{way.name}{/if}
                          <span class="text-soft block">{way.remark}</span>
                        </td>
                        <td><HoursBar label="all" value={sum(way)} full={wayFull(part)} /></td>
                        <td class="text-soft text-right"
                          >set {hours(way.set.likely)}, post {hours(way.post.likely)}</td
                        >
                      </tr>
                    {/each}
                  </tbody>
                </table>
                <p class="text-soft">
                  How a plate is cut ({CUTS.find((c) => c.value === part.cut)?.name ?? part.cut}) is
                  changed on its sheet on the Bench.
                </p>
              </details>
            {/if}
            <div class="mt-1 flex flex-wrap gap-3 text-sm">
              {#each phasesOf(part) as phase (phase)}
                {@const entry = loggedOf(part, phase)}
                {#if entry}
                  <span>
                    {phase} took <b>{hours(entry.hours)}</b> ({entry.by})
                    {#if mayFilm}
                      <button class="underline" onclick={() => log(part.plate_id, phase, null)}
                        >forget it</button
                      >
                    {/if}
                  </span>
                {:else if mayFilm}
                  <form
                    class="flex items-center gap-1"
                    onsubmit={(event) => submit(event, part, phase)}
                  >
                    <label class="text-soft flex items-center gap-1">
                      {phase} really took
                      <input
                        id="log-{part.plate_id}-{phase}"
                        class="field w-16!"
                        inputmode="decimal"
                        placeholder="h"
                        aria-label={`Hours that ${part.name} took, ${phase}`}
                        value={typed[`${part.plate_id}.${phase}`] ?? ''}
                        oninput={(event) =>
                          (typed[`${part.plate_id}.${phase}`] = event.currentTarget.value)}
                      />
                    </label>
                    <button class="btn" disabled={!typed[`${part.plate_id}.${phase}`]}>Log</button>
                  </form>
                {/if}
              {/each}
            </div>
          </li>
        {/each}
      </ul>
    {:else if !problem}<p class="text-soft">Loading</p>{/if}
  </section>
  <section aria-label="Cautions">
    <h2 class="text-xl">Cautions</h2>
    <p class="text-soft mb-2 text-sm">
      They come from the plates and their recipes, stand on every set card, and cannot be taken off.
      Local codes and licensed people decide.
    </p>
    <CautionList {cautions} onread={mayFilm ? read : undefined} />
    {#if cautions.length === 0 && effort}<p class="text-soft">No plates, no cautions yet.</p>{/if}
  </section>
</main>
