<script lang="ts">
  import { untrack } from 'svelte';
  import { api, ask, Failure, type Schemas } from '../../lib/api/client';
  import { NOTATIONS } from '../../lib/notations';
  import ChoiceField from '../../lib/ui/ChoiceField.svelte';
  import Modal from '../../lib/ui/Modal.svelte';
  import NumberField from '../../lib/ui/NumberField.svelte';
  import TextField from '../../lib/ui/TextField.svelte';
  import { SHAPES } from './shapes';

  type Production = Schemas['ProductionOut'];
  type Props = {
    production: Production;
    onclose: () => void;
    /** It has been changed. */
    onsaved: (production: Production) => void;
    /** It lies in the bin. */
    onremoved: () => void;
  };
  let { production, onclose, onsaved, onremoved }: Props = $props();

  const first = untrack(() => production);
  let name = $state(first.name);
  let story = $state(first.story ?? '');
  let width = $state(first.delivery_width_px ?? 1920);
  let height = $state(first.delivery_height_px ?? 1080);
  let rate = $state(first.playback_fps ?? 24);
  let latitude = $state(first.latitude_deg ?? null);
  let longitude = $state(first.longitude_deg ?? null);
  let zone = $state(first.time_zone ?? '');
  const written = $state({
    lengths_in: first.lengths_in ?? 'metric',
    light_in: first.light_in ?? 'lux',
    stops_in: first.stops_in ?? 'decimal',
    shutter_in: first.shutter_in ?? 'angle',
  });
  const ways = [
    ['lengths_in', NOTATIONS.length],
    ['light_in', NOTATIONS.light],
    ['stops_in', NOTATIONS.stop],
    ['shutter_in', NOTATIONS.shutter],
  ] as const;
  let problems = $state<Record<string, string>>({});
  let trouble = $state('');
  let saving = $state(false);

  async function save(changes: Partial<Schemas['ProductionEdit']>) {
    problems = {};
    trouble = '';
    saving = true;
    try {
      const saved = await ask(() =>
        api.PATCH('/api/productions/{production_id}', {
          params: { path: { production_id: production.id } },
          body: { revision: production.revision, ...changes } as Schemas['ProductionEdit'],
        }),
      );
      onsaved(saved);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      problems = error.fields;
      trouble = error.message;
    } finally {
      saving = false;
    }
  }

  let removing = $state(false);
  let typed = $state('');
  async function remove(event: SubmitEvent) {
    event.preventDefault();
    trouble = '';
    saving = true;
    try {
      await ask(() =>
        api.POST('/api/productions/{production_id}/remove', {
          params: { path: { production_id: production.id } },
          body: { name: typed },
        }),
      );
      onremoved();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      trouble = error.message;
    } finally {
      saving = false;
    }
  }

  function submit(event: SubmitEvent) {
    event.preventDefault();
    void save({
      name,
      story,
      delivery_width_px: Math.round(width),
      delivery_height_px: Math.round(height),
      playback_fps: rate,
      latitude_deg: latitude,
      longitude_deg: longitude,
      time_zone: zone,
      ...written,
    });
  }
</script>

<Modal
  open
  title={removing ? `Delete ${production.name}?` : `Set up ${production.name}`}
  description={removing
    ? ''
    : 'New shots begin with this delivery; those that are there keep their own.'}
  wide={!removing}
  {onclose}
>
  {#if removing}
    <form onsubmit={remove} class="grid gap-3">
      <p>
        Nobody enters it any more: members, crew links and invitations stop working at once. For
        thirty days you can fetch it back from the list of productions; then it is erased with its
        shots, takes and pictures.
      </p>
      <label>
        Type its name, <b>{production.name}</b>
        <input class="field" required autocomplete="off" bind:value={typed} />
      </label>
      {#if trouble}<p role="alert" class="font-semibold">{trouble}</p>{/if}
      <div class="flex gap-3">
        <button class="btn btn-main" disabled={saving || typed.trim() !== production.name}>
          Delete it
        </button>
        <button type="button" class="btn" onclick={() => (removing = false)}>Keep it</button>
      </div>
    </form>
  {:else}
    <form onsubmit={submit} class="grid gap-x-8 gap-y-2 md:grid-cols-2">
      <div class="grid content-start gap-2">
        <label>Name <input class="field" required maxlength="120" bind:value={name} /></label>
        {#if problems.name}<p role="alert" class="text-sm font-semibold">
            Name: {problems.name}
          </p>{/if}
        <label>
          What it tells
          <textarea class="field" rows="3" maxlength="2000" bind:value={story}></textarea>
        </label>
        <p class="text-sm">
          {#each SHAPES as shape (shape.name)}
            <button
              type="button"
              class="mr-3 underline"
              onclick={() => ([width, height] = [shape.width, shape.height])}>{shape.name}</button
            >
          {/each}
        </p>
        <NumberField
          label="Width"
          kind="pixels"
          value={width}
          problem={problems.delivery_width_px}
          onlive={(value) => value !== null && (width = value)}
          oncommit={() => {}}
        />
        <NumberField
          label="Height"
          kind="pixels"
          value={height}
          problem={problems.delivery_height_px}
          onlive={(value) => value !== null && (height = value)}
          oncommit={() => {}}
        />
        <NumberField
          label="Rate"
          kind="rate"
          value={rate}
          problem={problems.playback_fps}
          onlive={(value) => value !== null && (rate = value)}
          oncommit={() => {}}
        />
      </div>
      <div class="grid content-start gap-2">
        <h3 class="text-sm">Where it is filmed</h3>
        <p class="text-soft text-sm">
          New rooms and yards begin there; the sun is followed over a yard's own place.
        </p>
        <NumberField
          label="Latitude"
          hint="+ is north"
          kind="degrees"
          nullable
          value={latitude}
          problem={problems.latitude_deg}
          onlive={(value) => (latitude = value)}
          oncommit={() => {}}
        />
        <NumberField
          label="Longitude"
          hint="+ is east"
          kind="degrees"
          nullable
          value={longitude}
          problem={problems.longitude_deg}
          onlive={(value) => (longitude = value)}
          oncommit={() => {}}
        />
        <TextField
          label="Its clock, as Europe/London"
          value={zone}
          problem={problems.time_zone}
          onlive={(value) => (zone = value)}
          oncommit={() => {}}
        />
        <h3 class="mt-1 text-sm">How numbers are written</h3>
        <p class="text-soft text-sm">
          For whoever has not chosen otherwise under the ruler; any field takes either.
        </p>
        {#each ways as [field, way] (field)}
          <ChoiceField
            label={way.title}
            value={written[field]}
            options={[...way.options]}
            onchange={(value) => Object.assign(written, { [field]: value })}
          />
        {/each}
      </div>
      {#if trouble && Object.keys(problems).length === 0}<p
          role="alert"
          class="font-semibold md:col-span-2"
        >
          {trouble}
        </p>{/if}
      <div class="mt-2 flex flex-wrap gap-3 md:col-span-2">
        <button class="btn btn-main" disabled={saving}>Save</button>
        <button type="button" class="btn" onclick={onclose}>Leave it</button>
        <button
          type="button"
          class="btn ml-auto"
          disabled={saving}
          onclick={() => save({ put_away: !production.put_away })}
          >{production.put_away ? 'Fetch it back' : 'Put it away'}</button
        >
        <button type="button" class="btn" disabled={saving} onclick={() => (removing = true)}
          >Delete…</button
        >
      </div>
    </form>
  {/if}
</Modal>
