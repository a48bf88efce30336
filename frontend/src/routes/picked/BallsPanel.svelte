<script lang="ts">
  import FindingList from '../../lib/shot/FindingList.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import { BALLS, lightRows } from './picked';
  import type { PickedRoom } from './room.svelte';

  let { room }: { room: PickedRoom } = $props();
  const says = $derived(room.busy ? [] : room.byBalls);
  const findings = $derived(
    room.busy ? [] : (room.desk.whole?.findings ?? []).filter((one) => one.key.startsWith('ball-')),
  );
  const loose = $derived(room.picture !== null && !room.picture.take_id && !room.picture.plate_id);
</script>

<section aria-label="Balls" data-testid="balls">
  <p class="text-soft text-sm">
    A chrome ball held up where the action is shows the lamps themselves: their side, height and how
    wide they are. A matt grey one shows how deep the shadow side is. Both in one picture of the
    plate’s own camera say most; a Christmas ball and a table tennis ball painted grey will do.
  </p>
  {#if loose}
    <p class="mt-1 text-sm font-semibold">
      This picture hangs on no take and no plate: nobody knows how its camera looked, and a ball
      says nothing yet.
    </p>
  {/if}
  {#if room.editable}
    <div class="my-2 flex flex-wrap gap-1" role="group" aria-label="Trace">
      {#each BALLS as one (one.value)}
        <button
          class={['btn', room.armed === one.value && 'btn-main']}
          aria-pressed={room.armed === one.value}
          disabled={room.balls.length >= 4}
          onclick={() => room.arm(one.value)}>{one.name}</button
        >
      {/each}
    </div>
    <p class="min-h-6 text-sm font-semibold" role="status">
      {#if room.armed}
        Press on the middle of the ball and drag to its rim; then push middle and rim until the
        circle lies on it.
      {:else if room.balls.length > 0}
        The arrow keys move what is chosen by a pixel. The larger the ball, the finer it tells: 160
        pixels from middle to rim tell a degree.
      {/if}
    </p>
  {/if}
  {#if room.busy && room.balls.length > 0}
    <p role="status" class="text-soft mt-2">Reading the light off it</p>
  {:else if findings.length > 0}
    <h3 class="mt-2">Against the story</h3>
    <FindingList {findings} />
  {/if}
  {#each room.balls as ball, n (n)}
    {@const told = says.length === room.balls.length ? says[n] : undefined}
    <div class="border-line mt-2 border-t pt-1" data-testid="ball">
      <div class="flex items-end gap-2">
        <b class="w-5 pb-1 text-right tabular-nums">{n + 1}</b>
        <div class="flex-1">
          <ChoiceField
            label="It is a"
            value={ball.kind}
            options={BALLS}
            disabled={!room.editable}
            onchange={(kind) => kind && void room.turnBall(n, kind as 'chrome' | 'grey')}
          />
        </div>
        {#if room.editable}
          <button
            class="text-soft underline"
            aria-label="Remove ball {n + 1}"
            onclick={() => void room.dropBall(n)}>Remove</button
          >
        {/if}
      </div>
      {#if told?.problem && !loose}
        <p role="alert" class="mt-1 font-semibold">Nothing yet: {told.problem}</p>
        {#if room.editable && room.picture}
          {@const picture = room.picture}
          <button class="btn mt-1" onclick={() => void room.desk.readAgain(picture)}
            >Look at it once more</button
          >
        {/if}
      {:else if told && told.lights.length > 0}
        {@const rows = lightRows(told)}
        {@const sized = rows.some((row) => row.wide)}
        {@const several = rows.some((row) => row.under)}
        <table class="mt-1 text-sm">
          <thead>
            <tr class="text-soft text-left">
              <th class="pr-3 font-normal">Light</th>
              <th class="pr-3 font-normal">comes</th>
              <th class="pr-3 text-right font-normal">up</th>
              {#if sized}<th class="pr-3 text-right font-normal">wide</th>{/if}
              {#if several}<th class="text-right font-normal">under it</th>{/if}
            </tr>
          </thead>
          <tbody>
            {#each rows as row (row.name)}
              <tr>
                <th scope="row" class="pr-3 text-left">{row.name}</th>
                <td class="pr-3">{row.comes}</td>
                <td class="pr-3 text-right whitespace-nowrap tabular-nums">{row.up}</td>
                {#if sized}
                  <td class="pr-3 text-right whitespace-nowrap tabular-nums">{row.wide}</td>
                {/if}
                {#if several}
                  <td class="text-right whitespace-nowrap tabular-nums">{row.under}</td>
                {/if}
              </tr>
            {/each}
          </tbody>
        </table>
        {#if told.kind === 'grey'}
          <p class="mt-1 text-sm">
            {told.ratio_stops === null
              ? 'Its shadow side is black: nothing fills it.'
              : `Key side over shadow side: ${told.ratio_stops.toFixed(1)} stops.`}
          </p>
        {/if}
      {/if}
    </div>
  {/each}
</section>
