<script lang="ts">
  import type { Place } from '../../lib/pictures/sending.svelte';
  import type { PictureDesk } from './desk.svelte';

  type Props = { desk: PictureDesk; place: Place };
  let { desk, place }: Props = $props();
  let path = $state('');
  let sha256 = $state('');
  let gigabytes = $state('');
  let problem = $state('');

  async function name(event: SubmitEvent) {
    event.preventDefault();
    problem = '';
    const size = Math.round(Number(gigabytes.replace(',', '.')) * 1e9);
    if (!(size >= 1)) {
      problem = 'Say how large the file is, in gigabytes.';
      return;
    }
    if (sha256 && !/^[0-9a-f]{64}$/i.test(sha256.trim())) {
      problem = 'A SHA-256 checksum has 64 digits, 0 to 9 and a to f.';
      return;
    }
    if (await desk.name({ path: path.trim(), sha256: sha256.trim(), size }, place)) {
      path = sha256 = gigabytes = '';
    }
  }
</script>

<details class="mt-1 text-sm">
  <summary class="text-soft">It stays on your own disk</summary>
  <form class="mt-1 grid max-w-xl gap-1" onsubmit={(event) => void name(event)}>
    <p class="text-soft">
      Only where it lies and its checksum are kept, so that post finds it and knows that it is the
      one. Nothing of it can be looked at here.
    </p>
    <label>Where it lies <input class="field" required maxlength="1000" bind:value={path} /></label>
    <label
      >Size, GB <input class="field" required inputmode="decimal" bind:value={gigabytes} /></label
    >
    <label>SHA-256, if you have it <input class="field" bind:value={sha256} /></label>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <p><button class="btn btn-main">Name it</button></p>
  </form>
</details>
