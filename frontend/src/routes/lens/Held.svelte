<script lang="ts">
  /** How to hold the board: nine times, each another way, into every corner. */
  const HELD = [
    [50, 28, 0, 0.75],
    [20, 13, -14, 0.7],
    [80, 13, 16, 0.7],
    [20, 43, 80, 0.7],
    [80, 43, 102, 0.7],
  ] as const;
</script>

<svg
  viewBox="0 0 100 56"
  class="bg-well w-full max-w-56"
  role="img"
  aria-label="A picture with the board in its middle and in every corner, each time turned another way"
>
  {#each HELD as [x, y, turn, size] (`${x} ${y}`)}
    <g transform="translate({x} {y}) rotate({turn}) skewX(-12) scale({size})">
      <rect x="-9" y="-12.7" width="18" height="25.4" fill="var(--card)" stroke="var(--soft)" />
      {#each [0, 1, 2, 3, 4] as row (row)}
        {#each [0, 1, 2, 3] as column (column)}
          {#if (row + column) % 2 === 0}
            <rect x={-8 + 4 * column} y={-11.5 + 4 * row} width="4" height="4" fill="var(--ink)" />
          {/if}
        {/each}
      {/each}
    </g>
  {/each}
</svg>
