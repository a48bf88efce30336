<script lang="ts">
  import { api, ask, Failure } from '../../lib/api/client';
  import JobLine from '../../lib/jobs/JobLine.svelte';
  import { LongWork } from '../../lib/jobs/long-work.svelte';
  import { watched } from '../../lib/jobs/watched.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import { besideOf } from './beside';
  import type { SheetDesk } from './desk.svelte';
  import Small from './Small.svelte';

  let { desk }: { desk: SheetDesk } = $props();
  const editable = $derived(desk.bench.editable);
  const reference = $derived(desk.reference);
  const { productionId, shotId } = $derived(desk.bench);
  const pk = $derived(reference?.picture_id ?? null);
  let clips = $state.raw<{ value: string; name: string }[] | null>(null);
  let problem = $state('');
  let open = $state(false);
  $effect(() => {
    if (!open && !pk) return;
    ask(() =>
      api.GET('/api/productions/{production_id}/shots/{shot_id}/pictures', {
        params: { path: { production_id: productionId, shot_id: shotId } },
      }),
    )
      .then((page) => {
        problem = '';
        clips = page.pictures
          .filter((one) => !one.put_away && !one.elsewhere && (one.facts?.frames ?? 1) > 1)
          .map((one) => ({ value: one.id, name: one.name }));
      })
      .catch((error: unknown) => {
        if (!(error instanceof Failure)) throw error;
        problem = error.message;
      });
  });
  /** One that hangs elsewhere now, or lies in the bin, is still what was chosen. */
  const options = $derived.by(() => {
    const known = clips ?? [];
    const lost = pk !== null && clips !== null && !known.some((one) => one.value === pk);
    return lost ? [...known, { value: pk, name: 'One that is not in this shot any more' }] : known;
  });
  const work = $derived.by(
    watched(() => {
      // Another clip is other work.
      void pk;
      return new LongWork(productionId, 'strip', () => void desk.seeBeside());
    }),
  );
  const row = $derived(desk.choice?.first ?? 1);
  const fps = $derived(desk.answer?.fps ?? 24);
  const frame = $derived(
    desk.strip && reference ? besideOf(desk.strip, reference.at ?? 1, row, fps) : null,
  );
</script>

<details
  class="border-line border-t p-3"
  open={pk !== null}
  ontoggle={(event) => (open = event.currentTarget.open)}
>
  <summary><h2 class="inline text-base">Beside the rows</h2></summary>
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if clips?.length === 0 && !pk}
    <p class="text-soft text-sm">
      Film the performance with a phone, sound and all, and drop the clip in
      <a class="underline" href="/productions/{productionId}/shots/{shotId}/pictures">Pictures</a>:
      its frames then stand beside the rows, with how loud it is.
    </p>
  {:else}
    <ChoiceField
      label="A clip, or pictures in a row"
      value={pk}
      {options}
      empty="None"
      disabled={!editable}
      onchange={(id) =>
        desk.refer(
          id ? { picture_id: id, at: reference?.at ?? 1 } : null,
          'What stands beside the rows',
        )}
    />
  {/if}
  {#if reference}
    <label class="mt-1 flex items-center justify-between gap-2"
      ><span>Its first frame stands at row</span>
      <input
        type="number"
        class="field w-24!"
        step="1"
        min="-100000"
        max="100000"
        value={reference.at ?? 1}
        disabled={!editable}
        onchange={(event) => {
          const at = event.currentTarget.valueAsNumber;
          if (Number.isInteger(at) && Math.abs(at) <= 100_000)
            desk.refer({ ...reference, at }, 'Where what stands beside begins');
          else event.currentTarget.value = String(reference.at ?? 1);
        }}
      /></label
    >
    <p class="text-soft text-xs">0 or less: it began before the sheet does.</p>
    {#if desk.strip}
      {#if frame !== null}
        <div class="mt-2 h-44 max-w-full overflow-hidden" data-testid="beside">
          <Small
            strip={desk.strip}
            {frame}
            src={(sheet) => desk.stripSheet(sheet)}
            label="Frame {frame} of what stands beside row {row}"
          />
        </div>
        <p class="text-sm tabular-nums">row {row}: its frame {frame.toLocaleString()}</p>
      {:else}
        <p class="text-soft mt-1 text-sm">Nothing of it stands beside row {row}.</p>
      {/if}
    {:else if desk.stripProblem}
      <p role="alert" class="mt-2 flex flex-wrap items-center gap-2">
        {desk.stripProblem}
        <button class="btn" onclick={() => void desk.seeBeside()}>Look again</button>
      </p>
    {:else if desk.lacksStrip && editable}
      <button
        class="btn btn-main mt-2"
        disabled={work.open}
        onclick={() => void work.ask({ picture_id: pk })}>Make its small pictures</button
      >
      {#if work.open || work.problem || work.job?.state === 'failed'}<JobLine {work} />{/if}
    {:else if desk.lacksStrip}
      <p class="text-soft text-sm">Its small pictures were not made yet.</p>
    {/if}
  {/if}
</details>
