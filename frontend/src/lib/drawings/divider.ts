/** The points of a divider, parts of the picture: moved, bent, straightened. */

export type Point = readonly [number, number];
export type LineKey = { frame?: number; points: number[][] };

const fine = (v: number) => Math.round(Math.min(Math.max(v, -1), 2) * 1e5) / 1e5;

/** A line in the picture shown so many times as close about its middle: lines are kept as they lie
 * before a zoom. */
export function closer(points: readonly Point[], times: number): Point[] {
  return points.map(([x, y]): Point => [0.5 + (x - 0.5) * times, 0.5 + (y - 0.5) * times]);
}

/** The points as pairs. */
export function pairs(points: readonly (readonly number[])[]): Point[] {
  return points.map(([x = 0, y = 0]) => [x, y]);
}

/** One point moved; its neighbours keep above and below it, so that the line never folds. */
export function moveInOrder(points: readonly Point[], index: number, dx: number, dy: number) {
  const low = index > 0 ? points[index - 1]![1] + 0.005 : -1;
  const high = index < points.length - 1 ? points[index + 1]![1] - 0.005 : 2;
  return points.map(([x, y], i): Point =>
    i === index
      ? [fine(x + dx), fine(Math.min(Math.max(y + dy, low), Math.max(high, low)))]
      : [x, y],
  );
}

/** A new point in the middle of the longest piece. */
export function bent(points: readonly Point[]): Point[] {
  let longest = 0;
  let at = 1;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1]!, points[i]!];
    const long = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (long > longest) [longest, at] = [long, i];
  }
  const [a, b] = [points[at - 1]!, points[at]!];
  const middle: Point = [fine((a[0] + b[0]) / 2), fine((a[1] + b[1]) / 2)];
  return [...points.slice(0, at), middle, ...points.slice(at)];
}

/** The line with its ends only. */
export function straight(points: readonly Point[]): Point[] {
  return [points[0]!, points[points.length - 1]!];
}

/** Where the line runs at a frame: between keys with as many points each goes straight, else the
 * last key before stands (the core draws the exact line). */
export function pointsAt(keys: readonly LineKey[], frame: number): Point[] {
  const sorted = [...keys].sort((a, b) => (a.frame ?? 1) - (b.frame ?? 1));
  const after = sorted.findIndex((key) => (key.frame ?? 1) > frame);
  if (sorted.length === 0) return [];
  if (after === 0) return pairs(sorted[0]!.points);
  if (after < 0) return pairs(sorted[sorted.length - 1]!.points);
  const [a, b] = [sorted[after - 1]!, sorted[after]!];
  if (a.points.length !== b.points.length) return pairs(a.points);
  const part = (frame - (a.frame ?? 1)) / ((b.frame ?? 1) - (a.frame ?? 1));
  const [from, to] = [pairs(a.points), pairs(b.points)];
  return from.map(([x, y], i): Point => [
    fine(x + (to[i]![0] - x) * part),
    fine(y + (to[i]![1] - y) * part),
  ]);
}

/** The key that a change at this frame belongs to: the one that stands there, or the only one. */
export function keyFor(keys: readonly LineKey[], frame: number): number {
  const own = keys.findIndex((key) => (key.frame ?? 1) === frame);
  return own >= 0 || keys.length !== 1 ? own : 0;
}
