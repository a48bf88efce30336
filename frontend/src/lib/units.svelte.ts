/** How quantities are written: as was chosen on this device, else as the production in hand has it.
 * The numbers themselves stay SI. */

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

function kept(): Partial<Notation> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Notation>;
  } catch {
    // What cannot be read is as good as nothing kept.
    return {};
  }
}

let chosen = $state.raw(kept());
let usual = $state.raw(FIRST);
const now = $derived<Notation>({ ...usual, ...chosen });

export const units = {
  get now() {
    return now;
  },
  choose(change: Partial<Notation>) {
    chosen = { ...chosen, ...change };
    localStorage.setItem(KEY, JSON.stringify(chosen));
  },
  /** Whether anything was chosen on this device. */
  get own() {
    return Object.keys(chosen).length > 0;
  },
  /** Take back what was chosen on this device. */
  forget() {
    chosen = {};
    localStorage.removeItem(KEY);
  },
  /** How it is usual where this device is now, in a production or on a card: it holds for what
   * nobody has chosen here. */
  usual(here: Partial<Notation>) {
    usual = { ...FIRST, ...here };
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
