/** What a lens was measured to be, said. */

import type { Schemas } from '../api/client';
import { say } from '../quantities';

export type LensMeasure = Schemas['LensMeasureFields'];

/** What its ring is worth. */
export function worthSays(one: LensMeasure): string {
  const off = one.off_mm == null ? '' : ` (± ${say(one.off_mm, 'mm')})`;
  return `${say(one.marked_mm, 'mm')} on the ring are ${say(one.focal_mm, 'mm')}${off}`;
}

/** What else was measured of it: how it bends lines, and its corners. */
export function restSays(one: LensMeasure): string {
  const bends =
    one.k1 || one.k2 ? `k1 ${signed(one.k1)}, k2 ${signed(one.k2)}` : 'lines stay straight';
  if (one.corner_stops == null) return bends;
  const at = one.corner_stop == null ? '' : ` at ${say(one.corner_stop, 'stop')}`;
  return `${bends}; corners ${say(one.corner_stops, 'stops')} darker${at}`;
}

const signed = (value = 0) => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(4)}`;

/** A lens with one more measure; that of the same mark is replaced. */
export function withMeasure(all: readonly LensMeasure[], one: LensMeasure): LensMeasure[] {
  return [...all.filter((other) => other.marked_mm !== one.marked_mm), one].sort(
    (a, b) => a.marked_mm - b.marked_mm,
  );
}
