/** The ways in which numbers may be written, in words. */

import type { Notation } from './units.svelte';

export const NOTATIONS: {
  [K in keyof Notation]: { title: string; options: { value: Notation[K]; name: string }[] };
} = {
  length: {
    title: 'Lengths',
    options: [
      { value: 'metric', name: 'mm and m' },
      { value: 'feet', name: 'feet and inches' },
    ],
  },
  light: {
    title: 'Light',
    options: [
      { value: 'lux', name: 'lux' },
      { value: 'footcandles', name: 'foot-candles' },
    ],
  },
  stop: {
    title: 'Stops',
    options: [
      { value: 'decimal', name: 'f/6.3' },
      { value: 'thirds', name: 'f/5.6⅓' },
    ],
  },
  shutter: {
    title: 'Shutter',
    options: [
      { value: 'angle', name: 'angle' },
      { value: 'time', name: '1/48 s' },
    ],
  },
};
