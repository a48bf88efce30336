<script lang="ts">
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { clockIn } from '../../lib/days';
  import { say } from '../../lib/quantities';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import LockField from '../../lib/shot/LockField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import ElsewherePanel from './ElsewherePanel.svelte';
  import type { Tricks } from './tricks.svelte';

  type Props = { bench: OpenShot; record: SavedRecord<Plate>; answer: Tricks | null };
  let { bench, record, answer }: Props = $props();
  const name = (id: string) => bench.plates.find((p) => p.id === id)?.draft.name ?? 'a plate';
  const group = $derived(answer?.groups.find((g) => g.plate_ids.includes(record.id)) ?? null);
  const filmed = $derived([
    ...(group?.filmed_ids ?? []).map(name),
    ...(group?.beside_filmed ?? []),
  ]);
  const clean = $derived(answer?.clean ?? null);
  const PASSES: { value: NonNullable<Plate['pass_for']>; name: string }[] = [
    { value: '', name: 'the picture itself, or empty' },
    { value: 'focus', name: 'at a focus of its own' },
    { value: 'light', name: 'in a light of its own' },
  ];
  /** What passes of this lock-off keep to themselves. */
  const own = $derived(
    [
      bench.plates.some((p) => group?.plate_ids.includes(p.id) && p.draft.pass_for === 'focus')
        ? 'each focus pass has its own focus'
        : '',
      bench.plates.some((p) => group?.plate_ids.includes(p.id) && p.draft.pass_for === 'light')
        ? 'each light pass its own lamps'
        : '',
    ]
      .filter(Boolean)
      .join(', '),
  );
  const zone = $derived(
    bench.kit.rooms.find((r) => r.id === record.draft.room_id)?.time_zone ?? 'UTC',
  );
</script>

<section class="px-3 py-2" aria-label="Lock-off">
  <h2 class="text-lg">Lock-off</h2>
  <LockField {bench} {record} label="Its name: plates with the same name share it" />
  <ChoiceField
    label="This pass is"
    value={record.draft.pass_for ?? ''}
    options={PASSES}
    problem={record.problems.pass_for}
    disabled={!bench.editable}
    onchange={(value) => {
      bench.alone(record, 'pass_for', (value ?? '') as NonNullable<Plate['pass_for']>);
      bench.commitAll([record], 'What the pass is for');
    }}
  />
  {#if group}
    <p class="mt-1">
      {#if group.plate_ids.length > 1}
        Camera, lens, focus, stop, time, white balance and place are one decision for
        <b>{group.plate_ids.map(name).join(', ')}</b>: changed on one, they change on all{own
          ? `, but ${own}`
          : ''}.
      {:else}
        In this shot only <b>{group.plate_ids.map(name).join(', ')}</b> is filmed from it.
      {/if}
    </p>
    {#if filmed.length > 0}
      <p class="bg-well mt-1 p-1.5">
        {filmed.join(', ')}
        {filmed.length === 1 ? 'is' : 'are'} filmed: a change here orphans those takes.
      </p>
    {/if}
    <ElsewherePanel {bench} {record} />
    {#if group.differences.length > 0}
      <table class="mt-1 w-full text-sm">
        <thead class="text-soft text-xs"
          ><tr
            ><th class="text-left font-normal">Departs</th><th class="text-left font-normal">in</th
            ><th class="text-right font-normal">has</th><th class="text-right font-normal"
              >the others</th
            ></tr
          ></thead
        >
        <tbody>
          {#each group.differences as d (d.plate_id + d.field)}
            <tr class="border-line border-t"
              ><td>{name(d.plate_id)}</td><td>{d.name}</td><td class="text-right">{d.mine}</td><td
                class="text-right">{d.theirs}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  {:else}
    <p class="text-soft mt-1 text-sm">
      This plate stands alone. Give two plates the same name here, in this shot or in another, and
      they are filmed from one set-up.
    </p>
  {/if}
</section>

{#if answer}
  <section class="border-line border-t px-3 py-2" aria-label="Checklist">
    <h3>Before the slate</h3>
    <ol class="text-sm" data-testid="lock-checklist">
      {#each answer.checklist as item, i (i)}
        <li class="border-line flex items-baseline gap-2 border-t py-0.5">
          <span class="text-soft w-5 shrink-0 text-right">{i + 1}</span>
          <span class="grow">{item.what}</span>
          {#if item.value}<b class="max-w-[55%] text-right">{item.value}</b>{/if}
        </li>
      {/each}
    </ol>
    {#if answer.drift}
      <p class="mt-1 text-sm" data-testid="sun-drift">
        About {clockIn(answer.drift.around, zone)} the sun leaves
        <b>{answer.drift.minutes.toFixed(0)} min</b>
        before it has changed {answer.drift.by}; {answer.drift.worst_min.toFixed(0)} to
        {answer.drift.best_min.toFixed(0)} min over the day.
      </p>
    {/if}
  </section>
{/if}

{#if clean}
  <section class="border-line border-t px-3 py-2" aria-label="Clean plate">
    <h3>Clean plate</h3>
    <p>
      Roll <b data-testid="clean-seconds">{say(clean.seconds, 'seconds')}</b>: {clean.frames.toLocaleString(
        'en',
      )} frames averaged are <b>{clean.gain.toFixed(0)} times</b> quieter ({clean.left_stops.toFixed(
        1,
      )} stops); ten times is enough for grain to be put back, and takes {say(
        clean.enough_s,
        'seconds',
      )}.
    </p>
    <p class="text-sm">
      {clean.tiles[0] * clean.tiles[1] === 1
        ? 'One tile'
        : `${clean.tiles[0]} × ${clean.tiles[1]} tiles`}{clean.places === 1
        ? '.'
        : ` from each of ${clean.places} places.`}
      {clean.tiles_why}
    </p>
    <ul class="mt-1 list-disc pl-5 text-sm">
      {#each clean.order as line, i (i)}<li>{line}</li>{/each}
    </ul>
    <h4 class="text-soft mt-1 text-sm">Stills to take with it</h4>
    <ul class="list-disc pl-5 text-sm">
      {#each clean.stills as line, i (i)}<li>{line}</li>{/each}
    </ul>
  </section>
{/if}
