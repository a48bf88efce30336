<script lang="ts">
  import type { Schemas } from '../api/client';
  import { alone, pair } from './geometry';
  import StageDrawing from './StageDrawing.svelte';
  import type { Look } from './zoom';

  type Props = {
    elevation: Schemas['Drawing'];
    plan: Schemas['Drawing'];
    /** What the stage is called. */
    name: string;
    /** Height to fill, in pixels; without it the pair fills its box. */
    height?: number;
    selectedStandIn?: string | null;
    editable?: boolean;
    onselect?: (standIn: string) => void;
    /** A stand-in is dragged: stage metres to the right of the camera and away from it. */
    onmove?: (standIn: string, right: number, away: number) => void;
    ondrop?: (standIn: string) => void;
    /** The lens axis is dragged up by stage metres. */
    onaxis?: (up: number) => void;
    onaxisdrop?: () => void;
    /** A lamp is dragged: stage metres to the right, away, and up. */
    onlamp?: (lamp: number, right: number, away: number, up: number) => void;
    onlampdrop?: () => void;
    /** How closely both are looked at. */
    look?: Look;
    onlook?: (look: Look) => void;
    /** Whether the whole room is shown. Default off. */
    showRoom?: boolean;
    /** How the light lies over the plan. */
    map?: Schemas['LightMap'] | null;
    /** Only the plan, as large as the box. Default both. */
    planOnly?: boolean;
    /** How wide what lies over its upper right corner is, pixels. Default nothing. */
    controls?: number;
  };
  let {
    elevation,
    plan,
    name,
    height,
    selectedStandIn = null,
    editable = false,
    onselect,
    onmove,
    ondrop,
    onaxis,
    onaxisdrop,
    onlamp,
    onlampdrop,
    look,
    onlook,
    showRoom = false,
    map = null,
    planOnly = false,
    controls = 0,
  }: Props = $props();

  let boxWidth = $state(720);
  let boxHeight = $state(360);
  const room = $derived(height ?? boxHeight);
  const sizes = $derived(
    planOnly
      ? alone(plan.bounds, boxWidth, room)
      : showRoom && elevation.room && plan.room
        ? pair(elevation.room, plan.room, boxWidth, room)
        : pair(elevation.bounds, plan.bounds, boxWidth, room),
  );
  const shared = $derived({
    width: sizes.width,
    scale: sizes.scale,
    selectedStandIn,
    editable,
    onselect,
    ondrop,
    onlampdrop,
    look,
    onlook,
    room: showRoom,
  });
</script>

<div
  class={[
    'flex h-full min-h-0 overflow-hidden',
    sizes.sideBySide ? 'flex-row' : 'flex-col justify-evenly',
  ]}
  bind:clientWidth={boxWidth}
  bind:clientHeight={boxHeight}
  style:height={height ? `${height}px` : undefined}
>
  {#if !planOnly}<StageDrawing
      {...shared}
      drawing={elevation}
      title={`${name}: side elevation`}
      height={sizes.upper}
      covered={sizes.sideBySide ? 0 : controls}
      onmove={onmove && ((id, du) => onmove(id, 0, du))}
      {onaxis}
      {onaxisdrop}
      onlamp={onlamp && ((lamp, du, dv) => onlamp(lamp, 0, du, dv))}
    />{/if}
  <StageDrawing
    {...shared}
    drawing={plan}
    title={planOnly ? `${name}: plan, from above` : 'plan, from above'}
    caption={planOnly ? `${name}: plan, from above` : 'plan'}
    scaleBar
    {map}
    covered={planOnly || sizes.sideBySide ? controls : 0}
    height={sizes.lower}
    onmove={onmove && ((id, du, dv) => onmove(id, -dv, du))}
    onlamp={onlamp && ((lamp, du, dv) => onlamp(lamp, -dv, du, 0))}
  />
</div>
