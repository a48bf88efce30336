/** A prime stays one when its focal length is typed, and a name that tells the focal length goes on
 * telling it: else whoever types 14 mm over a 35 mm prime owns a zoom that does not exist. */

import type { Lens } from './kit.svelte';

type Focal = Pick<Lens, 'name' | 'focal_min_mm' | 'focal_max_mm'>;

function named(lens: Focal): string {
  const [short, long] = [lens.focal_min_mm, lens.focal_max_mm].map((mm) => String(mm));
  return short === long ? `${short} mm prime` : `${short}–${long} mm zoom`;
}

/** What changes with a focal length, from the lens as it was to the lens as it is typed. */
export function follows(was: Focal, typed: Focal): Partial<Focal> {
  const change: Partial<Focal> = {};
  const prime = was.focal_min_mm === was.focal_max_mm;
  if (prime && typed.focal_min_mm !== was.focal_min_mm && typed.focal_max_mm === was.focal_max_mm)
    change.focal_max_mm = typed.focal_min_mm;
  const now = { ...typed, ...change };
  if (typed.name === named(was) && named(now) !== named(was)) change.name = named(now);
  return change;
}
