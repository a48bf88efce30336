<script lang="ts">
  import type { Schemas } from '../api/client';

  type Props = {
    cautions: Schemas['Caution'][];
    /** Acknowledge a hazard by name; without it there is only reading. */
    onread?: (key: string, name: string) => void;
  };
  let { cautions, onread }: Props = $props();
  let names = $state<Record<string, string>>({});
  const when = (at: string) => at.slice(0, 16).replace('T', ' ');
</script>

<ul class="grid gap-2">
  {#each cautions as caution (caution.key)}
    <li class="border-ink border-l-4 pl-2" data-caution={caution.key}>
      <p>
        <b>{caution.name}.</b>
        {caution.cautions.join(' ')}
      </p>
      <p class="text-soft text-sm">For: {caution.plates.join(', ')}.</p>
      <p class="text-sm">
        {#if caution.read_by.length > 0}
          Read by {caution.read_by.map((r) => `${r.name} (${when(r.at)} UTC)`).join(', ')}.
        {:else}Not acknowledged by anybody yet.{/if}
      </p>
      {#if onread}
        <form
          class="mt-1 flex gap-2"
          onsubmit={(event) => {
            event.preventDefault();
            const name = (names[caution.key] ?? '').trim();
            if (name) onread(caution.key, name);
            names[caution.key] = '';
          }}
        >
          <input
            id="read-{caution.key}"
            class="field max-w-48"
            maxlength="120"
            placeholder="who has read it"
            aria-label={`Who has read: ${caution.name}`}
            value={names[caution.key] ?? ''}
            oninput={(event) => (names[caution.key] = event.currentTarget.value)}
          />
          <button class="btn" disabled={!(names[caution.key] ?? '').trim()}>Acknowledge</button>
        </form>
      {/if}
    </li>
  {/each}
</ul>
