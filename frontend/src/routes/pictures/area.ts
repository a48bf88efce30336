/** The part of a picture that is measured: left, top, right and bottom, parts of it. */
export type Area = [number, number, number, number];
export type Point = [number, number];

/** Smaller than this, a part of a side, is a press and no area. */
export const SMALLEST = 0.02;

const within = (value: number) => Math.min(Math.max(value, 0), 1);

/** What a hand draws from one corner to another, either way; null where it is a press. */
export function drawnArea(from: Point, to: Point): Area | null {
  const [left, right] = [within(from[0]), within(to[0])].sort((a, b) => a - b) as Point;
  const [top, bottom] = [within(from[1]), within(to[1])].sort((a, b) => a - b) as Point;
  return right - left < SMALLEST || bottom - top < SMALLEST ? null : [left, top, right, bottom];
}

/** One edge of an area moved, as far as the opposite one lets it. */
export function edged(area: Area, side: number, to: number): Area {
  const next = [...area] as Area;
  const other = area[(side + 2) % 4] ?? 0;
  next[side] = side < 2 ? Math.min(to, other - SMALLEST) : Math.max(to, other + SMALLEST);
  return next;
}
