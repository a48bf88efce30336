<script lang="ts">
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { side, signed } from '../../lib/light';
  import { length, say } from '../../lib/quantities';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import AirTable from './AirTable.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import CuePanel from './CuePanel.svelte';
  import type { Plate } from '../../lib/shot/plan';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    study: Schemas['Study'] | null;
  };
  let { bench, record, study }: Props = $props();
  /** The panel is made anew for another plate; what it asks may come back after it is gone. */
  // svelte-ignore state_referenced_locally
  const plateId = record.id;
  const light = $derived(bench.answer?.light ?? null);
  const stage = $derived(bench.answer?.stage ?? null);
  const roles: Record<string, string> = {
    key: 'key',
    fill: 'fill',
    back: 'back light',
    screen: 'on the screen',
    practical: 'practical',
    played: 'played, on top',
  };
  const story = $derived(bench.shot.draft);
  let ways = $state.raw<Schemas['Proposal'][] | null>(null);
  let asking = $state(false);
  let problem = $state('');
  const about = (metres: number | null) => (metres === null ? '∞' : length(metres));

  async function propose() {
    asking = true;
    problem = '';
    try {
      const found = await ask(() =>
        api.POST('/api/calc/light-plate', { body: { ...bench.plan(), plate_id: plateId } }),
      );
      ways = found as Schemas['Proposal'][];
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem = error.message;
    } finally {
      asking = false;
    }
  }
</script>

<div class="p-3">
  <section aria-label="Lamps at the action" class="min-w-0">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h3>Light at the action</h3>
      {#if bench.editable && bench.kit.lamps.length > 0}
        <button class="btn tape min-h-7! py-0!" disabled={asking} onclick={propose}
          >{asking ? 'Trying places' : 'Light this plate'}</button
        >
      {/if}
    </div>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    {#if ways}
      <div class="border-ink my-1 border-l-2 pl-2" data-testid="light-proposals">
        {#if ways.length === 0}
          <p>Nothing stands here to be lit yet, or no lamp is free on that day.</p>
        {/if}
        {#each ways as way, i (i)}
          <div class="border-line border-b py-1 text-sm last:border-0" data-proposal={i + 1}>
            <div class="flex items-start gap-2">
              <VerdictMark verdict={way.verdict} />
              <div class="min-w-0 grow">
                {#each way.words as word (word)}<p>{word}</p>{/each}
                <p class="text-soft">
                  {way.holds} of {way.asked} rules of light hold{#if way.light}; {say(
                      way.light.lux,
                      'lux',
                    )} at the action{/if}.
                </p>
                {#each way.misses as miss (miss)}<p class="text-soft text-xs">{miss}</p>{/each}
              </div>
              <button
                class="btn tape min-h-7! shrink-0 py-0!"
                onclick={() => {
                  bench.decide(record, { lamps: way.lamps }, 'Light this plate');
                  ways = null;
                }}>Do this</button
              >
            </div>
          </div>
        {/each}
        <button class="text-sm underline" onclick={() => (ways = null)}>Leave it as it is</button>
      </div>
    {/if}
    {#if !light}
      <p class="text-soft max-w-prose">
        No lamp stands here yet. Place one under Light on the right, or let “Light this plate” find
        places for the lamps owned that give the story's light in this room.
      </p>
    {:else}
      <p class="text-sm">
        <b class="text-base">{say(light.lux, 'lux')}</b> on a flat meter that faces the key{#if light.room_lux >= 0.5},
          {say(light.room_lux, 'lux')} of it given back by the room{/if}{#if stage},
          {say(stage.lux_needed, 'lux')} needed for the story's key{/if}.
        {#if light.ratio_stops !== null}Key over fill <b>{signed(light.ratio_stops)}</b> stops.
        {:else}Nothing reaches the shadow side: no lamp fills it, and no room gives light back.{/if}
        Fall-off over the set
        <b>{light.falloff_stops === null ? '∞' : light.falloff_stops.toFixed(1)}</b>
        stops.
        {#if light.lights_off_stops !== null}Key off, {light.lights_off_stops.toFixed(1)} stops are missing:
          the lights-off pass keeps stop, shutter and ISO.{/if}
      </p>
      <table class="mt-1 w-full text-sm">
        <thead class="text-soft text-xs">
          <tr>
            <th class="text-left font-normal">Lamp</th>
            <th class="pl-2 text-right font-normal">Gives</th>
            <th class="pl-2 text-left font-normal">From</th>
            <th class="pl-2 text-right font-normal">Up</th>
            <th class="pl-2 text-right font-normal">Away</th>
            <th class="pl-2 text-right font-normal">Looks wide</th>
            <th class="pl-2 text-right font-normal">Its shadow*</th>
            <th class="pl-2 text-right font-normal">Soft edge</th>
            <th class="pl-2 text-right font-normal">Colour</th>
          </tr>
        </thead>
        <tbody>
          {#each light.lamps as lamp (lamp.number)}
            <tr class="border-line border-t">
              <th scope="row" class="text-left font-normal">
                {lamp.number + 1}. {lamp.name}
                <span class={lamp.role === 'key' ? 'font-bold' : 'text-soft'}
                  >{roles[lamp.role]}</span
                >
              </th>
              <td class="pl-2 text-right whitespace-nowrap">{say(lamp.face_lux, 'lux')}</td>
              <td class="pl-2">{side(lamp.from_deg)}</td>
              <td class="pl-2 text-right">{lamp.elevation_deg.toFixed(0)}°</td>
              <td class="pl-2 text-right whitespace-nowrap">{about(lamp.distance_m)}</td>
              <td class="pl-2 text-right whitespace-nowrap">{lamp.size_deg.toPrecision(2)}°</td>
              <td class="pl-2 text-right whitespace-nowrap"
                >{lamp.shadow_m === null ? '–' : length(lamp.shadow_m)}</td
              >
              <td class="pl-2 text-right whitespace-nowrap"
                >{lamp.penumbra_m === null ? '–' : length(lamp.penumbra_m)}</td
              >
              <td class="pl-2 text-right whitespace-nowrap">{say(lamp.temperature_k, 'kelvin')}</td>
            </tr>
          {/each}
          {#if story.key_from_deg !== null && story.key_from_deg !== undefined}
            <tr class="border-ink border-t">
              <th scope="row" class="text-left font-bold">the story's key</th>
              <td></td>
              <td class="pl-2">{side(story.key_from_deg)}</td>
              <td class="pl-2 text-right">{story.key_elevation_deg?.toFixed(0) ?? '?'}°</td>
              <td></td>
              <td class="pl-2 text-right">
                {#if story.key_size_deg}{story.key_size_deg.toPrecision(
                    2,
                  )}°{:else if story.key_kind === 'sun'}0.53°{:else}?{/if}
              </td>
              <td></td>
              <td></td>
              <td class="pl-2 text-right"
                >{story.key_temperature_k ? say(story.key_temperature_k, 'kelvin') : '?'}</td
              >
            </tr>
          {/if}
        </tbody>
      </table>
      <p class="text-soft text-xs">
        * on the ground, of the middle of the action, {length(Math.max(light.at_m[2] ?? 0, 0))} up; its
        soft edge beside it.
      </p>
    {/if}
    {#if study?.mains}
      {@const mains = study.mains}
      <h3 class="mt-3">Mains</h3>
      <ul class="grid gap-1 text-sm">
        {#each mains.circuits as circuit (circuit.number)}
          <li class="flex items-center gap-2">
            <span class="w-20 shrink-0">circuit {circuit.number}</span>
            <svg
              width="140"
              height="10"
              role="img"
              aria-label={`${circuit.amperes.toFixed(1)} of ${circuit.limit_a.toFixed(1)} A`}
            >
              <rect x=".5" y=".5" width="139" height="9" fill="none" stroke="var(--line)" />
              <rect
                width={Math.min((circuit.amperes / circuit.limit_a) * 140, 140)}
                height="10"
                fill={circuit.amperes > circuit.limit_a ? 'var(--breaks)' : 'var(--ink)'}
                fill-opacity=".7"
              />
            </svg>
            <span class="whitespace-nowrap"
              ><b>{circuit.amperes.toFixed(1)} A</b> of {circuit.limit_a.toFixed(1)} A{#if circuit.lamps.length}:
                {circuit.lamps.length === 1 ? 'lamp' : 'lamps'}
                {circuit.lamps.map((n) => n + 1).join(', ')}{/if}</span
            >
          </li>
        {/each}
      </ul>
      {#each mains.cautions as caution (caution)}<p class="text-soft text-xs">{caution}</p>{/each}
    {/if}
    {#if study && study.cut_outs.length > 0}
      <h3 class="mt-3">Cut-outs for shadows</h3>
      <p class="text-soft text-xs">
        Card cut to the performer's outline, stood on the set while its shadow is filmed or judged
      </p>
      <table class="w-full text-sm">
        <thead class="text-soft text-xs">
          <tr>
            <th class="text-left font-normal">For</th>
            <th class="pl-2 text-right font-normal">Tall</th>
            <th class="pl-2 text-right font-normal">Shoulders</th>
            <th class="pl-2 text-right font-normal">Stands ahead</th>
            <th class="pl-2 text-right font-normal">Aside</th>
            <th class="pl-2 text-right font-normal">Shadow</th>
            <th class="pl-2 text-right font-normal">Soft edge</th>
          </tr>
        </thead>
        <tbody>
          {#each study.cut_outs as cut (cut.stand_in_id)}
            <tr class="border-line border-t">
              <th scope="row" class="text-left font-normal">{cut.name}</th>
              <td class="pl-2 text-right font-bold whitespace-nowrap">{length(cut.height_m)}</td>
              <td class="pl-2 text-right whitespace-nowrap">{length(cut.width_m)}</td>
              <td class="pl-2 text-right whitespace-nowrap">{length(cut.y_m)}</td>
              <td class="pl-2 text-right whitespace-nowrap">{length(cut.x_m)}</td>
              <td class="pl-2 text-right whitespace-nowrap"
                >{cut.shadow_m === null ? '–' : length(cut.shadow_m)}</td
              >
              <td class="pl-2 text-right whitespace-nowrap"
                >{cut.soft_m === null ? '–' : length(cut.soft_m)}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  </section>
  <div class="mt-4 grid gap-5 lg:grid-cols-2">
    <CuePanel {bench} {record} />
    <AirTable {bench} smoke={study?.smoke ?? null} />
  </div>
</div>
