/** A clip or a sequence beside the rows of a sheet: which of its frames stands at which row. */

import type { Schemas } from '../../lib/api/client';
import { aboveQuiet, QUIET } from '../../lib/pictures/loud';

export type Strip = Schemas['StripOut'];

/** The frame (from 1) that stands beside a row; null where there is none. `at`: the row of its first
 * one; `fps`: the sheet's rate. */
export function besideOf(
  strip: Pick<Strip, 'frames' | 'fps'>,
  at: number,
  row: number,
  fps: number,
): number | null {
  const frame = 1 + Math.round(((row - at) * (strip.fps ?? fps)) / fps);
  return frame >= 1 && frame <= strip.frames ? frame : null;
}

/** Where the small picture of a frame lies: the number of its sheet, and how far along it and down
 * it, percent as a background is placed. */
export function placeOf(strip: Pick<Strip, 'across' | 'down'>, frame: number) {
  const each = strip.across * strip.down;
  const [sheet, within] = [Math.floor((frame - 1) / each), (frame - 1) % each];
  const part = (n: number, of: number) => (of > 1 ? (100 * n) / (of - 1) : 0);
  return {
    sheet: sheet + 1,
    x: part(within % strip.across, strip.across),
    y: part(Math.floor(within / strip.across), strip.down),
  };
}

/** How loud a frame is, 0 to 1 as it is drawn; 0 without sound. */
export function loudness(strip: Pick<Strip, 'loud'>, frame: number): number {
  const db = strip.loud[frame - 1];
  return db === undefined ? 0 : Math.min(aboveQuiet(db) / QUIET, 1);
}
