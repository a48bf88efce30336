<script lang="ts">
  import ChoiceField from '../ui/ChoiceField.svelte';
  import { FIRST_VIEW } from './views';

  type Props = {
    label?: string;
    views: { id: string; name: string }[];
    value: string | null;
    problem?: string;
    disabled?: boolean;
    onchange: (id: string | null) => void;
  };
  let { label = 'View', views, value, problem, disabled, onchange }: Props = $props();
</script>

{#if views.length > 0}
  <ChoiceField
    {label}
    {value}
    empty={FIRST_VIEW}
    options={views.map((view) => ({ value: view.id, name: view.name }))}
    {problem}
    {disabled}
    {onchange}
  />
{/if}
