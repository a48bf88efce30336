<script lang="ts">
  import { untrack } from 'svelte';
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import Modal from '../../lib/ui/Modal.svelte';

  type Props = {
    production: string;
    /** The thread to change; null begins a new one. */
    thread: Schemas['ThreadOut'] | null;
    shots: Schemas['ShotLight'][];
    onclose: () => void;
    onsaved: () => void;
  };
  let { production, thread, shots, onclose, onsaved }: Props = $props();
  // The form begins with what the thread was when it was opened.
  const first = untrack(() => thread);
  let name = $state(first?.name ?? '');
  let kind = $state(first?.kind ?? 'thing');
  let note = $state(first?.note ?? '');
  let places = $state<string[]>([...(first?.places ?? [])]);
  let chosen = $state<string[]>([...(first?.shot_ids ?? [])]);
  let problem = $state('');
  const known = $derived([...new Set([...shots.map((s) => s.place), ...places])].filter(Boolean));
  const KINDS = {
    thing: 'a thing',
    light: 'a light',
    ground: 'ground, weather',
    costume: 'dress, body',
    other: 'something else',
  };

  async function attempt(work: () => Promise<unknown>) {
    problem = '';
    try {
      await work();
      onsaved();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problem =
        error.status === 409
          ? 'Somebody else changed this thread meanwhile. Close this and open it again.'
          : error.message;
    }
  }
  function save(event: SubmitEvent) {
    event.preventDefault();
    const body = { name, kind, note, places: [...places], shot_ids: [...chosen] };
    void attempt(() =>
      first
        ? ask(() =>
            api.PATCH('/api/productions/{production_id}/threads/{pk}', {
              params: { path: { production_id: production, pk: first.id } },
              body: { revision: first.revision, ...body },
            }),
          )
        : ask(() =>
            api.POST('/api/productions/{production_id}/threads', {
              params: { path: { production_id: production } },
              body: { id: crypto.randomUUID(), ...body },
            }),
          ),
    );
  }
  function remove() {
    if (!first) return;
    void attempt(() =>
      ask(() =>
        api.DELETE('/api/productions/{production_id}/threads/{pk}', {
          params: { path: { production_id: production, pk: first.id } },
        }),
      ),
    );
  }
</script>

<Modal open title={first ? 'Change the thread' : 'Begin a thread'} {onclose}>
  <form onsubmit={save} class="grid gap-2">
    <label>
      What must recur
      <input
        id="thread-name"
        class="field"
        required
        maxlength="120"
        placeholder="Flag on the mill roof"
        bind:value={name}
      />
    </label>
    <label>
      It is
      <select id="thread-kind" class="field" bind:value={kind}>
        {#each Object.entries(KINDS) as [value, words] (value)}<option {value}>{words}</option
          >{/each}
      </select>
    </label>
    <label
      >Note <textarea id="thread-note" class="field" rows="2" bind:value={note}></textarea></label
    >
    <fieldset>
      <legend class="text-soft text-sm">In every shot at</legend>
      {#each known as place (place)}
        <label class="mr-3 inline-flex items-center gap-1">
          <input type="checkbox" value={place} bind:group={places} />{place}
        </label>
      {/each}
    </fieldset>
    <fieldset class="max-h-40 overflow-y-auto">
      <legend class="text-soft text-sm">And in these shots</legend>
      {#each shots as shot (shot.id)}
        <label class="flex items-center gap-1">
          <input type="checkbox" value={shot.id} bind:group={chosen} />{shot.number}
          {shot.title}
        </label>
      {/each}
    </fieldset>
    {#if problem}<p role="alert" class="font-semibold">{problem}</p>{/if}
    <div class="flex justify-end gap-2">
      {#if first}<button type="button" class="btn mr-auto" onclick={remove}
          >Remove the thread</button
        >{/if}
      <button type="button" class="btn" onclick={onclose}>Leave it</button>
      <button class="btn btn-main">Save the thread</button>
    </div>
  </form>
</Modal>
