<script lang="ts">
  import { route } from '../../router';
  import AnyFrame from '../pictures/AnyFrame.svelte';
  import Desk from '../pictures/Desk.svelte';
  import Canvas from './Canvas.svelte';
  import BallsPanel from './BallsPanel.svelte';
  import Dial from './Dial.svelte';
  import EdgesPanel from './EdgesPanel.svelte';
  import MarksPanel from './MarksPanel.svelte';
  import { ballHandles, handlesOf, linesOf, type Handle, type Place } from './picked';
  import { PickedRoom } from './room.svelte';

  const production = $derived(route.params.production ?? '');
  const id = $derived(route.params.picture ?? '');
  let room = $state.raw<PickedRoom | null>(null);
  let problem = $state('');

  $effect(() => {
    if (!production || !id) return;
    const opened = new PickedRoom(production, id);
    room = null;
    problem = '';
    opened
      .load()
      .then(() => (room = opened))
      .catch((error: Error) => (problem = error.message));
    return () => opened.dispose();
  });

  const picture = $derived(room?.picture ?? null);
  const frame = $derived.by(() => {
    if (!picture) return 1;
    return picture.looks.includes(picture.picked_in) ? picture.picked_in : (picture.looks[0] ?? 1);
  });
  const handles = $derived.by((): Handle[] => {
    if (!room) return [];
    if (room.way === 'balls') return ballHandles(room.balls);
    if (room.way === 'edges') return handlesOf(room.edges, room.uprights);
    const own = room.marks.map((mark, n) => ({
      id: `m${n}`,
      x: mark.x,
      y: mark.y,
      label: `Mark ${n + 1}, ${mark.name}`,
    }));
    const draft = room.draft;
    return draft ? [...own, { id: 'draft', x: draft.x, y: draft.y, label: draft.name }] : own;
  });
  const found = $derived.by(() => {
    const places = room?.way === 'marks' && !room.busy ? (room.byMarks?.places ?? []) : [];
    if (places.length !== room?.marks.length) return {};
    return Object.fromEntries(
      places.map(([x, y], n): [string, Place] => [`m${n}`, { x: x ?? 0, y: y ?? 0 }]),
    );
  });
  const hints = $derived(
    room?.way === 'marks' && room.armed
      ? (room.armedFor ? [room.armedFor] : room.offered).flatMap((one) =>
          one.x !== null && one.y !== null ? [{ name: one.name, x: one.x, y: one.y }] : [],
        )
      : [],
  );
  const horizon = $derived(
    room?.way === 'edges' && !room.busy && room.byEdges && room.byEdges.focal_widths !== null
      ? (room.byEdges.horizon as [number, number])
      : null,
  );
  const back = $derived(
    room?.home
      ? `/productions/${production}/shots/${room.home.id}/pictures#${id}`
      : `/productions/${production}/pictures`,
  );
  const WAYS = [
    { value: 'marks', name: 'Marks with tapes' },
    { value: 'edges', name: 'Straight edges' },
    { value: 'balls', name: 'The light, by a ball' },
  ] as const;
</script>

<svelte:head
  ><title>{picture ? `Where ${picture.name} was taken from` : 'Picked'} · Jungoptic</title
  ></svelte:head
>
<Desk
  {production}
  desk={room?.desk ?? null}
  {problem}
  testid="picked"
  crumbs={picture && room
    ? [
        { name: 'The shots', href: `/productions/${production}` },
        ...(room.home
          ? [
              {
                name: room.home.number,
                href: `/productions/${production}/shots/${room.home.id}`,
              },
            ]
          : []),
        { name: 'Pictures', href: back },
        { name: picture.name },
      ]
    : []}
  keys={{ Escape: () => room && ((room.armed = ''), (room.armedFor = null)) }}
>
  {#snippet children(d)}
    {#if room && picture}
      {@const r = room}
      <h1 class="sr-only">Where {picture.name} was taken from</h1>
      {#if picture.looks.length > 0}
        <Canvas
          src={d.look(picture, frame)}
          alt="{picture.name}, frame {frame}"
          width={picture.look_width_px}
          height={picture.look_height_px}
          {handles}
          circles={r.way === 'balls'
            ? r.balls.map((one, n) => ({ ...one, sign: String(n + 1) }))
            : []}
          lines={r.way === 'edges' ? linesOf(r.edges, r.uprights) : []}
          {found}
          {hints}
          {horizon}
          armed={r.armed !== ''}
          editable={r.editable}
          onpick={(at) => r.pick(at)}
          onmove={(handle, to) => r.move(handle, to)}
          ondone={(handle) => r.rest(handle)}
        />
        {#if r.way === 'balls' && !r.busy && r.byBalls.some((one) => one.lights.length > 0)}
          <Dial says={r.byBalls} />
        {/if}
        {#if picture.looks.length > 1 && r.editable}
          <div class="mt-1 flex flex-wrap gap-1 text-sm" role="group" aria-label="Frame">
            {#each picture.looks as one (one)}
              <button
                class={['btn', one === frame && 'btn-main']}
                aria-pressed={one === frame}
                disabled={r.marks.length + r.edges.length + r.uprights.length + r.balls.length >
                  0 && one !== frame}
                onclick={() => void d.edit(picture, { picked_in: one }, 'the frame to pick in')}
                >{one}</button
              >
            {/each}
            <span class="text-soft self-center">the frame that is picked in</span>
          </div>
          {#if r.marks.length + r.edges.length + r.uprights.length + r.balls.length === 0}
            <AnyFrame
              desk={d}
              {picture}
              {frame}
              onshown={(one) =>
                void d.edit(room?.picture ?? picture, { picked_in: one }, 'the frame to pick in')}
            />
          {/if}
        {/if}
      {:else}
        <p class="text-soft p-4">This picture cannot be looked at yet.</p>
      {/if}
    {/if}
  {/snippet}
  {#snippet side()}
    {#if room && picture}
      {@const r = room}
      <h2 class="text-lg">
        {r.way === 'balls' ? `How ${picture.name} was lit` : `Where ${picture.name} was taken from`}
      </h2>
      <div class="my-2 flex gap-1" role="group" aria-label="By">
        {#each WAYS as one (one.value)}
          <button
            class={['btn', r.way === one.value && 'btn-main']}
            aria-pressed={r.way === one.value}
            onclick={() => {
              r.way = one.value;
              r.armed = '';
              r.armedFor = null;
            }}>{one.name}</button
          >
        {/each}
      </div>
      {#if r.way === 'marks'}<MarksPanel room={r} />
      {:else if r.way === 'balls'}<BallsPanel room={r} />
      {:else}<EdgesPanel room={r} />{/if}
    {/if}
  {/snippet}
</Desk>
