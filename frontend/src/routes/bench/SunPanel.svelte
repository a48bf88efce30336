<script lang="ts">
  import MatchStrip from '../../lib/drawings/MatchStrip.svelte';
  import SunCompass from '../../lib/drawings/SunCompass.svelte';
  import { clock, clockIn, dateIn, dayAfter } from '../../lib/days';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { degrees, minutes } from '../../lib/light';
  import { say } from '../../lib/quantities';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import { SkyDesk } from './sky.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate> };
  let { bench, record }: Props = $props();
  const open = $derived(
    bench.kit.rooms.filter(
      (r) => (r.height_m ?? null) === null && (r.latitude_deg ?? null) !== null,
    ),
  );
  const today = new Date().toISOString().slice(0, 10);
  // One desk for as long as the plate is open; what the plate decides is where it begins.
  // svelte-ignore state_referenced_locally
  const desk = new SkyDesk(
    bench,
    record.id,
    record.draft.film_on ?? today,
    open.find((r) => r.id === record.draft.room_id)?.id ?? open[0]?.id ?? null,
  );
  $effect(() => {
    if (bench.dragging) return;
    bench.question();
    void [desk.date, desk.days, desk.room, desk.under];
    const later = setTimeout(() => void desk.look(), 120);
    return () => clearTimeout(later);
  });
  const sky = $derived(desk.sky);
  const windows = $derived(sky?.windows ?? null);
  const ofDay = $derived(windows?.found.filter((w) => dayOf(w.start) === desk.date) ?? []);
  function dayOf(seconds: number) {
    return new Intl.DateTimeFormat('en-CA', { timeZone: sky?.time_zone ?? 'UTC' }).format(
      seconds * 1000,
    );
  }
  /** The longest windows first, one for each day. */
  const best = $derived.by(() => {
    const seen: Record<string, true> = {};
    return [...(windows?.found ?? [])]
      .sort((a, b) => b.end - b.start - (a.end - a.start))
      .filter((w) => {
        const day = dayOf(w.start);
        if (seen[day]) return false;
        seen[day] = true;
        return true;
      })
      .slice(0, 8)
      .sort((a, b) => a.start - b.start);
  });
  const now = $derived(ofDay[0] ?? null);
  const night = $derived(sky?.night ?? null);
  const spans = (list: readonly { start: number; end: number }[]) =>
    list.map((s) => `${clock(s.start, sky!.offset_s)}–${clock(s.end, sky!.offset_s)}`).join(', ') ||
    'none';
  const usable = $derived(sky?.day.lit.reduce((sum, s) => sum + (s.end - s.start) / 60, 0) ?? 0);
  const id = $props.id();
</script>

{#if open.length === 0}
  <p class="text-soft max-w-prose p-4">
    No open-air place with latitude and longitude yet. Give a yard or a field both in the
    <a class="underline" href="/productions/{bench.productionId}/kit">kit</a>, and the sun's way
    over it, its golden hours and the days that match this plate's light are found here.
  </p>
{:else}
  <div class="p-3">
    <div class="flex flex-wrap items-end gap-x-4 gap-y-1">
      <label class="text-sm" for="{id}-place">
        <span class="text-soft block">Place</span>
        <select id="{id}-place" class="field min-h-7! py-0.5!" bind:value={desk.room}>
          {#each open as room (room.id)}<option value={room.id}>{room.name}</option>{/each}
        </select>
      </label>
      <label class="text-sm" for="{id}-day">
        <span class="text-soft block">Day</span>
        <input id="{id}-day" class="field min-h-7! py-0.5!" type="date" bind:value={desk.date} />
      </label>
      <span class="flex gap-1">
        <button
          class="btn min-h-7! py-0!"
          aria-label="The day before"
          onclick={() => (desk.date = dayAfter(desk.date, -1))}>−</button
        >
        <button
          class="btn min-h-7! py-0!"
          aria-label="The day after"
          onclick={() => (desk.date = dayAfter(desk.date, 1))}>+</button
        >
      </span>
      <label class="text-sm" for="{id}-days">
        <span class="text-soft block">Look ahead</span>
        <select id="{id}-days" class="field min-h-7! py-0.5!" bind:value={desk.days}>
          {#each [[60, 'two months'], [120, 'four months'], [365, 'a year']] as const as [days, name] (days)}
            <option value={days}>{name}</option>
          {/each}
        </select>
      </label>
      {#if bench.editable && desk.date !== record.draft.film_on}
        <button
          class="btn tape min-h-7! py-0!"
          onclick={() => bench.change(record, 'film_on', desk.date, 'Day of filming')}
          >Film it on this day</button
        >
      {/if}
      {#if desk.asking}<span class="text-soft text-sm" role="status">Following the sun</span>{/if}
    </div>
    {#if desk.problem}<p role="alert" class="mt-2 font-semibold">{desk.problem}</p>{/if}
    {#if sky}
      <div class="mt-2 grid gap-4 lg:grid-cols-[15rem_minmax(0,1fr)]">
        <SunCompass
          path={sky.day.path}
          hours={sky.day.hours}
          skyline={sky.skyline}
          heading={now?.heading_deg ?? sky.fixed_deg ?? null}
          wanted={sky.looked_for_deg}
        />
        <div class="min-w-0 text-sm">
          <dl class="grid grid-cols-[auto_1fr] gap-x-3">
            <dt class="text-soft">Rises, sets</dt>
            <dd>
              {sky.day.rise === null ? 'not' : clock(sky.day.rise, sky.offset_s)}, {sky.day.set ===
              null
                ? 'not'
                : clock(sky.day.set, sky.offset_s)}; up to <b>{degrees(sky.day.highest_deg)}</b>
            </dd>
            <dt class="text-soft">Over the skyline</dt>
            <dd><b>{minutes(usable)}</b> ({spans(sky.day.lit)})</dd>
            <dt class="text-soft">Golden hours</dt>
            <dd>{spans(sky.day.golden)}</dd>
            <dt class="text-soft">Blue hours</dt>
            <dd>{spans(sky.day.blue)}</dd>
            {#if sky.looked_for_deg !== null}
              <dt class="text-soft">Matches the story</dt>
              <dd>
                {#if ofDay.length}
                  {#each ofDay as w, i (w.start)}
                    {i ? '; ' : ''}<b
                      >{clockIn(w.start, sky.time_zone)}–{clockIn(w.end, sky.time_zone)}</b
                    >, camera to
                    <b>{degrees(w.heading_deg)}</b>{#if Math.abs(w.turn_deg) >= 1}, turning {degrees(
                        Math.abs(w.turn_deg),
                      )} with it{/if}
                  {/each}
                {:else}not on this day{/if}
              </dd>
            {/if}
          </dl>
          {#if sky.looked_for_deg === null}
            <p class="mt-1">
              The story does not say how high its key stands: give it one under Light of the story,
              and the days that match are found.
            </p>
          {/if}
          {#if windows}
            <MatchStrip
              first={windows.first}
              strip={windows.strip}
              chosen={desk.date}
              onchoose={(date) => (desk.date = date)}
            />
            {#if best.length}
              <h3 class="mt-2">Longest windows: when, and where to point camera and model</h3>
              <ul>
                {#each best as w (w.start)}
                  <li class="border-line flex justify-between gap-2 border-t">
                    <button class="underline" onclick={() => (desk.date = dayOf(w.start))}
                      >{dateIn(w.start, sky.time_zone)}</button
                    >
                    <span
                      >{clockIn(w.start, sky.time_zone)}–{clockIn(w.end, sky.time_zone)},
                      {minutes((w.end - w.start) / 60)}, to {degrees(w.heading_deg)}</span
                    >
                  </li>
                {/each}
              </ul>
              <p class="mt-1">
                <a
                  class="underline"
                  href="/api/productions/{bench.productionId}/shots/{bench.shotId}/plates/{record.id}/windows.ics?date={desk.date}&days={desk.days}&room_id={sky.room_id}"
                  download>All windows as a calendar, .ics</a
                >
              </p>
            {/if}
            {#each windows.fails as fail (fail)}<p class="text-soft mt-1">{fail}</p>{/each}
          {/if}
        </div>
      </div>
      {#if night}
        <section class="border-line mt-3 border-t pt-2 text-sm" aria-label="Day for night">
          <h3>Day for night: the sun plays the moon</h3>
          <div class="grid gap-x-6 sm:grid-cols-2">
            <dl class="grid grid-cols-[auto_1fr] content-start gap-x-3">
              <dt class="text-soft">Moon stands</dt>
              <dd>
                {degrees(night.elevation_deg)} up, {night.back_light
                  ? 'behind the action'
                  : 'not behind the action'}
              </dd>
              <dt class="text-soft">Sun gives</dt>
              <dd>{say(night.sun_lux, 'lux')} under a clear sky</dd>
              <dt class="text-soft">White balance</dt>
              <dd>{say(night.white_k, 'kelvin')}, {night.mired.toFixed(0)} mired off daylight</dd>
              <dt class="text-soft">ND before the lens</dt>
              <dd>
                {#if night.nd_stops === null}the sun is down{:else}<b
                    >{say(Math.max(night.nd_stops, 0), 'stops')}</b
                  >{/if}
                in all, at this stop, shutter and ISO
              </dd>
              <dt class="text-soft">Sky in the frame</dt>
              <dd>
                <b>{(night.sky_share * 100).toFixed(0)} %</b>{#if night.sky_share > 0.001}; gone
                  when tilted down by {degrees(night.tilt_out_deg)}{/if}
              </dd>
              <dt class="text-soft"><label for="{id}-under">Under normal</label></dt>
              <dd>
                <input
                  id="{id}-under"
                  type="range"
                  min="0"
                  max="4"
                  step="0.5"
                  bind:value={desk.under}
                />
                {say(desk.under, 'stops')}
              </dd>
            </dl>
            <ul class="list-disc pl-5">
              {#each night.advice as word (word)}<li>{word}</li>{/each}
            </ul>
          </div>
        </section>
      {/if}
    {/if}
  </div>
{/if}
