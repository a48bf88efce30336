<script lang="ts">
  import { route } from '../../router';
  import type { Method } from './method.svelte';

  type Props = { method: Method };
  let { method: m }: Props = $props();
  const present = $derived(m.used);
  const updates = $derived((m.outcome?.changes ?? []).filter((c) => !c.edited));
  const spared = $derived((m.outcome?.changes ?? []).filter((c) => c.edited));
  const nothing = $derived(
    m.outcome !== null && m.outcome.added.length === 0 && updates.length === 0,
  );
  const said = (value: unknown) =>
    value === null
      ? 'as derived'
      : value === ''
        ? 'nothing'
        : typeof value === 'boolean'
          ? value
            ? 'yes'
            : 'no'
          : String(value);
  const words = (field: string) => field.replaceAll('_', ' ');
</script>

<section aria-label="Apply it" class="bg-well mb-3 grid gap-2 p-2 text-sm">
  {#if m.applied}
    <p>
      <b>{m.recipe?.name} is applied.</b>
      {m.applied.outcome.added.length > 0
        ? `Added: ${m.applied.outcome.added.join(', ')}.`
        : 'Nothing had to change.'}
      {m.applied.outcome.tricks.length > 0 ? `With ${m.applied.outcome.tricks.join('; ')}.` : ''}
      Every stage is derived from the world camera.
    </p>
    <div class="flex gap-2">
      {#if m.applied.step}
        <button class="btn" onclick={() => m.undo()}>Undo</button>
      {/if}
      <a
        class="btn btn-main"
        href="/productions/{route.params.production}/shots/{route.params.shot}">To the Bench</a
      >
    </div>
  {:else if m.recipe}
    <div role="group" aria-label="Plates wanted">
      {#each m.recipe.passes as pass (pass.key)}
        <label class="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={m.passes.includes(pass.key)}
            disabled={!m.editable}
            onchange={(event) => m.choosePass(pass.key, event.currentTarget.checked)}
          />
          {pass.name}
          <span class="text-soft">{pass.required ? 'required' : 'advised'}</span>
        </label>
      {/each}
    </div>
    <label class="flex items-center gap-1.5">
      <input type="checkbox" bind:checked={m.things} disabled={!m.editable} />
      with stand-ins before the world camera
    </label>
    {#if m.outcome}
      <div aria-live="polite">
        {#if m.outcome.added.length > 0}
          <p>Would add: <b>{m.outcome.added.join(', ')}</b>.</p>
        {/if}
        {#if m.outcome.tricks.length > 0}
          <p data-testid="tricks">With {m.outcome.tricks.join('; ')}.</p>
        {/if}
        {#each updates as change (change.pass_key + change.field)}
          <p>
            {change.plate}: {words(change.field)} from {said(change.now)} to {said(change.recipe)}.
          </p>
        {/each}
        {#each spared as change (change.pass_key + change.field)}
          <p class="text-soft">
            {change.plate}: {words(change.field)} stays {said(change.now)}, as you set it (the
            recipe says
            {said(change.recipe)}).
          </p>
        {/each}
        {#if nothing}<p>Everything of this recipe is in the shot already.</p>{/if}
      </div>
    {/if}
    {#if m.editable}
      <button
        class="btn btn-main justify-self-start"
        disabled={m.outcome === null || nothing}
        onclick={() => m.apply()}
      >
        {present ? 'Apply it again' : 'Apply to this shot'}
      </button>
    {/if}
  {/if}
</section>
