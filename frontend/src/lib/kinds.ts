/** The kinds of plate, in words. */

import type { Schemas } from './api/client';

export type PlateKind = Schemas['PlateOut']['kind'];

export const KINDS: Record<PlateKind, { name: string; short: string }> = {
  miniature: { name: 'Miniature', short: 'miniature' },
  screen: { name: 'Performer on a screen', short: 'on a screen' },
  live: { name: 'Live plate', short: 'live' },
  puppet: { name: 'Puppet, frame by frame', short: 'puppet' },
  element: { name: 'Element over black', short: 'over black' },
  still: { name: 'Still, painting or sky', short: 'still' },
};

/** How far a plate is, by `core.progress.Step`. */
export const STEPS = ['named', 'planned', 'on a card', 'filmed', 'take chosen'];

export const CUTS: { value: string; name: string }[] = [
  { value: 'none', name: 'not cut' },
  { value: 'split', name: 'split along a line' },
  { value: 'key', name: 'keyed' },
  { value: 'luma', name: 'pulled by brightness' },
  { value: 'roto', name: 'cut out by hand' },
];

/** How a move begins and ends. */
export const EASES = [
  { value: 'both', name: 'starts and ends at rest' },
  { value: 'in', name: 'starts at rest' },
  { value: 'out', name: 'comes to rest' },
  { value: 'even', name: 'at one speed' },
];

/** Hours in words: `40 min`, `1.5 h`, `26 h`; no line ends between a number and its unit. */
export function hours(value: number): string {
  if (value === 0) return '0\u00a0h';
  if (value < 0.95) return `${Math.max(1, Math.round(value * 60))}\u00a0min`;
  return `${value < 20 ? value.toFixed(1) : Math.round(value)}\u00a0h`;
}

export type Range = { low: number; likely: number; high: number };

/** `1.5 h (50 min to 2.8 h)`. */
export function range(r: Range): string {
  return `${hours(r.likely)} (${hours(r.low)} to ${hours(r.high)})`;
}

/** How a camera stands: the side that is down, as its operator sees it from behind. */
export const SIDES: { value: '' | 'left' | 'right'; name: string }[] = [
  { value: '', name: 'stands upright' },
  { value: 'left', name: 'on its side, the left one down' },
  { value: 'right', name: 'on its side, the right one down' },
];

/** What a camera turns about, in the words of the trade. */
export const TURNS = [
  { value: 'socket' as const, name: 'its tripod socket' },
  { value: 'mark' as const, name: 'its sensor mark' },
  { value: 'pupil' as const, name: 'its entrance pupil' },
];
