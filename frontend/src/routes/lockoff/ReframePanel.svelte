<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Tricks } from './tricks.svelte';

  type Reframe = Schemas['ReframeFields'];
  type Props = { bench: OpenShot; answer: Tricks | null; frame: number };
  let { bench, answer, frame }: Props = $props();
  const reframe = $derived(bench.shot.draft.reframe ?? null);
  const keys = $derived([...(reframe?.keys ?? [])].sort((a, b) => (a.frame ?? 1) - (b.frame ?? 1)));
  const plan = $derived(answer?.reframe ?? null);
  const SHAPES: Schemas['AspectFields'][] = [
    { name: 'Upright, 9:16', width_px: 1080, height_px: 1920 },
    { name: 'Square', width_px: 1080, height_px: 1080 },
    { name: 'Upright, 4:5', width_px: 1080, height_px: 1350 },
    { name: 'Wide, 16:9', width_px: 1920, height_px: 1080 },
  ];
  function live(changed: Partial<Reframe>) {
    bench.live(bench.shot, 'reframe', { ...reframe, ...changed } as Reframe);
  }
  const commit = (label: string) => bench.commit(bench.shot, label);
  function change(changed: Partial<Reframe>, label: string) {
    live(changed);
    commit(label);
  }
  function liveKey(index: number, part: 'x' | 'y' | 'closer' | 'shake_px', value: number) {
    live({ keys: keys.map((k, i) => (i === index ? { ...k, [part]: value } : k)) });
  }
  const percent = (part: number) => `${(part * 100).toFixed(0)} %`;
</script>

<section class="px-3 py-2" aria-label="Reframe first">
  <div class="flex items-baseline justify-between">
    <h2 class="text-lg">Reframe first</h2>
    {#if bench.editable}
      {#if reframe}<button
          class="btn min-h-7! py-0!"
          onclick={() => bench.change(bench.shot, 'reframe', null, 'No reframe')}>No reframe</button
        >{:else}<button
          class="btn min-h-7! py-0!"
          onclick={() =>
            bench.change(
              bench.shot,
              'reframe',
              {
                aspects: [],
                keys: [{ frame: 1, x: 0.5, y: 0.5, closer: 1, shake_px: 0 }],
                shake_px: 0,
              },
              'Reframe',
            )}>Cut the picture</button
        >{/if}
    {/if}
  </div>
  {#if !reframe}
    <p class="text-soft text-sm">
      Push in, upright versions, shake: decided now, before anything is masked, they tell which part
      of the picture nobody will ever see.
    </p>
  {:else}
    <label class="text-soft grid text-sm">
      Deliver it in another shape as well
      <select
        class="field"
        value=""
        disabled={!bench.editable}
        onchange={(event) => {
          const shape = SHAPES[Number(event.currentTarget.value)];
          event.currentTarget.value = '';
          if (shape)
            change({ aspects: [...(reframe.aspects ?? []), shape] }, `Deliver ${shape.name}`);
        }}
      >
        <option value="">choose a shape</option>
        {#each SHAPES as shape, i (shape.name)}<option value={i}
            >{shape.name}, {shape.width_px} × {shape.height_px}</option
          >{/each}
      </select>
    </label>
    <NumberField
      label="Shake all through"
      hint="put on afterwards, each side"
      kind="pixels"
      value={reframe.shake_px ?? 0}
      disabled={!bench.editable}
      onlive={(v) => live({ shake_px: Math.max(v ?? 0, 0) })}
      oncommit={() => commit('Shake')}
    />
    {#if bench.shot.problems.reframe}<p role="alert" class="font-semibold">
        {bench.shot.problems.reframe}
      </p>{/if}
    <div class="mt-1 flex items-baseline justify-between">
      <h3>Keys</h3>
      {#if bench.editable}<button
          class="btn min-h-7! py-0!"
          disabled={keys.some((k) => (k.frame ?? 1) === frame)}
          onclick={() =>
            change(
              {
                keys: [
                  ...keys,
                  {
                    frame,
                    x: 0.5,
                    y: 0.5,
                    closer: keys[keys.length - 1]?.closer ?? 1,
                    shake_px: 0,
                  },
                ],
              },
              'Key of the reframe',
            )}>Key at frame {frame}</button
        >{/if}
    </div>
    {#each keys as key, i (key.frame)}
      <div class="border-line border-t pt-1">
        <div class="flex justify-between text-sm">
          <button class="underline" onclick={() => bench.show(key.frame ?? 1)}
            >frame {key.frame}</button
          >
          {#if bench.editable && keys.length > 1}<button
              class="text-soft underline"
              aria-label={`Remove the key at frame ${key.frame}`}
              onclick={() => change({ keys: keys.filter((k) => k !== key) }, 'Remove a key')}
              >remove</button
            >{/if}
        </div>
        <NumberField
          label="Times closer"
          kind="plain"
          value={key.closer ?? 1}
          disabled={!bench.editable}
          onlive={(v) => liveKey(i, 'closer', Math.max(v ?? 1, 1))}
          oncommit={() => commit('Push in')}
        />
        <NumberField
          label="Middle, across"
          kind="percent"
          value={key.x ?? 0.5}
          disabled={!bench.editable}
          onlive={(v) => liveKey(i, 'x', Math.min(Math.max(v ?? 0.5, 0), 1))}
          oncommit={() => commit('Reframe')}
        />
        <NumberField
          label="Middle, down"
          kind="percent"
          value={key.y ?? 0.5}
          disabled={!bench.editable}
          onlive={(v) => liveKey(i, 'y', Math.min(Math.max(v ?? 0.5, 0), 1))}
          oncommit={() => commit('Reframe')}
        />
        <NumberField
          label="Shake here"
          hint="each side"
          kind="pixels"
          value={key.shake_px ?? 0}
          disabled={!bench.editable}
          onlive={(v) => liveKey(i, 'shake_px', Math.max(v ?? 0, 0))}
          oncommit={() => commit('Shake')}
        />
      </div>
    {/each}
  {/if}
</section>

{#if plan}
  <section class="border-line border-t px-3 py-2" aria-label="What is left">
    <p data-testid="reframe-saved">
      <b>{percent(plan.saved)}</b> of the picture is in no shape: nothing there needs a mask.
    </p>
    <table class="w-full text-sm" data-testid="cuts">
      <thead class="text-soft text-xs"
        ><tr
          ><th class="text-left font-normal">Shape</th><th class="text-right font-normal"
            >cut at its closest</th
          ><th class="text-right font-normal">of what it wants</th><th
            class="text-right font-normal">line saved</th
          ><th></th></tr
        ></thead
      >
      <tbody>
        {#each plan.cuts as cut, i (i)}
          <tr class="border-line border-t"
            ><td>{cut.name}</td><td class="text-right">{cut.across_px.toFixed(0)} px</td><td
              class="text-right">{percent(cut.share)}</td
            ><td class="text-right"
              >{cut.line_saved.length ? percent(cut.line_saved[0]?.[1] ?? 0) : ''}</td
            ><td class="text-right"
              >{#if i > 0 && bench.editable}<button
                  class="text-soft underline"
                  aria-label={`Do not deliver ${cut.name}`}
                  onclick={() =>
                    change(
                      { aspects: (reframe?.aspects ?? []).filter((_, j) => j !== i - 1) },
                      `No ${cut.name}`,
                    )}>remove</button
                >{/if}</td
            ></tr
          >
          {#if cut.lost.length}<tr
              ><td colspan="5" class="text-sm">{cut.lost.join(', ')}: not in it at all.</td></tr
            >{/if}
        {/each}
      </tbody>
    </table>
    <p class="text-soft mt-1 text-xs">
      Of the delivered picture's pixels; what this plate records for each of them is counted in its
      finding.
    </p>
  </section>
{/if}
