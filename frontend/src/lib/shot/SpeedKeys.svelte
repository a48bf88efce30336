<script lang="ts">
  import type { Schemas } from '../api/client';

  type SpeedKey = Schemas['RampFields'];
  type Props = {
    keys: SpeedKey[];
    /** The frame in the picture, at which a change is put. */
    frame: number;
    /** What a key is a part of: `of its speed`. */
    of: string;
    /** What it says while there is no key. */
    none: string;
    editable: boolean;
    onchange: (keys: SpeedKey[]) => void;
  };
  let { keys, frame, of, none, editable, onchange }: Props = $props();
  const [LEAST, MOST] = [1, 2000];
  const sorted = $derived([...keys].sort((a, b) => a.frame - b.frame));

  /** A change at another frame; two at one frame there are not. */
  function moveTo(from: number, event: Event & { currentTarget: HTMLInputElement }) {
    const to = Math.round(Number(event.currentTarget.value));
    if (!(to >= 1 && to <= 1_000_000) || keys.some((key) => key.frame === to && to !== from)) {
      event.currentTarget.value = String(from);
      return;
    }
    onchange(keys.map((key) => (key.frame === from ? { ...key, frame: to } : key)));
  }

  function set(at: number, text: string) {
    const percent = Number(text.replace(',', '.'));
    if (!Number.isFinite(percent)) return;
    const speed = Math.min(Math.max(percent, LEAST), MOST) / 100;
    onchange(keys.map((key) => (key.frame === at ? { ...key, speed } : key)));
  }
</script>

{#if keys.length === 0}
  <p class="text-soft text-sm">{none}</p>
{/if}
{#each sorted as key (key.frame)}
  <div class="border-line flex items-center gap-2 border-t py-0.5 text-sm">
    <label class="grow"
      >from frame
      <input
        class="field w-20!"
        type="number"
        min="1"
        max="1000000"
        value={key.frame}
        disabled={!editable}
        onchange={(event) => moveTo(key.frame, event)}
      /></label
    >
    <label
      >at
      <input
        class="field w-20!"
        type="number"
        min={LEAST}
        max={MOST}
        value={Number((key.speed * 100).toPrecision(4))}
        disabled={!editable}
        onchange={(event) => set(key.frame, event.currentTarget.value)}
      />
      % {of}</label
    >
    {#if editable}<button
        class="text-soft underline"
        aria-label={`Remove the change at frame ${key.frame}`}
        onclick={() => onchange(keys.filter((one) => one.frame !== key.frame))}>remove</button
      >{/if}
  </div>
{/each}
{#if editable}
  <button
    class="btn min-h-7! py-0!"
    disabled={keys.some((key) => key.frame === frame)}
    onclick={() => onchange([...keys, { frame, speed: 0.5 }])}>Change speed at frame {frame}</button
  >
{/if}
