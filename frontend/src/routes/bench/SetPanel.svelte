<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import { length, share } from '../../lib/quantities';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';

  type Props = {
    study: Schemas['Study'];
    workings: Record<string, Schemas['Working']>;
    aspect: number;
  };
  let { study, workings, aspect }: Props = $props();
  const cover = $derived(study.cover);
  /** Bold where something that is there to fill the frame does not. */
  const short = (s: Schemas['Surface'], needed: number, there: number) =>
    s.backs && needed > there + 0.0005 ? 'font-bold' : '';
  /** Where the frame is bare, drawn as four halves of it: the darker, the more is bare. */
  const halves = $derived([
    { name: 'left', value: cover.bare_left, d: 'M0 0H6V100H0z' },
    { name: 'right', value: cover.bare_right, d: 'M94 0h6V100h-6z' },
    { name: 'above', value: cover.bare_top, d: 'M0 0H100V10H0z' },
    { name: 'below', value: cover.bare_bottom, d: 'M0 90H100v10H0z' },
  ]);
  const detail = (mm: number) => length(mm / 1000);
</script>

<div class="grid gap-4 p-3 lg:grid-cols-2">
  <section aria-label="Set coverage" class="min-w-0">
    <h3>How large the set must be <WorkingCard workings={[workings['cover']!]} /></h3>
    {#if !cover.drawn}
      <p>{cover.advice}</p>
    {:else if cover.surfaces.length === 0}
      <p class="text-soft">No upright part of a set stands here yet: add a box or a card.</p>
    {:else}
      <table class="w-full text-sm">
        <caption class="text-soft text-left text-xs">
          What the frame takes in at each distance, with the whole move and the padding; bold where
          a backing is smaller
        </caption>
        <thead class="text-soft text-xs">
          <tr>
            <th class="text-left font-normal">What</th>
            <th class="text-right font-normal">At</th>
            <th class="pl-2 text-right font-normal">Frame takes in</th>
            <th class="pl-2 text-right font-normal">There</th>
            <th class="pl-2 text-right font-normal">Fills</th>
          </tr>
        </thead>
        <tbody>
          {#each cover.surfaces as s, i (i)}
            <tr class="border-line border-t">
              <th scope="row" class="text-left font-normal">{s.name}</th>
              <td class="text-right whitespace-nowrap">{length(s.distance_m)}</td>
              <td class="pl-2 text-right whitespace-nowrap">
                <span class={short(s, s.needed_width_m, s.width_m)}>{length(s.needed_width_m)}</span
                >
                ×
                <span class={short(s, s.needed_height_m, s.height_m)}
                  >{length(s.needed_height_m)}</span
                >
              </td>
              <td class="pl-2 text-right whitespace-nowrap"
                >{length(s.width_m)} × {length(s.height_m)}</td
              >
              <td class="pl-2 text-right whitespace-nowrap">{share(s.share)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    {#if cover.drawn}
      <div class="mt-2 flex items-center gap-3">
        <svg
          viewBox="0 0 100 100"
          preserveAspectRatio="none"
          width={Math.min(120, 52 * aspect)}
          height="52"
          role="img"
          aria-label={`Bare: ${share(cover.bare)} of the frame`}
        >
          <rect
            width="100"
            height="100"
            fill="none"
            stroke="var(--ink)"
            vector-effect="non-scaling-stroke"
          />
          {#each halves as half (half.name)}
            <path d={half.d} fill="var(--ink)" fill-opacity={Math.min(half.value, 1)}>
              <title>{half.name}: {share(half.value)} bare</title>
            </path>
          {/each}
        </svg>
        <p class="min-w-0 text-sm">
          <b>{share(cover.bare)}</b> of the frame shows neither set nor screen (left {share(
            cover.bare_left,
          )}, right {share(cover.bare_right)}, above {share(cover.bare_top)}, below {share(
            cover.bare_bottom,
          )}). {cover.advice}
        </p>
      </div>
    {/if}
  </section>
  <section aria-label="Detail budget" class="min-w-0">
    <h3>How finely to build <WorkingCard workings={[workings['details']!]} /></h3>
    {#if study.details.length === 0}
      <p class="text-soft">Nothing stands here yet.</p>
    {:else}
      <table class="w-full text-sm">
        <thead class="text-soft text-xs">
          <tr>
            <th class="text-left font-normal">What</th>
            <th class="text-right font-normal">One pixel is</th>
            <th class="pl-2 text-right font-normal">Blurred over</th>
            <th class="pl-2 text-right font-normal">Smallest detail</th>
            <th class="pl-2 text-left font-normal">Never seen</th>
          </tr>
        </thead>
        <tbody>
          {#each study.details as d (d.stand_in_id)}
            <tr class="border-line border-t">
              <th scope="row" class="text-left font-normal">{d.name}</th>
              <td class="text-right whitespace-nowrap">{detail(d.pixel_mm)}</td>
              <td class="pl-2 text-right whitespace-nowrap">{d.blur_px.toFixed(1)} px</td>
              <td class="pl-2 text-right font-bold whitespace-nowrap">{detail(d.smallest_mm)}</td>
              <td class="text-soft pl-2 text-xs">
                {d.in_frame === 0 ? 'out of the picture' : d.unseen.join(', ')}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  </section>
</div>
