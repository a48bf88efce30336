/** How quantities are written on this device. Kept here; the numbers themselves stay SI. */

export type Notation = {
  length: 'metric' | 'feet';
  light: 'lux' | 'footcandles';
  stop: 'decimal' | 'thirds';
  /** How a shutter is written where a rate is known. */
  shutter: 'angle' | 'time';
};
export const FIRST: Notation = {
  length: 'metric',
  light: 'lux',
  stop: 'decimal',
  shutter: 'angle',
};
const KEY = 'jungoptic.units';

function kept(): Notation {
  try {
    const stored: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return { ...FIRST, ...(stored as Partial<Notation>) };
  } catch {
    // What cannot be read is as good as nothing kept.
    return FIRST;
  }
}

let now = $state.raw<Notation>(kept());

export const units = {
  get now() {
    return now;
  },
  choose(change: Partial<Notation>) {
    now = { ...now, ...change };
    localStorage.setItem(KEY, JSON.stringify(now));
  },
  /** What the server words its sentences in. */
  get asked() {
    return { length: now.length, light: now.light, stop: now.stop };
  },
  /** The same as a query of an address. */
  get query() {
    return `length=${now.length}&light=${now.light}&stop=${now.stop}`;
  },
};
