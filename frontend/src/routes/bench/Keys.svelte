<script lang="ts">
  import Modal from '../../lib/ui/Modal.svelte';

  type Props = { open: boolean; onclose: () => void };
  let { open, onclose }: Props = $props();
  const keys: [string[], string][] = [
    [['w'], 'the world'],
    [['1', '9'], 'the plates, in order'],
    [['h'], 'hide or show the plate in the Frame'],
    [['n'], 'the Frame in tone, or in outline alone'],
    [['f'], 'before or after the best reframe'],
    [['+', '-', '0'], 'the Frame closer, farther, whole'],
    [['l'], 'loupe, one to one'],
    [[',', '.'], 'one frame back, one on'],
    [['t'], 'the next of Stage, Marks, Worth a tape, Set and detail, Planner'],
    [['↑', '↓'], 'in a number: one step; with Shift ten'],
    [['arrows'], 'on an ochre foot: 5 cm in the world; with Shift 50 cm'],
    [
      ['←', '→'],
      'on the rail: one step nearer or farther; with Shift ten; Alt drags without steps',
    ],
    [['Home'], 'on the focus: back to the derived focus'],
    [['Ctrl+Z'], 'undo; with Shift redo'],
    [['Esc'], 'in a number: forget what was typed'],
  ];
</script>

<Modal {open} title="Keys" {onclose}>
  <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
    {#each keys as [names, what], i (i)}
      <dt class="whitespace-nowrap">
        {#each names as name, j (j)}{j > 0 ? ' ' : ''}<kbd>{name}</kbd>{/each}
      </dt>
      <dd>{what}</dd>
    {/each}
  </dl>
</Modal>
