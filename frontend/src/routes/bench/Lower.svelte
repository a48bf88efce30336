<script lang="ts">
  import { Tabs } from 'bits-ui';
  import type { Schemas } from '../../lib/api/client';
  import StagePair from '../../lib/drawings/StagePair.svelte';
  import { closer, WHOLE } from '../../lib/drawings/zoom';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import LightPanel from './LightPanel.svelte';
  import MarksPanel from './MarksPanel.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import type { Planner } from './planner.svelte';
  import PicturePanel from './PicturePanel.svelte';
  import PlannerPanel from './PlannerPanel.svelte';
  import ScreenPanel from './ScreenPanel.svelte';
  import SetPanel from './SetPanel.svelte';
  import SunPanel from './SunPanel.svelte';
  import TapePanel from './TapePanel.svelte';
  import { TABS, type BenchView, type Tab } from './view.svelte';

  type Props = {
    bench: OpenShot;
    view: BenchView;
    planner: Planner;
    record: SavedRecord<Plate>;
  };
  let { bench, view, planner, record }: Props = $props();
  const answer = $derived(bench.answer);
  const scale = $derived(record.draft.scale ?? 1);
  /** How wide what lies over the stage's corner is, pixels. */
  let controls = $state(0);
  /** While something is dragged the tables keep what they said last. */
  let study = $state.raw<Schemas['Study'] | null>(null);
  $effect.pre(() => {
    if (answer?.study) study = answer.study;
  });
  const aspect = $derived(
    (bench.shot.draft.delivery_width_px ?? 1920) / (bench.shot.draft.delivery_height_px ?? 1080),
  );
</script>

{#snippet unbuilt()}
  {#if answer?.stage}
    <p class="text-soft p-4" aria-busy="true">Working it out.</p>
  {:else}
    {@render noKit()}
  {/if}
{/snippet}

{#snippet noKit()}
  <p class="text-soft max-w-prose p-4">
    The stage appears once this plate has a body, a mode and a lens: choose them on the right, or
    let the <button class="underline" onclick={() => (view.tab = 'planner')}>planner</button> search the
    kit.
  </p>
{/snippet}

<Tabs.Root
  value={view.tab}
  onValueChange={(tab) => (view.tab = tab as Tab)}
  class="flex min-h-0 grow flex-col"
>
  <div class="border-line flex items-center border-b">
    <Tabs.List class="flex flex-wrap" aria-label="What lies under the rail">
      {#each TABS as tab (tab.key)}
        <Tabs.Trigger
          value={tab.key}
          class="data-[state=active]:border-ink text-soft data-[state=active]:text-ink min-h-8 border-b-2 border-transparent px-2.5 text-sm data-[state=active]:font-semibold"
          >{tab.name}</Tabs.Trigger
        >
      {/each}
    </Tabs.List>
  </div>
  <Tabs.Content value="stage" class="min-h-64 grow overflow-hidden">
    {#if view.tab === 'stage'}
      {#if answer?.elevation && answer.plan}
        <section aria-label="Stage" class="relative h-[24rem] xl:h-full">
          <div
            class="bg-paper/85 absolute top-0 right-1 z-10 flex items-center"
            bind:clientWidth={controls}
          >
            {#if answer.light?.key !== null && answer.light}
              <label
                class="flex min-h-7 items-center gap-1 px-2 text-sm"
                title="Stops against the light at the action, on a meter at its height that faces the key"
              >
                <input type="checkbox" bind:checked={view.map} />
                Light map
              </label>
            {/if}
            {#if answer.elevation.room}
              <label class="flex min-h-7 items-center gap-1 px-2 text-sm">
                <input
                  type="checkbox"
                  checked={view.room}
                  onchange={() => {
                    view.room = !view.room;
                    view.stage = WHOLE;
                  }}
                />
                Whole room
              </label>
            {/if}
            <button
              class="min-h-7 min-w-7"
              aria-label="Stage farther"
              onclick={() => (view.stage = closer(view.stage, 1 / 1.5))}>−</button
            >
            <button
              class="min-h-7 min-w-7"
              aria-label="Stage closer"
              onclick={() => (view.stage = closer(view.stage, 1.5))}>+</button
            >
            <button
              class="min-h-7 px-2 text-sm underline disabled:no-underline disabled:opacity-50"
              aria-label="All of the stage"
              disabled={view.stage.k === 1}
              onclick={() => (view.stage = WHOLE)}>Whole</button
            >
          </div>
          <StagePair
            elevation={answer.elevation}
            plan={answer.plan}
            name={record.draft.name}
            selectedStandIn={bench.standIn}
            editable={bench.editable}
            onselect={(id) => (bench.standIn = id)}
            onmove={(id, right, away) => bench.drags.move(id, right * scale, away * scale)}
            ondrop={(id) => bench.drags.drop(id)}
            onaxis={(dv) => bench.drags.raise(dv)}
            onaxisdrop={() => bench.drags.raised()}
            onlamp={(lamp, right, away, up) => bench.drags.moveLamp(record, lamp, right, away, up)}
            onlampdrop={() => bench.drags.lampMoved(record)}
            look={view.stage}
            onlook={(look) => (view.stage = look)}
            showRoom={view.room}
            map={view.map ? answer.light_map : null}
            {controls}
          />
        </section>
      {:else if answer?.stage}
        <p class="text-soft p-4" aria-busy="true">Drawing the stage.</p>
      {:else}
        {@render noKit()}
      {/if}
    {/if}
  </Tabs.Content>
  <Tabs.Content value="picture" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'picture'}<PicturePanel {bench} {record} />{/if}
  </Tabs.Content>
  <Tabs.Content value="light" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'light'}<LightPanel {bench} {record} {study} />{/if}
  </Tabs.Content>
  <Tabs.Content value="sun" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'sun'}<SunPanel {bench} {record} />{/if}
  </Tabs.Content>
  <Tabs.Content value="screen" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'screen'}<ScreenPanel {bench} {record} {study} />{/if}
  </Tabs.Content>
  <Tabs.Content value="marks" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'marks'}
      {#if answer?.stage}<MarksPanel
          {bench}
          {record}
          {answer}
          {study}
        />{:else}{@render unbuilt()}{/if}
    {/if}
  </Tabs.Content>
  <Tabs.Content value="tape" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'tape'}
      {#if study && answer?.stage}<TapePanel
          {study}
          workings={answer.workings}
        />{:else}{@render unbuilt()}{/if}
    {/if}
  </Tabs.Content>
  <Tabs.Content value="set" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'set'}
      {#if study && answer?.stage}<SetPanel
          {study}
          workings={answer.workings}
          {aspect}
        />{:else}{@render unbuilt()}{/if}
    {/if}
  </Tabs.Content>
  <Tabs.Content value="planner" class="min-h-0 grow relative xl:overflow-y-auto">
    {#if view.tab === 'planner'}<PlannerPanel {bench} {planner} {record} />{/if}
  </Tabs.Content>
</Tabs.Root>
