<script lang="ts">
  import { say } from '../../lib/quantities';
  import Modal from '../../lib/ui/Modal.svelte';
  import type { Board } from './board.svelte';

  type Props = { board: Board };
  let { board }: Props = $props();
  let splitting = $state(false);
  let setting = $state(false);
  let at = $state(0);
  let place = $state('');
  let time = $state('');
  let day = $state('');
  const rows = $derived(board.chosenRows);
  const one = $derived(rows.length === 1 ? rows[0] : null);
  const word = $derived(rows.length === 1 ? 'shot' : 'shots');

  function startSplit() {
    at = Math.round((one?.screen_time_s ?? 2) * 50) / 100;
    splitting = true;
  }
  function startSet() {
    const first = rows[0];
    place = first?.place ?? '';
    time = first?.time_of_day ?? '';
    day = first?.plates[0]?.film_on ?? '';
    setting = true;
  }
  function doSet(event: SubmitEvent) {
    event.preventDefault();
    setting = false;
    void board.set({ place, time_of_day: time, film_on: day || null });
  }
</script>

<div
  class="bg-well border-line sticky top-0 z-10 mt-2 flex flex-wrap items-center gap-2 border p-2"
  role="toolbar"
  aria-label="With the chosen shots"
>
  <b>{rows.length} {word} chosen</b>
  <button class="btn" onclick={() => board.nudge(false)}>Earlier</button>
  <button class="btn" onclick={() => board.nudge(true)}>Later</button>
  <button class="btn" onclick={() => board.duplicate()}>Duplicate as variant</button>
  <button class="btn" disabled={!one} onclick={startSplit}>Split</button>
  <button class="btn" disabled={rows.length < 2} onclick={() => board.merge()}>Merge</button>
  <button class="btn" onclick={startSet}>Place and day</button>
  <button class="btn" onclick={() => board.remove()}>Remove</button>
  <button class="ml-auto underline" onclick={() => board.chosen.clear()}>Choose none</button>
</div>

<Modal
  open={splitting}
  title={`Split shot ${one?.number ?? ''}`}
  description="The second half gets copies of the world, the recipes and the plates; cards and takes stay with the first."
  onclose={() => (splitting = false)}
>
  <form
    onsubmit={(event) => {
      event.preventDefault();
      splitting = false;
      if (one) void board.split(one.id, at);
    }}
  >
    <label>
      Split after (seconds of {say(one?.screen_time_s ?? 0, 'seconds')})
      <input
        id="split-at"
        class="field"
        type="number"
        min="0.04"
        max={(one?.screen_time_s ?? 1) - 0.04}
        step="any"
        bind:value={at}
      />
    </label>
    <input
      class="mt-2 w-full"
      type="range"
      aria-label="Moment of the split"
      min="0.04"
      max={(one?.screen_time_s ?? 1) - 0.04}
      step="0.01"
      bind:value={at}
    />
    <div class="mt-3 flex justify-end gap-2">
      <button type="button" class="btn" onclick={() => (splitting = false)}>Keep it whole</button>
      <button class="btn btn-main">Split it</button>
    </div>
  </form>
</Modal>

<Modal
  open={setting}
  title={`Place and day of ${rows.length} ${word}`}
  description="The day of filming goes to every plate of these shots."
  onclose={() => (setting = false)}
>
  <form onsubmit={doSet} class="grid gap-2">
    <label>Place <input id="set-place" class="field" maxlength="120" bind:value={place} /></label>
    <label>Time of day <input id="set-time" class="field" maxlength="40" bind:value={time} /></label
    >
    <label>Day of filming <input id="set-day" class="field" type="date" bind:value={day} /></label>
    <div class="flex justify-end gap-2">
      <button type="button" class="btn" onclick={() => (setting = false)}>Leave as they are</button>
      <button class="btn btn-main">Set them</button>
    </div>
  </form>
</Modal>
