<script lang="ts">
  type Place = [number, number];
  type Props = {
    /** Right and down, parts of the picture that lies under this. */
    place: Place;
    onchoose: (place: Place) => void;
  };
  let { place = $bindable(), onchoose }: Props = $props();

  const STEP = 0.02;
  const WAYS: Record<string, Place> = {
    ArrowLeft: [-STEP, 0],
    ArrowRight: [STEP, 0],
    ArrowUp: [0, -STEP],
    ArrowDown: [0, STEP],
  };
  const inside = (part: number) => Math.min(Math.max(part, 0), 1);

  function tapped(event: MouseEvent & { currentTarget: HTMLElement }) {
    // From the keyboard there is no pointer: the cross stands where arrows put it.
    if (event.detail > 0) {
      const box = event.currentTarget.getBoundingClientRect();
      place = [
        inside((event.clientX - box.left) / box.width),
        inside((event.clientY - box.top) / box.height),
      ];
    }
    onchoose(place);
  }
  function moved(event: KeyboardEvent) {
    const way = WAYS[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    place = [inside(place[0] + way[0]), inside(place[1] + way[1])];
  }
</script>

<button
  class="absolute inset-0 h-full w-full cursor-crosshair"
  aria-label="Look closely at this place; arrow keys move it"
  title="Tap a place to see it pixel for pixel, as the card keeps it"
  onclick={tapped}
  onkeydown={moved}
>
  <span
    class="pointer-events-none absolute size-5 -translate-x-1/2 -translate-y-1/2"
    style:left="{place[0] * 100}%"
    style:top="{place[1] * 100}%"
  >
    <span class="border-ochre-ink absolute inset-y-0 left-1/2 border-l"></span>
    <span class="border-ochre-ink absolute inset-x-0 top-1/2 border-t"></span>
  </span>
</button>
