<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import MarkTable from '../../lib/drawings/MarkTable.svelte';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { length, say } from '../../lib/quantities';
  import WorkingCard from '../../lib/ui/WorkingCard.svelte';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';
  import RecordNumber from '../../lib/shot/RecordNumber.svelte';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    answer: Schemas['PlateAnswer'];
    study: Schemas['Study'] | null;
  };
  let { bench, record, answer, study }: Props = $props();
  const ends = $derived(study ? [study.fixed[0]!, study.fixed[1]!] : []);
  const turned = (degrees: number) =>
    Math.abs(degrees) < 0.5
      ? 'straight away from the camera'
      : `${say(Math.abs(degrees), 'degrees')} to the ${degrees > 0 ? 'right' : 'left'}`;
  const lifted = (degrees: number) =>
    Math.abs(degrees) < 0.5
      ? 'level'
      : `${say(Math.abs(degrees), 'degrees')} ${degrees > 0 ? 'up' : 'down'}`;
</script>

<div class="grid gap-4 p-3 lg:grid-cols-[minmax(0,1fr)_17rem]">
  <div class="min-w-0">
    {#if answer.marks.length === 0}
      <p class="text-soft">
        Nothing stands on this stage yet. Add a stand-in on the left: it gets a mark here.
      </p>
    {:else}
      <MarkTable marks={answer.marks} fixed={ends.map((p) => p.name)} />
      {#if answer.workings['tapes']}<p class="mt-1">
          <WorkingCard workings={[answer.workings['tapes']]} />
        </p>{/if}
    {/if}
    {#if study?.eyelines.length}
      <h3 class="mt-3">
        Eyelines <WorkingCard workings={[answer.workings['eyelines']!]} of="the eyelines" />
      </h3>
      <ul>
        {#each study.eyelines as line (line.stand_in_id)}
          <li class="border-line border-t py-1">
            <b>{line.name}</b> looks at {line.target}: mark
            <b>{length(line.height_m)}</b> up, {length(line.distance_m)} from the eyes,
            {turned(line.turn_deg)}, {lifted(line.up_deg)}.
            <span class="text-soft">{length(0.1)} off is {say(line.error_deg, 'degrees')} off.</span
            >
          </li>
        {/each}
      </ul>
    {:else}
      <p class="text-soft mt-3 text-sm">
        Eyelines: choose a figure, and under “looks at” what it sees, also in another plate.
      </p>
    {/if}
  </div>
  <div>
    <h3>Ends of the tape</h3>
    <p class="text-soft text-xs">
      Two points that stay after a strike, from below the lens. Empty: the room's corners behind the
      camera, or {length(1)} to each side of it.
    </p>
    {#each [['left', ends[0]], ['right', ends[1]]] as const as [side, end] (side)}
      <RecordNumber
        {bench}
        {record}
        field={`fix_${side}_x_m`}
        label={`${side === 'left' ? 'Left' : 'Right'} point, to the right`}
        kind="length"
        nullable
        derived={end?.x_m}
      />
      <RecordNumber
        {bench}
        {record}
        field={`fix_${side}_y_m`}
        label={`${side === 'left' ? 'Left' : 'Right'} point, ahead`}
        kind="length"
        nullable
        derived={end?.y_m}
      />
    {/each}
  </div>
</div>
