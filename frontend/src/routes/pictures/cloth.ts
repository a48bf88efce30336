/** What came of measuring one frame. */

import type { Schemas } from '../../lib/api/client';

export type Trial = {
  cloth: number;
  kept: number;
  /** Null where whoever stands there is too small in the picture to tell. */
  holes: number | null;
  veil: number;
  edge_px: number | null;
  spill: number;
};
export type Area = { left: number; top: number; right: number; bottom: number; stops: number };
export type Measured = {
  frame: number;
  colour: string | null;
  /** Left, top, right, bottom: parts of the picture; what follows is told in parts of this. */
  area: [number, number, number, number];
  findings: Schemas['Finding'][];
  trial?: Trial;
  lines?: { stops: number; points: [number, number][] }[];
  areas?: Area[];
  ways?: (Trial & { sampling: string; bits: number; lost: number })[];
};

/** A difference of light in stops, as it stands on the map. */
export function signed(stops: number): string {
  const shown = Math.abs(stops).toFixed(1);
  if (shown === '0.0') return '0';
  return `${stops > 0 ? '+' : '−'}${shown}`;
}

/** How an area is tinted: warm where it is brighter than the mean, cold where it is darker. */
export function tint(stops: number): string {
  const strength = Math.min(Math.abs(stops) / 1.2, 1) * 0.65;
  return stops > 0 ? `rgb(230 120 20 / ${strength})` : `rgb(30 90 200 / ${strength})`;
}
