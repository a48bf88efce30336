<script lang="ts">
  import { api, ask, type Schemas } from '../../lib/api/client';
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import StagePair from '../../lib/drawings/StagePair.svelte';
  import { CUTS, KINDS, range, type PlateKind } from '../../lib/kinds';

  type Props = {
    recipe: Schemas['RecipeOut'];
    /** The production that a recipe of one's own belongs to. */
    production: string;
    references?: Schemas['Reference'][];
  };
  let { recipe, production, references = [] }: Props = $props();
  let drawn = $state.raw<Schemas['PassDrawing'][]>([]);
  let pass = $state('');
  let trouble = $state('');
  let width = $state(600);

  $effect(() => {
    const { key, own } = recipe;
    let current = true;
    trouble = '';
    const call = own
      ? ask(() =>
          api.GET('/api/productions/{production_id}/recipes/{pk}/drawings', {
            params: { path: { production_id: production, pk: own.id } },
          }),
        )
      : ask(() => api.GET('/api/recipes/{key}/drawings', { params: { path: { key } } }));
    call
      .then((found) => {
        // An older answer must not cover a newer question.
        if (!current) return;
        drawn = found as Schemas['PassDrawing'][];
        pass = found[0]?.pass_key ?? '';
      })
      .catch((error: Error) => current && (trouble = error.message));
    return () => (current = false);
  });

  type Setting = string | number | boolean;
  const shown = $derived(drawn.find((d) => d.pass_key === pass));
  const cutName = (cut: string) => CUTS.find((c) => c.value === cut)?.name ?? cut;
  const dots = (n: number) => ['none', 'little', 'some', 'much'][n] ?? '';
  const settings: Record<string, (v: Setting) => string> = {
    scale: (v) => (v === 1 ? 'life size' : `scale 1:${v}`),
    f_number: (v) => `f/${v}`,
    motion: (v) =>
      ({ still: 'nothing moves', gravity: 'rate by gravity', powered: 'plays as filmed' })[
        String(v)
      ] ?? String(v),
    screen_width_m: (v) => `screen ${v} m wide`,
    screen_height_m: (v) => `${v} m high`,
    screen_gap_m: (v) => `${v} m behind`,
    screen_sweep_m: (v) => `${v} m of it on the floor`,
    ground_m: (v) => `its floor is ${v} m up in the story`,
    placed_in_post: (v) => (v ? 'filmed near, placed in post' : ''),
    nd_stops: (v) => `${v} stops under`,
    flop: (v) => (v ? 'mirrored in post' : ''),
    pass_for: (v) => ({ focus: 'at its own focus', light: 'in its own light' })[String(v)] ?? '',
  };
  const set = (s: Record<string, Setting>) =>
    Object.entries(s)
      .map(([k, v]) => settings[k]?.(v) ?? '')
      .filter(Boolean)
      .join(', ');
  const nameOf = (key: string) => recipe.passes.find((p) => p.key === key)?.name ?? key;
</script>

{#snippet points(heading: string, list: string[])}
  {#if list.length > 0}
    <div>
      <h3 class="text-sm font-semibold">{heading}</h3>
      <ul class="text-sm">
        {#each list as item (item)}<li class="pl-3 -indent-3">– {item}</li>{/each}
      </ul>
    </div>
  {/if}
{/snippet}

<article class="grid grid-cols-[minmax(0,1fr)] gap-3" bind:clientWidth={width}>
  <header>
    <h2 class="text-xl">{recipe.name}</h2>
    <p>{recipe.effect}</p>
    <p class="text-soft text-sm">
      {recipe.camera.length > 1 ? 'locked or moving' : recipe.camera[0]} camera · {recipe.people}
      {recipe.people === 1 ? 'person' : 'people'} or more · money: {dots(recipe.money)} · risk of filming
      again: {dots(recipe.risk)}{recipe.risk_why ? ` (${recipe.risk_why})` : ''}{recipe.longest_s
        ? ` · best under ${recipe.longest_s} s`
        : ''}{recipe.reusable ? ' · serves other shots too' : ''}
    </p>
    <p class="text-soft text-sm">
      For four seconds on the screen, by the table: set {range(recipe.set_hours)}, post {range(
        recipe.post_hours,
      )}.
    </p>
  </header>
  {#each recipe.cautions as caution (caution.key)}
    <p class="border-ink border-l-4 pl-2 text-sm">
      <b>{caution.name}.</b>
      {caution.cautions.join(' ')}
    </p>
  {/each}
  {#if shown}
    <figure class="border-line bg-card min-w-0 overflow-hidden border">
      <StagePair
        elevation={shown.elevation}
        plan={shown.plan}
        name={shown.name}
        height={width > 560 ? 300 : 340}
      />
      <figcaption class="flex flex-wrap items-center gap-2 p-1 text-sm">
        <span class="text-soft">From the side and from above, to scale, for an example camera:</span
        >
        {#each drawn as one (one.pass_key)}
          <button
            class={['underline-offset-4', one.pass_key === pass ? 'font-semibold underline' : '']}
            aria-pressed={one.pass_key === pass}
            onclick={() => (pass = one.pass_key)}>{one.name}</button
          >
        {/each}
      </figcaption>
    </figure>
  {/if}
  {#if trouble}<p role="alert" class="text-sm">The drawing could not be fetched: {trouble}</p>{/if}
  <div>
    <h3 class="font-semibold">Plates, in the order they are filmed</h3>
    <ol class="border-line border-t">
      {#each recipe.passes as one, i (one.key)}
        <li class="border-line flex gap-2 border-b py-1.5">
          <span class="text-soft w-5 text-right">{i + 1}</span>
          <PlateSymbol kind={one.kind} />
          <div class="min-w-0 grow">
            <b>{one.name}</b>
            <span class="text-soft text-sm">
              {one.required ? 'required' : 'advised'} · {KINDS[one.kind as PlateKind]
                .short}{one.lock ? ` · lock-off ${one.lock.toUpperCase()}` : ''}{one.cut !== 'none'
                ? ` · ${cutName(one.cut)}`
                : ''}{one.after.length > 0 ? ` · after ${one.after.map(nameOf).join(', ')}` : ''}
            </span>
            <p class="text-sm">{one.why}</p>
            {#if set(one.settings)}<p class="text-soft text-sm">Set: {set(one.settings)}.</p>{/if}
            {#each one.marks as mark (mark)}<p class="text-soft text-sm">Mark: {mark}</p>{/each}
          </div>
        </li>
      {/each}
    </ol>
  </div>
  <div class="grid gap-3 sm:grid-cols-2">
    {@render points('It suits', recipe.suits)}
    {@render points('Leave it when', recipe.avoid)}
    {@render points('Must be right', recipe.right)}
    {@render points('What betrays it', recipe.betrays)}
    {@render points('In post', recipe.post)}
    {@render points(
      'Reference pictures, once per set-up',
      references.map((r) => `${r.name}: ${r.why}`),
    )}
  </div>
</article>
