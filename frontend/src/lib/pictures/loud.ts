/** How loud it is, as it is drawn. */

/** So many decibels under the most that a recording holds count as silence. */
export const QUIET = 60;
/** Decibels above silence, 0 at least. */
export const aboveQuiet = (db: number) => Math.max(db + QUIET, 0);
