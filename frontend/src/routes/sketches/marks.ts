/** The geometry of marks on a picture: all points run from 0 to 1. Plain functions. */

export type Point = number[];

/** A point of the screen over a box, in parts of the box; a little outside is allowed. */
export function partOf(
  x: number,
  y: number,
  box: { left: number; top: number; width: number; height: number },
): Point {
  const clamp = (v: number) => Math.min(Math.max(v, -0.2), 1.2);
  const round = (v: number) => Math.round(v * 1e5) / 1e5;
  return [
    round(clamp((x - box.left) / Math.max(box.width, 1))),
    round(clamp((y - box.top) / Math.max(box.height, 1))),
  ];
}

/** The points with one of them moved. */
export function withPoint(points: Point[], index: number, to: Point): Point[] {
  return points.map((p, i) => (i === index ? to : p));
}

/** All points moved together. */
export function shifted(points: Point[], dx: number, dy: number): Point[] {
  return points.map(([x = 0, y = 0]) => [
    Math.round((x + dx) * 1e5) / 1e5,
    Math.round((y + dy) * 1e5) / 1e5,
  ]);
}

/** The points with one more in the middle of the segment nearest to `at`. */
export function withMiddle(points: Point[], at: Point, aspect: number): Point[] {
  if (points.length < 2) return [...points, at];
  let best = 0;
  let nearest = Infinity;
  for (let i = 0; i + 1 < points.length; i++) {
    const distance = toSegment(at, points[i] ?? at, points[i + 1] ?? at, aspect);
    if (distance < nearest) [nearest, best] = [distance, i];
  }
  return [...points.slice(0, best + 1), at, ...points.slice(best + 1)];
}

/** Distance from a point to a segment, in heights of the picture. */
export function toSegment(p: Point, a: Point, b: Point, aspect: number): number {
  const [px = 0, py = 0] = p;
  const [ax = 0, ay = 0] = a;
  const [bx = 0, by = 0] = b;
  const [vx, vy] = [(bx - ax) * aspect, by - ay];
  const [wx, wy] = [(px - ax) * aspect, py - ay];
  const along = Math.min(Math.max((wx * vx + wy * vy) / (vx * vx + vy * vy || 1), 0), 1);
  return Math.hypot(wx - along * vx, wy - along * vy);
}

/** An SVG path in a box of 1000 by 1000 / aspect. */
export function pathOf(points: Point[], aspect: number, closed = false): string {
  const tall = 1000 / aspect;
  const path = points
    .map(([x = 0, y = 0], i) => `${i ? 'L' : 'M'}${(x * 1000).toFixed(1)} ${(y * tall).toFixed(1)}`)
    .join('');
  return closed && points.length > 2 ? `${path}Z` : path;
}
