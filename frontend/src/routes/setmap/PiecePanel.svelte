<script lang="ts">
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import type { SetDesk } from './desk.svelte';
  import { OPENS, type Piece } from './pieces';

  /** One piece: where it stands by two tapes, how large it is, and how it lets somebody in. */
  let { desk, piece }: { desk: SetDesk; piece: Piece } = $props();
  const editable = $derived(desk.bench.editable);
  const laid = $derived(desk.answer?.laid.find((one) => one.key === piece.key) ?? null);
  const row = $derived(desk.answer?.rows.find((one) => one.key === piece.key) ?? null);
  const bound = $derived(laid?.thing_id != null);
  const photo = $derived(desk.photos.find((one) => one.id === piece.photo_id));
  /** Tapes that are being typed: a place needs both. */
  let typed = $state.raw<{ left?: number; right?: number }>({});
  type Size = 'width_m' | 'depth_m' | 'height_m' | 'foot_m';

  function tape() {
    if (!row || (typed.left === undefined && typed.right === undefined)) return;
    const { left = row.from_left_m, right = row.from_right_m } = typed;
    typed = {};
    void desk.tape(piece.key, left, right);
  }
</script>

{#snippet size(label: string, field: Size, hint: string)}
  <NumberField
    {label}
    {hint}
    kind="length"
    value={(bound ? laid?.[field] : piece[field]) ?? null}
    disabled={!editable || bound}
    onlive={(value) =>
      value !== null && desk.change(piece.key, { [field]: value }, 'Size of a piece', false)}
    oncommit={() => desk.rest()}
  />
{/snippet}

<section class="border-line border-b px-3 py-2" aria-label="Piece in hand">
  <div class="flex items-baseline justify-between gap-2">
    <h2 class="text-lg">{piece.name}</h2>
    {#if editable}<button class="text-soft text-sm underline" onclick={() => desk.remove(piece.key)}
        >Remove</button
      >{/if}
  </div>
  <TextField
    label="Name"
    value={piece.name}
    disabled={!editable}
    onlive={(value) => desk.change(piece.key, { name: value }, 'Name of a piece', false)}
    oncommit={() => desk.rest()}
  />
  {#if bound}
    <p class="text-soft text-sm">
      It is a thing of the story, which says where it stands and how large it is.
    </p>
  {/if}
  {#if row}
    <NumberField
      label="Tape from the left end"
      kind="length"
      value={typed.left ?? row.from_left_m}
      disabled={!editable || bound}
      onlive={(value) => value !== null && (typed = { ...typed, left: value })}
      oncommit={tape}
    />
    <NumberField
      label="Tape from the right end"
      kind="length"
      value={typed.right ?? row.from_right_m}
      problem={desk.untaped}
      disabled={!editable || bound}
      onlive={(value) => value !== null && (typed = { ...typed, right: value })}
      oncommit={tape}
    />
  {/if}
  {@render size('Wide', 'width_m', '')}
  {@render size('Deep', 'depth_m', 'away from the camera')}
  {@render size('High', 'height_m', '')}
  {@render size('Foot', 'foot_m', 'above the set')}
  <NumberField
    label="Turned"
    kind="degrees"
    hint="to the right"
    value={(bound ? laid?.turn_deg : piece.turn_deg) ?? 0}
    disabled={!editable || bound}
    onlive={(value) =>
      value !== null && desk.change(piece.key, { turn_deg: value }, 'Turn a piece', false)}
    oncommit={() => desk.rest()}
  />
  <ChoiceField
    label="For a way in"
    value={piece.opens}
    options={OPENS}
    disabled={!editable}
    onchange={(value) =>
      desk.change(piece.key, { opens: (value ?? '') as Piece['opens'] }, 'A way in')}
  />
  <TextField
    label="Note"
    value={piece.note}
    disabled={!editable}
    onlive={(value) => desk.change(piece.key, { note: value }, 'Note of a piece', false)}
    oncommit={() => desk.rest()}
  />
  {#if desk.photos.length}
    <ChoiceField
      label="Photograph"
      value={piece.photo_id ?? null}
      options={desk.photos.map((one) => ({ value: one.id, name: one.name }))}
      empty="none"
      disabled={!editable}
      onchange={(value) => desk.change(piece.key, { photo_id: value }, 'Photograph of a piece')}
    />
  {:else}
    <p class="text-soft text-sm">
      Photographs come from this shot's <a
        class="underline"
        href="/productions/{desk.bench.productionId}/shots/{desk.bench.shotId}/pictures">Pictures</a
      >.
    </p>
  {/if}
  {#if photo}
    <img src={photo.look} alt="{piece.name} as it stands" class="border-line mt-1 w-full border" />
  {:else if piece.photo_id}
    <p class="text-sm">The photograph that was chosen is gone.</p>
  {/if}
</section>
