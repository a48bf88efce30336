/** How each layer looks: line, dash, colour. The picture under them is paper in both themes. */

import type { Layer } from './sketches.svelte';

export type Looks = {
  name: string;
  colour: string;
  width: number;
  dash: string;
  /** An area rather than a line. */
  closed: boolean;
  arrow: boolean;
};

const line = (name: string, colour: string, width: number, dash = 'none'): Looks => ({
  name,
  colour,
  width,
  dash,
  closed: false,
  arrow: false,
});

export const LOOKS: Record<Layer, Looks> = {
  matte: line('Matte line', '#7a1f5c', 4),
  holdout: { ...line('Hold-out', '#7a1f5c', 2.5, '10 5'), closed: true },
  remove: line('Remove in post', '#8a5a00', 3, '2 5'),
  split: line('Split', '#0b4f7d', 3.5, '22 6'),
  action: { ...line('Action path', '#1d5b3a', 3), arrow: true },
  tracking: line('Tracking marker', '#0b4f7d', 2.5),
  reference: line('Reference point', '#3b372f', 2.5),
};

/** A cross of 16 by 16 units. */
export function onCross(x: number, y: number): string {
  return `M${x - 8} ${y}h16M${x} ${y - 8}v16`;
}
