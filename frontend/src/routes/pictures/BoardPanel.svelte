<script lang="ts">
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import { focalSays, WAYS, type Board } from './board';
  import type { PictureDesk } from './desk.svelte';
  import StoodTable from './StoodTable.svelte';

  type Props = {
    desk: PictureDesk;
    picture: Picture;
    board: Board;
    /** Whether it is drawn over the picture. */
    drawn: boolean;
    ondrawn: (shown: boolean) => void;
  };
  let { desk, picture, board, drawn, ondrawn }: Props = $props();
  let up = $derived(picture.board_up_m ?? null);
  const stood = $derived(board.way ? board[board.way] : null);
  /** Filed by its board, it would hang elsewhere than it does. */
  const astray = $derived(
    board.card_id !== null &&
      picture.role === 'recorded' &&
      (picture.take_id === null || board.elsewhere),
  );
</script>

<section aria-label="The board" class="mt-3" data-testid="board">
  <h3>The board</h3>
  <p>
    {#if board.called}
      It is that of <b>{board.called}</b>,
    {:else}
      Its number cannot be read,
    {/if}
    seen in frame {board.frame} at {board.px_per_mm.toFixed(2)} pixels to a millimetre.
    <button class="underline" aria-pressed={drawn} onclick={() => ondrawn(!drawn)}
      >{drawn ? 'Hide it' : 'Show it'}</button
    >
  </p>
  {#if astray && desk.editable}
    <button class="btn my-1" onclick={() => void desk.fileByBoard(picture)}
      >File it on a take of {board.called}</button
    >
  {/if}
  {#if stood}
    <StoodTable {stood} />
    <p class="text-soft text-sm">
      ± holds nine errors of ten, if the paper was flat, straight and on its mark.
    </p>
  {/if}
  <p class="text-soft text-sm">{focalSays(board)}</p>
  {#if board.focal_mm !== null}
    <div class="max-w-md">
      <ChoiceField
        label="The board was"
        value={picture.board_way || null}
        options={WAYS}
        empty="whichever is likelier"
        disabled={!desk.editable}
        onchange={(way) =>
          void desk.edit(
            picture,
            { board_way: (way ?? '') as Picture['board_way'] },
            `how the board in ${picture.name} was`,
          )}
      />
      <NumberField
        label="Its lower edge above the floor"
        hint={up === null && board.up_m > 0 ? 'as the card says' : ''}
        kind="length"
        nullable
        value={up}
        derived={board.up_m}
        disabled={!desk.editable}
        onlive={(value) => (up = value)}
        oncommit={() => {
          if (up !== (picture.board_up_m ?? null)) {
            void desk.edit(
              picture,
              { board_up_m: up },
              `how high the board in ${picture.name} was`,
            );
          }
        }}
      />
    </div>
  {/if}
</section>
