<script lang="ts">
  import FindingList from '../../lib/shot/FindingList.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import { goneBySays } from '../pictures/board';
  import StoodTable from '../pictures/StoodTable.svelte';
  import { marksLack, offPx } from './picked';
  import type { PickedRoom } from './room.svelte';

  let { room }: { room: PickedRoom } = $props();
  const marks = $derived(room.marks);
  const by = $derived(room.byMarks);
  const high = $derived(room.picture?.facts?.height_px ?? 1);
  const findings = $derived(
    (room.desk.whole?.findings ?? []).filter((one) => one.key.startsWith('marks-')),
  );
  /** Those of the plan that were not picked yet. */
  const left = $derived(
    room.offered.filter((one) => !marks.some((mark) => mark.name === one.name)),
  );
  const TAPES = [
    {
      key: 'right_m',
      label: 'To the right of it',
      hint: 'seen from the camera; minus: to the left',
    },
    { key: 'ahead_m', label: 'Ahead of it', hint: 'away from the camera; minus: nearer' },
    { key: 'up_m', label: 'Above the floor', hint: '' },
  ] as const;
</script>

<section aria-label="Marks" data-testid="marks">
  <p class="text-soft text-sm">
    Pick places whose tapes you know, and the picture says where its camera stood: where no board
    was held up. Tape each from {room.mark ? `the mark of ${room.mark}` : 'one mark on the floor'},
    along any straight line away from the camera and square to it. Marks far apart, at several
    heights and distances, say most.
  </p>
  {#if room.picture && !room.picture.take_id && !room.picture.plate_id}
    <p class="mt-1 text-sm font-semibold">
      This picture hangs on no take and no plate: nobody knows how wide its camera saw, and marks
      say nothing yet.
    </p>
  {/if}
  {#if room.editable}
    <div class="my-2 flex flex-wrap gap-1">
      <button
        class={['btn', room.armed === 'mark' && !room.armedFor && 'btn-main']}
        aria-pressed={room.armed === 'mark' && !room.armedFor}
        onclick={() => room.arm('mark')}
        disabled={room.draft !== null}>Pick a place you taped</button
      >
    </div>
    {#if left.length > 0}
      <ChoiceField
        label="or one of the plan, on its mark"
        value={room.armedFor?.name ?? null}
        empty="none"
        options={left.map((one) => ({ value: one.name, name: one.name }))}
        disabled={room.draft !== null}
        onchange={(name) => room.armOffered(left.find((one) => one.name === name) ?? null)}
      />
    {/if}
    <p class="min-h-6 text-sm font-semibold" role="status">
      {room.armed
        ? `Now press on ${room.armedFor?.name ?? 'it'} in the picture.`
        : room.draft
          ? ''
          : marksLack(marks.length)}
    </p>
  {/if}
  {#if room.draft}
    {@const draft = room.draft}
    <fieldset class="border-ochre my-2 border-2 p-2" data-testid="draft">
      <legend class="px-1 font-semibold">Mark {marks.length + 1}: its tapes</legend>
      <TextField
        label="Name"
        value={draft.name}
        onlive={(name) => room.tell({ name })}
        oncommit={() => room.keep()}
      />
      {#each TAPES as tape (tape.key)}
        <NumberField
          label={tape.label}
          hint={tape.hint}
          kind="length"
          nullable
          value={draft[tape.key]}
          onlive={(value) => room.tell({ [tape.key]: value })}
          oncommit={() => room.keep()}
        />
      {/each}
      <button class="btn mt-1" onclick={() => room.giveUp()}>Leave it</button>
    </fieldset>
  {/if}
  <ol class="mt-1">
    {#each marks as mark, n (n)}
      {@const off = offPx(by, marks, n, high)}
      <li class="border-line border-t py-1" data-testid="mark">
        <details>
          <summary class="flex gap-2">
            <b class="w-5 text-right tabular-nums">{n + 1}</b>
            <span class="min-w-0 flex-1 truncate">{mark.name}</span>
            {#if off !== null}
              <span class="text-soft tabular-nums">off by {off.toFixed(1)} px</span>
            {/if}
          </summary>
          <div class="pl-7">
            <TextField
              label="Name"
              value={mark.name}
              disabled={!room.editable}
              onlive={(name) => room.change(n, { name })}
              oncommit={() => void room.saveMarks(`the name of mark ${n + 1}`)}
            />
            {#each TAPES as tape (tape.key)}
              <NumberField
                label={tape.label}
                kind="length"
                value={mark[tape.key]}
                disabled={!room.editable}
                onlive={(value) => value !== null && room.change(n, { [tape.key]: value })}
                oncommit={() => void room.saveMarks(`the tapes of mark ${n + 1}`)}
              />
            {/each}
            {#if room.editable}
              <button class="text-soft underline" onclick={() => void room.dropMark(n)}
                >Remove it</button
              >
            {/if}
          </div>
        </details>
      </li>
    {/each}
  </ol>
  {#if room.busy}
    <p role="status" class="text-soft mt-2">Working out where the camera stood</p>
  {:else if by && marks.length > 0}
    {#if by.stood && by.places.length === marks.length}
      <h3 class="mt-3">Where the camera stood</h3>
      <StoodTable stood={by.stood} />
      <p class="text-soft text-sm">{goneBySays(by, 'marks')}</p>
      {#if findings.length === 0 && by.suspect}
        <p class="font-semibold">
          “{by.suspect}” lies {by.suspect_px.toFixed(0)} px from where the others put it: tape or pick
          it again.
        </p>
      {/if}
    {:else if by.problem && marks.length >= 4}
      <p role="alert" class="mt-2 font-semibold">Nothing yet: {by.problem}</p>
    {/if}
    {#if findings.length > 0}
      <h3 class="mt-3">Against the plan</h3>
      <FindingList {findings} />
    {/if}
  {/if}
</section>
