<script lang="ts">
  import { length } from '../quantities';

  /** A mark of a plate at hand, or of a card; old cards have no tapes from fixed points. */
  type Mark = {
    stand_in_id: string;
    name: string;
    from_sensor_m: number;
    aside_m: number;
    height_m: number;
    from_left_m?: number | null;
    from_right_m?: number | null;
    foot_m?: number | null;
    weak?: boolean;
  };
  type Props = {
    marks: Mark[];
    /** Large figures, for the set. Default small. */
    large?: boolean;
    /** Names of the two fixed points; with them the tapes from there are shown. */
    fixed?: string[];
  };
  let { marks, large = false, fixed = [] }: Props = $props();
  const taped = $derived(fixed.length === 2 && marks.some((m) => m.from_left_m != null));
  const aside = (m: Mark) =>
    Math.abs(m.aside_m) < 5e-4
      ? 'on the line'
      : `${length(Math.abs(m.aside_m))} ${m.aside_m > 0 ? 'right' : 'left'}`;
</script>

<table class={['w-full', large ? '' : 'text-sm']}>
  <caption class="text-soft text-left text-xs">
    Marks, from below the sensor mark, straight ahead{#if taped}; tapes from the two fixed points,
      on the floor{/if}
  </caption>
  <thead class="text-soft text-xs">
    <tr>
      <th class="text-left font-normal">What</th>
      <th class="text-right font-normal">Ahead</th>
      <th class="pl-2 text-right font-normal">Aside</th>
      <th class="pl-2 text-right font-normal">Tall</th>
      {#if taped}
        {#each fixed as name (name)}<th class="pl-2 text-right font-normal">{name}</th>{/each}
      {/if}
    </tr>
  </thead>
  <tbody>
    {#each marks as mark, i (i)}
      <tr class="border-line border-t">
        <th scope="row" class="text-left font-normal">
          {mark.name}{#if mark.foot_m && Math.abs(mark.foot_m) > 5e-4}
            <span class="text-soft text-xs">foot {length(mark.foot_m)} up</span>{/if}
        </th>
        <td class={['pl-2 text-right font-bold whitespace-nowrap', large ? 'text-lg' : '']}
          >{length(mark.from_sensor_m)}</td
        >
        <td class="pl-2 text-right whitespace-nowrap">{aside(mark)}</td>
        <td class="pl-2 text-right whitespace-nowrap"
          >{mark.height_m ? length(mark.height_m) : ''}</td
        >
        {#if taped}
          <td class="pl-2 text-right whitespace-nowrap">{length(mark.from_left_m ?? NaN)}</td>
          <td class="pl-2 text-right whitespace-nowrap">
            {length(mark.from_right_m ?? NaN)}{#if mark.weak}<span
                title="The tapes cross at less than 20°: a small slip moves the mark far"
              >
                weak</span
              >{/if}
          </td>
        {/if}
      </tr>
    {/each}
  </tbody>
</table>
