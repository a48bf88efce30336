<script lang="ts">
  import { untrack } from 'svelte';
  import { api, ask, type Schemas } from '../../lib/api/client';
  import { SavedRecord } from '../../lib/edit/record.svelte';
  import ClashDialog from '../../lib/ui/ClashDialog.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import SavedMark from '../../lib/ui/SavedMark.svelte';

  type Card = Schemas['CardOut'];
  type Props = {
    production: string;
    card: Card;
    editable: boolean;
    onsaved: (card: Card) => void;
  };
  let { production, card, editable, onsaved }: Props = $props();
  const pdf = $derived(`/api/productions/${production}/cards/${card.id}/board`);
  type Kept = Pick<Card, 'id' | 'revision' | 'ruler_mm'>;
  const kept = ({ id, revision, ruler_mm }: Card): Kept => ({ id, revision, ruler_mm });
  const record = untrack(
    () =>
      new SavedRecord<Kept>(kept(card), async (revision, changes) => {
        const saved = (await ask(() =>
          api.PATCH('/api/productions/{production_id}/cards/{pk}', {
            params: { path: { production_id: production, pk: card.id } },
            body: { revision, ...changes },
          }),
        )) as Card;
        onsaved(saved);
        return kept(saved);
      }),
  );
  $effect(() => () => record.dispose());
</script>

<section class="border-line mt-3 border-y py-2" aria-label="Board" data-testid="board-sheet">
  <p class="flex flex-wrap items-center gap-x-4">
    <b>Board to hold up</b>
    <a class="underline" href="{pdf}?paper=A4" target="_blank">Print A4</a>
    <a class="underline" href="{pdf}?paper=A3" target="_blank">Print A3</a>
  </p>
  {#if card.content.board_says}<p>{card.content.board_says}</p>{/if}
  <details>
    <summary class="text-soft min-h-8 cursor-pointer py-1 text-sm">How it is used</summary>
    <div class="max-w-prose">
      <p>
        Film it for a second before or after the take, the middle of its lower edge on the mark or
        plumb over it, the camera standing as for the take. The clip then files itself as a take of
        this card, and its height, distance and tilt are read off the picture.
      </p>
      <p class="text-soft text-sm">
        Print at 100 %, glue it on something flat. Of an A4 sheet so much can be told as far as
        about 3 m with a wide lens and 8 m with a normal one; A3 goes half as far again.
      </p>
      <div class="max-w-sm">
        <NumberField
          label="Its line of 100 mm measures"
          kind="mm"
          disabled={!editable}
          value={record.draft.ruler_mm ?? 100}
          problem={record.problems['ruler_mm']}
          onlive={(value) => record.set('ruler_mm', value ?? 100)}
          oncommit={() => void record.commit()}
        />
        <SavedMark />
      </div>
    </div>
  </details>
</section>
<ClashDialog {record} name="this card" />
