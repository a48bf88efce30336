<script lang="ts">
  type Props = {
    label: string;
    value: string;
    /** Why the server refused it. */
    problem?: string;
    /** Several lines. Default one. */
    rows?: number;
    disabled?: boolean;
    /** Stack the label above. Default beside. */
    stacked?: boolean;
    /** What may be chosen instead of typed, with what stands beside each. */
    suggestions?: { value: string; name: string }[];
    onfocus?: () => void;
    onlive: (value: string) => void;
    oncommit: () => void;
  };
  let {
    label,
    value,
    problem = '',
    rows = 1,
    disabled = false,
    stacked = false,
    suggestions = [],
    onfocus,
    onlive,
    oncommit,
  }: Props = $props();
  const id = $props.id();
  const shared = $derived({
    id,
    disabled,
    'aria-invalid': problem ? ('true' as const) : undefined,
    'aria-describedby': problem ? `${id}-problem` : undefined,
    onblur: () => oncommit(),
    onfocus,
  });
</script>

<div class={stacked || rows > 1 ? '' : 'grid grid-cols-[1fr_11rem] items-center gap-x-2 py-px'}>
  <label for={id} class="text-soft">{label}</label>
  {#if rows > 1}
    <textarea
      {...shared}
      {rows}
      class="field"
      {value}
      oninput={(event) => onlive(event.currentTarget.value)}></textarea>
  {:else}
    <input
      {...shared}
      class={['field min-h-7! py-0.5!', problem ? 'border-ink! border-2!' : '']}
      autocomplete="off"
      list={suggestions.length > 0 ? `${id}-known` : undefined}
      {value}
      oninput={(event) => onlive(event.currentTarget.value)}
      onkeydown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  {/if}
  {#if suggestions.length > 0}
    <datalist id="{id}-known">
      {#each suggestions as one (one.value)}<option value={one.value}>{one.name}</option>{/each}
    </datalist>
  {/if}
  {#if problem}
    <p id="{id}-problem" role="alert" class="col-span-2 py-1 text-sm font-semibold">
      {label}: {problem}
    </p>
  {/if}
</div>
