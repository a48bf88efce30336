<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { say } from '../../lib/quantities';
  import SpeedKeys from '../../lib/shot/SpeedKeys.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import type { Tricks } from './tricks.svelte';

  type Beat = Schemas['BeatFields'];
  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    answer: Tricks | null;
    frame: number;
  };
  let { bench, record, answer, frame }: Props = $props();
  const beats = $derived(bench.shot.draft.beats ?? []);
  const sheet = $derived(answer?.beats ?? null);
  const ramp = $derived(record.draft.ramp ?? []);
  const lineOf = (id: string) => sheet?.beats.find((b) => b.beat_id === id) ?? null;
  let open = $state<string | null>(null);

  function change(id: string, changed: Partial<Beat>, label: string) {
    bench.change(
      bench.shot,
      'beats',
      beats.map((b) => (b.id === id ? { ...b, ...changed } : b)),
      label,
    );
  }
  function add() {
    const id = crypto.randomUUID();
    const made: Beat = {
      id,
      name: 'Something happens',
      frame,
      plate_id: record.id,
      with_id: null,
      gap: 0,
      allowed: 1,
      cue: false,
    };
    bench.change(bench.shot, 'beats', [...beats, made], 'Add a beat');
    open = id;
  }
  const whole = (text: string, low: number) => Math.max(Math.round(Number(text) || 0), low);
  const sorted = $derived([...beats].sort((a, b) => a.frame - b.frame));
  /** Where a frame lies across the drawing. */
  const across = (f: number) => ((f - 1) / Math.max(bench.frames - 1, 1)) * 396 + 2;
</script>

<section class="px-3 py-2" aria-label="Timing">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Timing</h2>
    {#if bench.editable}<button class="btn min-h-7! py-0!" onclick={add}
        >Beat at frame {frame}</button
      >{/if}
  </div>
  {#if beats.length === 0}
    <p class="text-soft text-sm">
      What has to happen when, across plates: thrown here, caught there; a hit, and the door moves.
      Tie a beat to another, say how many frames may be between them, and which are cued by a sound.
    </p>
  {:else}
    <svg
      viewBox="0 0 400 {18 * bench.plates.length + 16}"
      class="block w-full"
      role="img"
      aria-label="Beats by plate over the shot"
    >
      {#each bench.plates as plate, row (plate.id)}
        <path d="M0 {row * 18 + 10}H400" stroke="var(--line)" />
        <text x="0" y={row * 18 + 7} font-size="8" fill="var(--soft)">{plate.draft.name}</text>
      {/each}
      {#each sorted as beat (beat.id)}
        {@const row = bench.plates.findIndex((p) => p.id === beat.plate_id)}
        {@const x = across(beat.frame)}
        {@const other = beats.find((b) => b.id === beat.with_id)}
        {#if other}
          {@const y0 = bench.plates.findIndex((p) => p.id === other.plate_id) * 18 + 10}
          {@const x0 = across(other.frame)}
          <path
            d="M{x0} {y0}L{x} {row * 18 + 10}"
            stroke={lineOf(beat.id)?.holds === false ? 'var(--breaks)' : 'var(--ink)'}
            stroke-dasharray="3 2"
          />
        {/if}
        <circle cx={x} cy={row * 18 + 10} r="3.5" fill="var(--ochre)" stroke="var(--ink)" />
      {/each}
      <path d="M{across(frame)} 0V{18 * bench.plates.length + 2}" stroke="var(--ink)" />
      <text x="0" y={18 * bench.plates.length + 12} font-size="8" fill="var(--soft)">frame 1</text>
      <text
        x="400"
        y={18 * bench.plates.length + 12}
        font-size="8"
        fill="var(--soft)"
        text-anchor="end">frame {bench.frames}</text
      >
    </svg>
    <ul data-testid="beats">
      {#each sorted as beat (beat.id)}
        {@const told = lineOf(beat.id)}
        <li class="border-line border-t py-1">
          <div class="flex items-baseline gap-2">
            <button class="w-10 text-right underline" onclick={() => bench.show(beat.frame)}
              >{beat.frame}</button
            >
            <button
              class="grow text-left"
              aria-expanded={open === beat.id}
              onclick={() => (open = open === beat.id ? null : beat.id)}
              ><b>{beat.name}</b>
              <span class="text-soft text-sm"
                >{bench.plates.find((p) => p.id === beat.plate_id)?.draft.name ?? ''}</span
              ></button
            >
            {#if told && told.error !== null}<VerdictMark
                verdict={told.holds ? 'holds' : 'breaks'}
                size={15}
              />{/if}
          </div>
          {#if told}
            <p class="text-soft pl-12 text-sm">
              recorded frame {told.recorded_frame.toFixed(0)}, {say(told.set_s, 'seconds')} after the
              clap{told.cue ? ', cued' : ''}{told.error !== null
                ? `; ${told.error === 0 ? 'exactly' : `${Math.abs(told.error)} ${told.error > 0 ? 'late' : 'early'}`} for ${told.with_name}`
                : ''}
            </p>
          {/if}
          {#if open === beat.id && bench.editable}
            <div class="grid gap-1 pl-12">
              <label class="text-soft text-sm"
                >What happens
                <input
                  class="field"
                  value={beat.name}
                  maxlength="60"
                  onchange={(e) =>
                    e.currentTarget.value.trim() &&
                    change(beat.id, { name: e.currentTarget.value.trim() }, 'Name of a beat')}
                /></label
              >
              <div class="flex gap-2">
                <label class="text-soft text-sm"
                  >Frame
                  <input
                    class="field"
                    type="number"
                    min="1"
                    value={beat.frame}
                    onchange={(e) =>
                      change(
                        beat.id,
                        { frame: whole(e.currentTarget.value, 1) },
                        'Frame of a beat',
                      )}
                  /></label
                >
                <label class="text-soft grow text-sm"
                  >In
                  <select
                    class="field"
                    value={beat.plate_id ?? ''}
                    onchange={(e) =>
                      change(
                        beat.id,
                        { plate_id: e.currentTarget.value || null },
                        'Plate of a beat',
                      )}
                  >
                    <option value="">no plate</option>
                    {#each bench.plates as p (p.id)}<option value={p.id}>{p.draft.name}</option
                      >{/each}
                  </select></label
                >
              </div>
              <div class="flex gap-2">
                <label class="text-soft grow text-sm"
                  >Tied to
                  <select
                    class="field"
                    value={beat.with_id ?? ''}
                    onchange={(e) =>
                      change(beat.id, { with_id: e.currentTarget.value || null }, 'Tie a beat')}
                  >
                    <option value="">nothing</option>
                    {#each beats.filter((b) => b.id !== beat.id) as b (b.id)}<option value={b.id}
                        >{b.name}</option
                      >{/each}
                  </select></label
                >
                <label class="text-soft w-20 text-sm"
                  >after, frames
                  <input
                    class="field"
                    type="number"
                    value={beat.gap ?? 0}
                    onchange={(e) =>
                      change(beat.id, { gap: whole(e.currentTarget.value, -10000) }, 'Gap')}
                  /></label
                >
                <label class="text-soft w-20 text-sm"
                  >give or take
                  <input
                    class="field"
                    type="number"
                    min="0"
                    value={beat.allowed ?? 1}
                    onchange={(e) =>
                      change(beat.id, { allowed: whole(e.currentTarget.value, 0) }, 'Allowed')}
                  /></label
                >
              </div>
              <div class="flex justify-between">
                <label class="flex items-center gap-2 text-sm"
                  ><input
                    type="checkbox"
                    checked={beat.cue ?? false}
                    onchange={(e) => change(beat.id, { cue: e.currentTarget.checked }, 'Cue')}
                  /> a sound cues it</label
                >
                <button
                  class="text-soft text-sm underline"
                  onclick={() =>
                    bench.change(
                      bench.shot,
                      'beats',
                      beats
                        .filter((b) => b.id !== beat.id)
                        .map((b) => (b.with_id === beat.id ? { ...b, with_id: null } : b)),
                      'Remove a beat',
                    )}>remove</button
                >
              </div>
            </div>
          {/if}
        </li>
      {/each}
    </ul>
    {#if bench.shot.problems.beats}<p role="alert" class="font-semibold">
        {bench.shot.problems.beats}
      </p>{/if}
  {/if}
</section>

{#if sheet && sheet.cues.length > 0}
  <section class="border-line border-t px-3 py-2" aria-label="Sound cues">
    <h3>Sound from another device</h3>
    <table class="w-full text-sm">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Cue</th><th class="text-right font-normal"
            >after the clap</th
          ><th class="text-right font-normal">plays at</th></tr
        ></thead
      >
      <tbody>
        {#each sheet.cues as cue (cue.beat_id)}
          <tr class="border-line border-t"
            ><td>{cue.name}</td><td class="text-right">{say(cue.set_s, 'seconds')}</td><td
              class="text-right">{(cue.speed * 100).toFixed(0)} % speed</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
    <ul class="mt-1 list-disc pl-5 text-sm">
      {#each sheet.advice as line, i (i)}<li>{line}</li>{/each}
    </ul>
  </section>
{/if}

<section class="border-line border-t px-3 py-2" aria-label="Ramp">
  <h3>Ramp of {record.draft.name}</h3>
  <SpeedKeys
    keys={ramp}
    {frame}
    of="of its speed"
    none="It plays at its own speed all through."
    editable={bench.editable}
    onchange={(made) => bench.change(record, 'ramp', made, 'Ramp')}
  />
  {#each sheet?.recorded ?? [] as [plate, frames, seconds] (plate)}
    {#if plate === record.id}
      <p class="text-soft mt-1 text-sm">
        {frames.toFixed(0)} frames are recorded for it, {say(seconds, 'seconds')} on set.
      </p>
    {/if}
  {/each}
</section>
