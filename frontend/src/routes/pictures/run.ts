/** What was measured of a clip frame by frame, as it is drawn. */

import type { Schemas } from '../../lib/api/client';
import { aboveQuiet } from '../../lib/pictures/loud';

export type Step = [number | null, number | null];
export type Ran = Schemas['Ran'];

/** The largest departure from nothing among rows, and at least `least`. */
export function reach(rows: Step[][], least: number): number {
  let most = least;
  for (const row of rows) {
    for (const [low, high] of row) {
      if (low !== null && high !== null) most = Math.max(most, Math.abs(low), Math.abs(high));
    }
  }
  return most;
}

/** Loudness as it is drawn: decibels above silence. */
export function louder(row: Step[]): Step[] {
  const one = (db: number | null) => (db === null ? null : aboveQuiet(db));
  return row.map(([low, high]) => [one(low), one(high)]);
}

/** The outline of a row from lowest to highest, broken where nothing was told. */
export function outline(
  row: Step[],
  x: (step: number) => number,
  y: (value: number) => number,
): string {
  const paths: string[] = [];
  let upper: string[] = [];
  let lower: string[] = [];
  const close = () => {
    if (upper.length > 0) paths.push(`M${[...upper, ...lower.reverse()].join('L')}Z`);
    upper = [];
    lower = [];
  };
  row.forEach(([low, high], n) => {
    if (low === null || high === null) {
      close();
      return;
    }
    upper.push(`${x(n).toFixed(1)} ${y(high).toFixed(1)}`);
    lower.push(`${x(n).toFixed(1)} ${y(low).toFixed(1)}`);
  });
  close();
  return paths.join('');
}

/** The frame among `looks` that lies nearest to another. */
export function nearest(looks: number[], frame: number): number {
  return looks.reduce(
    (best, one) => (Math.abs(one - frame) < Math.abs(best - frame) ? one : best),
    looks[0] ?? 1,
  );
}

/** The frame that a finding speaks of; null for none. */
export function frameOf(finding: Pick<Schemas['Finding'], 'workings'>): number | null {
  for (const working of finding.workings ?? []) {
    const told = working.inputs.find((one) => one.name === 'frame');
    if (told) return Math.round(told.value);
  }
  return null;
}
