import type { Schemas } from '../../lib/api/client';

export type Cue = Schemas['CueFields'];
export type LevelKey = Schemas['LevelKeyFields'];

export const MOST_CUES = 8;
export const MOST_KEYS = 60;

export const FIRST_CUE: Cue = {
  kind: 'fire',
  lamp: 0,
  lamp_key: '',
  low: 0.2,
  high: 1,
  per_s: 1.5,
  at_s: 0,
  lasts_s: 0,
  seed: 1,
  beat_id: null,
  keys: [],
};

/** Where a curve by hand begins: up, and down again. */
export const FIRST_KEYS: LevelKey[] = [
  { at_s: 0, level: 0.1 },
  { at_s: 0.5, level: 1 },
  { at_s: 1.5, level: 0.4 },
];

/** Cues as a plate keeps them: the first apart from the others. */
export function stored(all: Cue[]): { cue: Cue | null; more_cues: Cue[] } {
  return { cue: all[0] ?? null, more_cues: all.slice(1) };
}

/** Keys in the order of their time; those at one moment stay as they are. */
export function sorted(keys: LevelKey[]): LevelKey[] {
  return [...keys].sort((a, b) => (a.at_s ?? 0) - (b.at_s ?? 0));
}

/** A moment after the cue begins, on the nearest frame that is shown: `seconds` and `begins` count
 * from the shot's first frame. */
export function onFrame(seconds: number, begins: number, fps: number): number {
  const moment = Math.round(seconds * fps) / fps - begins;
  return Math.max(Math.round(moment * 1e6) / 1e6, 0);
}

/** A level as a whole per cent, 0 to 1. */
export function onLevel(level: number): number {
  return Math.min(Math.max(Math.round(level * 100) / 100, 0), 1);
}
