<script lang="ts">
  import { say } from '../../lib/quantities';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';
  import SpeedKeys from '../../lib/shot/SpeedKeys.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import Section from './Section.svelte';

  type Props = { bench: OpenShot };
  let { bench }: Props = $props();
  const shot = $derived(bench.shot);
  const keys = $derived(shot.draft.story_speed_keys ?? []);
  const plain = $derived((shot.draft.story_speed ?? 1) === 1 && keys.length === 0);
</script>

<Section title="The story's time">
  <RecordNumber
    {bench}
    record={shot}
    field="story_speed"
    label="Runs at"
    hint="100 % is life; 50 % is slow motion"
    kind="percent"
  />
  {#if shot.problems.story_speed_keys}
    <p role="alert" class="text-sm font-semibold">{shot.problems.story_speed_keys}</p>
  {/if}
  <SpeedKeys
    {keys}
    frame={bench.report?.frame ?? 1}
    of="of life"
    none="One speed all through."
    editable={bench.editable}
    onchange={(made) => bench.change(shot, 'story_speed_keys', made, "The story's time")}
  />
  {#if !plain && bench.report}
    <p class="text-soft mt-1 text-sm" data-testid="story-time">
      {say(shot.draft.screen_time_s ?? 4, 'seconds')} on the screen show
      {say(bench.report.story_s, 'seconds')} of the story. What falls or moves by itself is filmed that
      much faster; what is pulled on a model is pulled slower.
    </p>
  {/if}
</Section>
