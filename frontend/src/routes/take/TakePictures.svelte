<script lang="ts">
  import Drop from '../../lib/pictures/Drop.svelte';
  import SendList from '../../lib/pictures/SendList.svelte';
  import { PictureDesk } from '../pictures/desk.svelte';
  import Face from '../pictures/Face.svelte';
  import type { Take } from './readings';

  type Props = {
    production: string;
    shot: string;
    take: Take;
    editable: boolean;
    /** Something was read, and may have filled readings in. */
    onread: () => void;
  };
  let { production, shot, take, editable, onread }: Props = $props();
  let desk = $state.raw<PictureDesk | null>(null);
  let problem = $state('');
  const pk = $derived(take.id);

  $effect(() => {
    const opened = new PictureDesk(production, { take: pk });
    opened
      .load()
      .then(() => (desk = opened))
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });
  /** How many were read: one more, and the take is judged anew. */
  const read = $derived(desk?.shown.filter((one) => one.facts).length ?? null);
  let before: number | null = null;
  $effect(() => {
    if (read !== null && before !== null && read !== before) onread();
    before = read;
  });
</script>

<section class="mt-5" aria-label="Pictures">
  <h2 class="text-lg">What was recorded</h2>
  {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
  {#if desk}
    {#if desk.notice}<p role="alert" class="font-semibold">{desk.notice}</p>{/if}
    <div class="mt-1 flex flex-wrap gap-2">
      {#each desk.shown as picture (picture.id)}
        <a
          class="bg-card border-line block w-36 border-2 p-1"
          href="/productions/{production}/shots/{shot}/pictures#{picture.id}"
          data-testid="thumb"
          data-state={picture.state}><Face {desk} {picture} /></a
        >
      {/each}
    </div>
    {#if editable}
      <div class="mt-2">
        <Drop
          label="Pictures of this take"
          hint="Drop what the camera recorded; a photograph fills in its lens, stop, time and ISO"
          folder
          camera
          onfiles={(groups, byCamera) =>
            void desk?.send(groups, {
              take_id: take.id,
              role: byCamera ? 'reference' : 'recorded',
            })}
        />
        <SendList sendings={desk.sendings} list={desk.sendings.of({ take_id: take.id })} />
      </div>
    {/if}
  {/if}
</section>
