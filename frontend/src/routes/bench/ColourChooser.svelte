<script lang="ts">
  import type { Schemas } from '../../lib/api/client';
  import type { SavedRecord } from '../../lib/edit/record.svelte';
  import { css, SWATCH_KINDS } from '../../lib/light';
  import type { OpenShot } from '../../lib/shot/open-shot.svelte';
  import type { Plate } from '../../lib/shot/plan';

  type Props = {
    bench: OpenShot;
    record: SavedRecord<Plate>;
    choices: Schemas['ScreenChoice'][];
  };
  let { bench, record, choices }: Props = $props();
  type Swatch = Schemas['SwatchFields'];
  const swatches = $derived((record.draft.swatches ?? []) as Swatch[]);
  const plain = () => $state.snapshot(swatches) as Swatch[];
  let name = $state('');
  let kind = $state<NonNullable<Swatch['kind']>>('wardrobe');
  let colour = $state('#7a6a50');
  let still = $state.raw<ImageBitmap | null>(null);
  let problem = $state('');
  let canvas = $state.raw<HTMLCanvasElement | null>(null);

  const hex = (s: Swatch) =>
    `#${[s.red, s.green, s.blue].map((v) => v.toString(16).padStart(2, '0')).join('')}`;
  function keep(next: Swatch[], label: string) {
    bench.change(record, 'swatches', next, label);
  }
  function add() {
    const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((i) =>
      parseInt(colour.slice(i, i + 2), 16),
    );
    const called = name.trim() || SWATCH_KINDS.find((k) => k.value === kind)!.name;
    keep([...plain(), { name: called, kind, red, green, blue }], 'Pick a colour');
    name = '';
  }
  async function open(event: Event & { currentTarget: HTMLInputElement }) {
    const file = event.currentTarget.files?.[0];
    event.currentTarget.value = '';
    if (!file) return;
    try {
      still = await createImageBitmap(file);
      problem = '';
    } catch {
      problem = `${file.name} is not a picture that this browser can read. Try a PNG or JPEG.`;
    }
  }
  $effect(() => {
    if (!still || !canvas) return;
    const wide = Math.min(still.width, 640);
    canvas.width = wide;
    canvas.height = Math.round((still.height / still.width) * wide);
    canvas
      .getContext('2d', { willReadFrequently: true })!
      .drawImage(still, 0, 0, canvas.width, canvas.height);
  });
  /** The mean of five by five pixels: one pixel is noise. */
  function pick(event: PointerEvent & { currentTarget: HTMLCanvasElement }) {
    const box = event.currentTarget.getBoundingClientRect();
    const x = Math.round(((event.clientX - box.left) / box.width) * event.currentTarget.width);
    const y = Math.round(((event.clientY - box.top) / box.height) * event.currentTarget.height);
    const { data } = event.currentTarget
      .getContext('2d', { willReadFrequently: true })!
      .getImageData(Math.max(x - 2, 0), Math.max(y - 2, 0), 5, 5);
    const mean = [0, 0, 0];
    for (let i = 0; i < data.length; i += 4)
      for (let c = 0; c < 3; c++) mean[c]! += data[i + c]! / 25;
    colour = `#${mean.map((v) => Math.round(Math.min(v, 255)).toString(16).padStart(2, '0')).join('')}`;
  }
  const verdict = (score: number) =>
    score >= 0.75 ? 'keys' : score >= 0.3 ? 'with work' : 'does not key';
</script>

<section aria-label="Which screen" class="min-w-0">
  <h3>Which screen for these colours</h3>
  {#if swatches.length}
    <ul class="flex flex-wrap gap-1.5 text-sm" aria-label="Colours before the screen">
      {#each swatches as swatch, i (i)}
        <li class="border-line flex items-center gap-1 border pr-1">
          <span class="block h-6 w-6" style:background={hex(swatch)} aria-hidden="true"></span>
          {swatch.name} <span class="text-soft text-xs">{swatch.kind}</span>
          {#if bench.editable}
            <button
              class="text-soft px-1"
              aria-label={`Take ${swatch.name} away`}
              onclick={() =>
                keep(
                  plain().filter((_, j) => j !== i),
                  'Take a colour away',
                )}>×</button
            >
          {/if}
        </li>
      {/each}
    </ul>
  {:else}
    <p class="text-soft text-sm">
      Pick skin, hair, each piece of wardrobe and every prop that plays before the screen, from a
      still or by hand; then every screen says how well it keys.
    </p>
  {/if}
  {#if bench.editable}
    <div class="mt-1 flex flex-wrap items-end gap-1.5 text-sm">
      <label>
        <span class="text-soft block text-xs">Colour</span>
        <input type="color" class="h-8 w-10" bind:value={colour} />
      </label>
      <label>
        <span class="text-soft block text-xs">Of what</span>
        <input
          class="field min-h-8! w-32! py-0.5!"
          maxlength="60"
          placeholder="Oilskin"
          bind:value={name}
        />
      </label>
      <label>
        <span class="text-soft block text-xs">Kind</span>
        <select class="field min-h-8! w-32! py-0.5!" bind:value={kind}>
          {#each SWATCH_KINDS as k (k.value)}<option value={k.value}>{k.name}</option>{/each}
        </select>
      </label>
      <button class="btn" onclick={add}>Add</button>
      <label class="btn cursor-pointer">
        From a still
        <input class="sr-only" type="file" accept="image/*" onchange={open} />
      </label>
    </div>
    {#if problem}<p role="alert" class="text-sm font-semibold">{problem}</p>{/if}
    {#if still}
      <div class="mt-1">
        <canvas
          bind:this={canvas}
          class="max-h-52 max-w-full cursor-crosshair"
          aria-label="The still: press where the colour is"
          onpointerdown={pick}
        ></canvas>
        <p class="text-soft text-xs">
          Press where the colour is, name it, and add it. The still stays on this device.
          <button class="underline" onclick={() => (still = null)}>Close it</button>
        </p>
      </div>
    {/if}
  {/if}
  {#if choices.length}
    <table class="mt-1 w-full text-sm" data-testid="screen-choices">
      <thead class="text-soft text-xs">
        <tr>
          <th class="text-left font-normal">Screen, best first</th>
          <th class="pl-2 text-left font-normal">Its worst colour</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        {#each choices as choice (choice.screen)}
          {@const own = choice.screen === (record.draft.screen_colour ?? 'green')}
          <tr class="border-line border-t align-top">
            <th scope="row" class={['py-0.5 text-left', own ? 'font-bold' : 'font-normal']}>
              <span class="flex items-center gap-1.5 whitespace-nowrap">
                <span class="border-line block h-4 w-4 border" style:background={css(choice.rgb)}
                ></span>
                {choice.name}
              </span>
              <span class="text-soft text-xs">{verdict(choice.score)}</span>
            </th>
            <td class="pl-2">
              <span class="border-line block h-2 w-full border">
                <span class="bg-ink block h-full opacity-60" style:width="{choice.score * 100}%"
                ></span>
              </span>
              <span class="text-xs">{choice.reason}.</span>
            </td>
            <td class="pl-2 text-right">
              {#if own}<span class="text-soft text-xs">planned</span>
              {:else if bench.editable}
                <button
                  class="text-xs underline"
                  onclick={() =>
                    bench.change(record, 'screen_colour', choice.screen, 'Screen colour')}
                  >Use it</button
                >
              {/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</section>
