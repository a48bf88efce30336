<!-- Where what was sent here went by itself: by the board that was held up in it. -->
<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import type { PictureDesk } from './desk.svelte';

  type Props = { desk: PictureDesk };
  let { desk }: Props = $props();
  let filed = $state.raw<Schemas['FiledPicture'][]>([]);
  /** What hangs nowhere yet: when something is gone from it, it may have filed itself. */
  const loose = $derived(desk.shown.map((one) => one.id).join(' '));

  $effect(() => {
    void loose;
    const path = { production_id: desk.production };
    let left = false;
    ask(() => api.GET('/api/productions/{production_id}/filed', { params: { path } }))
      // News that cannot be had now are had with the next picture.
      .then((found) => left || (filed = found))
      .catch(() => undefined);
    return () => (left = true);
  });
</script>

{#if filed.length > 0}
  <section class="mt-3" aria-label="Filed by their boards" data-testid="filed">
    <h2>Filed by their boards, within a day</h2>
    <ul class="mt-1 text-sm">
      {#each filed as one (one.id)}
        <li class="bg-well mt-px flex flex-wrap gap-x-3 px-2 py-1">
          <b class="min-w-24 truncate" title={one.name}>{one.name}</b>
          <a
            class="underline"
            href="/productions/{desk.production}/shots/{one.shot_id}/pictures#{one.id}"
            >Shot {one.shot}: {one.where}</a
          >
        </li>
      {/each}
    </ul>
  </section>
{/if}
