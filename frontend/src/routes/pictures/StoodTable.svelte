<script lang="ts">
  import { stoodRows, type Stood } from './board';

  /** Where a camera stood, each number with how far off it may be. */
  let { stood }: { stood: Stood } = $props();
</script>

<table class="mt-1" data-testid="stood">
  <tbody>
    {#each stoodRows(stood) as row (row.name)}
      <tr>
        <th scope="row" class="text-soft pr-4 text-left font-normal">{row.name}</th>
        <td class="text-right font-bold whitespace-nowrap tabular-nums">{row.value}</td>
        <td class="text-soft pl-2 whitespace-nowrap tabular-nums">± {row.off}</td>
      </tr>
    {/each}
  </tbody>
</table>
