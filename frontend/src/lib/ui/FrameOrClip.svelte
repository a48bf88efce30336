<script lang="ts">
  type Props = {
    /** Whether the clip is looked at. */
    moving: boolean;
  };
  /** What is looked at, where there is a picture of a frame and a clip of all of it. */
  let { moving = $bindable() }: Props = $props();
  const both = [
    { name: 'Frame', value: false },
    { name: 'Clip', value: true },
  ];
</script>

<div class="flex" role="group" aria-label="Frame or clip">
  {#each both as { name, value } (name)}
    <button
      class={['btn', moving === value && 'btn-main']}
      aria-pressed={moving === value}
      onclick={() => (moving = value)}>{name}</button
    >
  {/each}
</div>
