<script lang="ts">
  import type { Schemas } from '../api/client';
  import { pair } from './geometry';
  import StageDrawing from './StageDrawing.svelte';

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
  }: Props = $props();

  let boxWidth = $state(720);
  let boxHeight = $state(360);
  const room = $derived(height ?? boxHeight);
  const sizes = $derived(pair(elevation.bounds, plan.bounds, boxWidth, room));
  const shared = $derived({
    width: sizes.width,
    scale: sizes.scale,
    selectedStandIn,
    editable,
    onselect,
    ondrop,
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
  <StageDrawing
    {...shared}
    drawing={elevation}
    title={`${name}: side elevation`}
    height={sizes.upper}
    onmove={onmove && ((id, du) => onmove(id, 0, du))}
    {onaxis}
    {onaxisdrop}
  />
  <StageDrawing
    {...shared}
    drawing={plan}
    title="plan, from above"
    scaleBar
    height={sizes.lower}
    onmove={onmove && ((id, du, dv) => onmove(id, -dv, du))}
  />
</div>
