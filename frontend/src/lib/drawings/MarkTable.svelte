<script lang="ts">
  import type { Schemas } from '../api/client';
  import { length } from '../quantities';

  type Props = {
    marks: Schemas['Mark'][];
    /** Large figures, for the set. Default small. */
    large?: boolean;
  };
  let { marks, large = false }: Props = $props();
  const aside = (m: Schemas['Mark']) =>
    Math.abs(m.aside_m) < 5e-4
      ? 'on the line'
      : `${length(Math.abs(m.aside_m))} ${m.aside_m > 0 ? 'right' : 'left'}`;
</script>

<table class={['w-full', large ? '' : 'text-sm']}>
  <caption class="text-soft text-left text-xs">
    Marks, from below the sensor mark along the centre line
  </caption>
  <thead class="text-soft text-xs">
    <tr>
      <th class="text-left font-normal">What</th>
      <th class="text-right font-normal">Ahead</th>
      <th class="pl-2 text-right font-normal">Aside</th>
      <th class="pl-2 text-right font-normal">Tall</th>
    </tr>
  </thead>
  <tbody>
    {#each marks as mark (mark.stand_in_id)}
      <tr class="border-line border-t">
        <th scope="row" class="text-left font-normal">{mark.name}</th>
        <td class={['text-right font-bold whitespace-nowrap', large ? 'text-lg' : '']}
          >{length(mark.from_sensor_m)}</td
        >
        <td class="pl-2 text-right whitespace-nowrap">{aside(mark)}</td>
        <td class="pl-2 text-right whitespace-nowrap">{length(mark.height_m)}</td>
      </tr>
    {/each}
  </tbody>
</table>
