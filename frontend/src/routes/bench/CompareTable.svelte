<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { status } from '../../lib/edit/status.svelte';
  import { length, say } from '../../lib/quantities';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { Developing, SMALL_PX, type Change } from '../../lib/shot/developing.svelte';
  import DevelopedPicture from '../../lib/shot/DevelopedPicture.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import type { Planner } from './planner.svelte';

  type Props = { bench: OpenShot; planner: Planner; record: SavedRecord<Plate> };
  let { bench, planner, record }: Props = $props();
  type Answer = Schemas['PlateAnswer'];
  const ways = $derived(planner.compared);
  const answers = $derived(planner.answers.length === ways.length ? planner.answers : []);
  const sharp = (a: Answer) =>
    a.stage
      ? `${length(a.stage.depth_near_m)} to ${a.stage.depth_far_m === null ? '∞' : length(a.stage.depth_far_m)}`
      : '';
  const departure = (a: Answer) => {
    const found = a.findings.find((f) => f.key === 'mismatch')?.workings?.[0]?.result.value;
    return found === undefined || found === null ? '' : `${found.toFixed(1)} px`;
  };
  const rows: { name: string; of: (a: Answer, i: number) => string }[] = [
    {
      name: 'Pixels left across',
      of: (a) => (a.stage ? say(a.stage.pixels_across, 'pixels') : ''),
    },
    { name: 'Stop', of: (_, i) => say(ways[i]!.f_number, 'stop') },
    { name: 'Focus passes', of: (_, i) => String(ways[i]!.passes) },
    { name: 'Sharp', of: sharp },
    { name: 'Scale', of: (_, i) => say(ways[i]!.scale, 'scale') },
    { name: 'Capture rate', of: (a) => (a.stage ? say(a.stage.capture_fps, 'rate') : '') },
    { name: 'ISO', of: (_, i) => say(ways[i]!.iso, 'iso') },
    { name: 'Light needed', of: (a) => (a.stage ? say(a.stage.lux_needed, 'lux') : '') },
    { name: 'Lens axis', of: (a) => (a.stage ? length(a.stage.axis_m) : '') },
    { name: 'Departure', of: departure },
    {
      name: 'Does not hold',
      of: (a) =>
        a.findings
          .filter((f) => f.verdict !== 'holds')
          .map((f) => f.title.toLowerCase())
          .join(', ') || 'everything holds',
    },
  ];
  const dashes = ['9 3', '3 3', '12 3 3 3'];

  // svelte-ignore state_referenced_locally
  const desk = new Developing(bench, false);
  desk.watch();
  const changes = $derived(ways.map((way): Change => ({ changes: way.changes })));
  const lacking = $derived(changes.filter((one) => !desk.shown(record.id, bench.frame, one)));
  async function develop() {
    for (const one of lacking) await desk.develop(record.id, bench.frame, SMALL_PX, one);
  }
</script>

<section aria-label="Side by side" class="mt-3">
  <h3>Side by side</h3>
  <div class="overflow-x-auto">
    <table class="w-full text-sm" data-testid="compared">
      <thead>
        <tr>
          <th class="text-soft text-left text-xs font-normal">
            <span class="sr-only">Number</span>
          </th>
          {#each ways as way, i (i)}
            <th class="pl-3 text-left align-top">
              <svg width="46" height="6" aria-hidden="true">
                <path
                  d="M0 3h46"
                  stroke="var(--ink)"
                  stroke-width="2"
                  stroke-dasharray={dashes[i]}
                />
              </svg>
              <span class="flex items-center gap-1">
                {#if answers[i]}<VerdictMark verdict={answers[i].verdict} />{/if}
                {way.lens}
              </span>
              <span class="text-soft font-normal">{way.mode}</span>
            </th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each rows as row (row.name)}
          <tr class="border-line border-t align-top">
            <th scope="row" class="text-soft text-left font-normal">{row.name}</th>
            {#each answers as answer, i (i)}
              <td class="pl-3 font-semibold">{row.of(answer, i)}</td>
            {/each}
          </tr>
        {/each}
        <tr class="border-line border-t align-top">
          <th scope="row" class="text-soft text-left font-normal">
            <button
              class="btn mt-1 min-h-7! py-0!"
              title="What the simulated camera makes of each, at frame {bench.frame}"
              disabled={desk.missing !== '' ||
                status.unsaved ||
                lacking.every((one) => desk.work(record.id, one).open)}
              onclick={() => void develop()}>Develop them</button
            >
          </th>
          {#each ways as way, i (i)}
            <td class="pt-1 pl-3">
              <DevelopedPicture
                {desk}
                plate={record.id}
                frame={bench.frame}
                change={changes[i]}
                name="{way.lens}, {way.mode}"
                class="border-line max-h-48 w-full max-w-72 border object-contain"
              />
            </td>
          {/each}
        </tr>
        <tr>
          <td></td>
          {#each ways as way, i (i)}
            <td class="pt-1 pl-3">
              {#if bench.editable && Object.keys(way.changes).length > 0}
                <button
                  class="btn tape min-h-7! py-0!"
                  onclick={() => bench.decide(record, way.changes, 'Planner')}>Do this</button
                >
              {/if}
              <button class="text-sm underline" onclick={() => void planner.toggle(way)}
                >Take away</button
              >
            </td>
          {/each}
        </tr>
      </tbody>
    </table>
  </div>
</section>
