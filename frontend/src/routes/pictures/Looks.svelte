<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Picture } from '../../lib/pictures/sending.svelte';
  import Compared, { type Way } from '../../lib/ui/Compared.svelte';
  import WayChoice from '../../lib/ui/WayChoice.svelte';
  import AnyFrame from './AnyFrame.svelte';
  import type { Area } from './area';
  import AreaBox from './AreaBox.svelte';
  import AreaSides from './AreaSides.svelte';
  import type { PictureDesk } from './desk.svelte';
  import PairPanel from './PairPanel.svelte';
  import { nearest } from './run';

  type Props = {
    desk: PictureDesk;
    picture: Picture;
    /** The part that is measured; null for all of it. */
    area: Area | null;
    onarea: (area: Area | null) => void;
    /** Drawn over the picture, which is so large in its own units. */
    over?: Snippet;
  };
  let { desk, picture, area, onarea, over }: Props = $props();
  let at = $state(0);
  /** The frame that was asked for, which may lie between those that can be looked at. */
  let asked = $state<number | null>(null);
  let strip = $state<HTMLDivElement>();
  /** The frame that is looked at is seen in the strip too, without the page being moved. */
  $effect(() => {
    const [row, own] = [strip, strip?.children[at]];
    if (!row || !(own instanceof HTMLElement)) return;
    const [left, right] = [own.offsetLeft, own.offsetLeft + own.offsetWidth];
    if (left < row.scrollLeft) row.scrollLeft = left;
    else if (right > row.scrollLeft + row.clientWidth) row.scrollLeft = right - row.clientWidth;
  });
  /** Whether a part of the picture is being chosen. */
  let parting = $state(false);
  let way = $state<Way>('wipe');
  /** Whether pixels are shown as they are, to be pushed about, or the whole picture. */
  let close = $state(false);
  let frame = $state<HTMLDivElement>();
  /** What changed between the two, drawn over them; none unless it is asked for. */
  let overlay = $state<string | null>(null);
  const looks = $derived(picture.looks);
  const here = $derived(looks[Math.min(at, looks.length - 1)] ?? 1);
  const other = $derived(desk.beside && desk.beside.id !== picture.id ? desk.beside : null);
  /** The frame of the other that lies at the same part of it. */
  const there = $derived.by(() => {
    if (!other) return 1;
    const part = looks.length > 1 ? at / (looks.length - 1) : 0;
    return other.looks[Math.round(part * (other.looks.length - 1))] ?? 1;
  });
  // The same picture is told of anew while others arrive.
  const pk = $derived(picture.id);
  $effect(() => {
    void pk;
    at = 0;
    close = false;
    asked = null;
    parting = false;
  });

  /** The frame that is looked at. */
  export function shown() {
    return here;
  }
  /** Look at the frame nearest to this one. */
  export function go(frame: number) {
    at = Math.max(looks.indexOf(nearest(looks, frame)), 0);
    asked = frame;
  }
  export function turn(by: number) {
    at = Math.min(Math.max(at + by, 0), looks.length - 1);
    asked = null;
  }
  export function toggle() {
    close = !close;
  }

  function part() {
    parting = !parting;
    close = false;
    onarea(null);
  }

  let held: { x: number; y: number; left: number; top: number } | null = null;
  function grab(event: PointerEvent) {
    if (!close || !frame) return;
    held = { x: event.clientX, y: event.clientY, left: frame.scrollLeft, top: frame.scrollTop };
    frame.setPointerCapture(event.pointerId);
  }
  function push(event: PointerEvent) {
    if (!held || !frame) return;
    frame.scrollLeft = held.left - (event.clientX - held.x);
    frame.scrollTop = held.top - (event.clientY - held.y);
  }
</script>

{#snippet changed()}
  <img
    src={overlay}
    alt=""
    data-testid="changed"
    class="pointer-events-none absolute inset-0 h-full w-full object-fill"
  />
{/snippet}
{#snippet drawing()}
  <AreaBox width={picture.look_width_px} height={picture.look_height_px} {area} {onarea} />
{/snippet}
{#snippet over_both()}
  {#if overlay}{@render changed()}{/if}
  {#if parting}{@render drawing()}{/if}
{/snippet}
{#if looks.length > 0}
  {#if other}
    <div class="mb-2 flex flex-wrap items-center gap-2">
      <WayChoice {way} onchange={(one) => (way = one)} />
      <span class="text-soft text-sm">with {other.name}, frame {there}</span>
      <button class="btn ml-auto" onclick={() => (desk.beside = null)}>Alone</button>
    </div>
    <Compared
      {way}
      aspect="{picture.look_width_px} / {picture.look_height_px}"
      first={{
        src: desk.look(picture, here),
        name: picture.name,
        alt: `${picture.name}, frame ${here}`,
      }}
      second={{
        src: desk.look(other, there),
        name: other.name,
        alt: `${other.name}, frame ${there}`,
      }}
      marks={overlay || parting ? over_both : undefined}
    />
    {#key `${picture.id} ${here} ${other.id} ${there} ${area?.join(' ')}`}
      <PairPanel
        production={desk.production}
        first={picture}
        firstFrame={here}
        second={other}
        secondFrame={there}
        {area}
        onoverlay={(src) => (overlay = src)}
      />
    {/key}
  {:else}
    <!-- The keys that move it are those of scrolling. -->
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      bind:this={frame}
      class={[
        'border-line bg-well relative border',
        close ? 'max-h-[52vh] cursor-grab touch-none overflow-auto' : 'grid place-items-center',
      ]}
      role="region"
      aria-label="The picture{close ? ', pixel by pixel' : ''}"
      tabindex={close ? 0 : undefined}
      data-testid="look"
      data-close={close}
      onpointerdown={grab}
      onpointermove={push}
      onpointerup={() => (held = null)}
    >
      <img
        src={desk.look(picture, here)}
        alt="{picture.name}, frame {here}"
        class={close ? 'max-w-none select-none' : 'max-h-[52vh] max-w-full object-contain'}
        width={picture.look_width_px}
        height={picture.look_height_px}
        draggable="false"
        style:height={close ? undefined : 'auto'}
      />
      {#if over && !close}{@render over()}{/if}
      {#if parting && !close}
        <div
          class="absolute inset-0 m-auto max-h-[52vh] max-w-full"
          style:width="{picture.look_width_px}px"
          style:aspect-ratio="{picture.look_width_px} / {picture.look_height_px}"
        >
          {@render drawing()}
        </div>
      {/if}
    </div>
  {/if}
  <div class="mt-1 flex items-center gap-2 text-sm">
    {#if looks.length > 1}
      <div
        bind:this={strip}
        class="relative flex min-w-0 flex-1 gap-px overflow-x-auto"
        role="group"
        aria-label="Frames"
      >
        {#each looks as one, n (one)}
          <button
            class={['border-2', n === at ? 'border-ochre' : 'border-transparent']}
            aria-label="Frame {one}"
            aria-pressed={n === at}
            onclick={() => {
              at = n;
              asked = null;
            }}
          >
            <img
              src={desk.look(picture, one)}
              alt=""
              loading="lazy"
              class="h-8 w-auto max-w-none"
              width={picture.look_width_px}
              height={picture.look_height_px}
            />
          </button>
        {/each}
      </div>
    {/if}
    <span class="whitespace-nowrap tabular-nums"
      >frame {here}{picture.facts ? ` of ${picture.facts.frames.toLocaleString()}` : ''}</span
    >
    <button
      class={['btn', parting && 'btn-main']}
      aria-pressed={parting}
      title="Measure only a part of it: draw it over the picture"
      onclick={part}>A part</button
    >
    {#if !other}
      <button class="btn" aria-pressed={close} onclick={toggle} title="z">
        {close ? 'Whole' : 'Pixels'}
      </button>
    {/if}
  </div>
  {#if parting}
    {#if area}<AreaSides {area} {onarea} />{:else}
      <p class="text-soft text-sm">
        Draw the part over the picture.
        <button class="underline" onclick={() => onarea([0.25, 0.25, 0.75, 0.75])}
          >The middle half</button
        >
      </p>
    {/if}
  {/if}
  <AnyFrame {desk} {picture} frame={asked ?? here} onshown={go} />
{/if}
