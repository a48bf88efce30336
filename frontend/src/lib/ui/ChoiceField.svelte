<script lang="ts">
  type Props = {
    label: string;
    value: string | null;
    options: { value: string; name: string }[];
    /** What an empty choice says; without it there is none. */
    empty?: string;
    problem?: string;
    disabled?: boolean;
    onchange: (value: string | null) => void;
  };
  let { label, value, options, empty, problem = '', disabled = false, onchange }: Props = $props();
  const id = $props.id();
</script>

<div class="grid grid-cols-[auto_minmax(0,13rem)] items-center justify-between gap-x-2 py-px">
  <label for={id} class="text-soft">{label}</label>
  <select
    {id}
    {disabled}
    class="field min-h-7! py-0.5!"
    value={value ?? ''}
    aria-describedby={problem ? `${id}-problem` : undefined}
    onchange={(event) => onchange(event.currentTarget.value || null)}
  >
    {#if empty !== undefined}<option value="">{empty}</option>{/if}
    {#each options as option (option.value)}
      <option value={option.value}>{option.name}</option>
    {/each}
  </select>
  {#if problem}
    <p id="{id}-problem" role="alert" class="col-span-2 text-sm font-semibold">
      {label}: {problem}
    </p>
  {/if}
</div>
