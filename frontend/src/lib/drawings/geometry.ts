/** Plain geometry of the drawings: fitting, dragging, scale bars. No DOM. */

import type { Look } from './zoom';

export type Bounds = readonly number[];
export type Fit = {
  /** Screen pixels per metre. */
  scale: number;
  x: (u: number) => number;
  y: (v: number) => number;
};

/** Room around a drawing for its words, in pixels: sides, and above and below. */
export const PAD = { side: 16, end: 20 };

/** Lay a drawing's rectangle (u0, v0, u1, v1; v upward) from the left at a given scale. */
export function fitAt(bounds: Bounds, scale: number, height: number): Fit {
  const [u0 = 0, v0 = 0, , v1 = 1] = bounds;
  const middle = (v0 + v1) / 2;
  return {
    scale,
    x: (u) => PAD.side + (u - u0) * scale,
    y: (v) => height / 2 - (v - middle) * scale,
  };
}

/**
 * One scale for two drawings that share their distances: the second under the first, so that
 * distances line up, or beside it where that shows more. Heights and widths in pixels.
 */
export function pair(upper: Bounds, lower: Bounds, width: number, height: number) {
  const size = (b: Bounds, i: number) => Math.max((b[i + 2] ?? 1) - (b[i] ?? 0), 1e-6);
  const across = Math.max(size(upper, 0), size(lower, 0));
  const [up, down] = [size(upper, 1), size(lower, 1)];
  const stacked = Math.min((width - 2 * PAD.side) / across, (height - 4 * PAD.end) / (up + down));
  const beside = Math.min(
    (width - 4 * PAD.side) / (2 * across),
    (height - 2 * PAD.end) / Math.max(up, down),
  );
  const sideBySide = beside > stacked * 1.15;
  const scale = Math.max(sideBySide ? beside : stacked, 1e-3);
  const tall = (v: number) => (sideBySide ? height : v * scale + 2 * PAD.end);
  return {
    scale,
    sideBySide,
    width: sideBySide ? Math.floor(width / 2) : width,
    upper: tall(up),
    lower: tall(down),
  };
}

/** The sizes of one drawing that has the whole box to itself, as `pair` gives them. */
export function alone(bounds: Bounds, width: number, height: number) {
  const size = (i: number) => Math.max((bounds[i + 2] ?? 1) - (bounds[i] ?? 0), 1e-6);
  const fitting = Math.min((width - 2 * PAD.side) / size(0), (height - 2 * PAD.end) / size(1));
  return { scale: Math.max(fitting, 1e-3), sideBySide: false, width, upper: 0, lower: height };
}

export type Grip = { across_px_m: number; away_px_m: number };

/**
 * How far a stand-in moves on the ground for a drag of (dx, dy) picture pixels: metres to the
 * right and metres away. Near the horizon a pixel is worth metres, so the step is kept short.
 */
export function groundMove(grip: Grip, dx: number, dy: number): { right: number; away: number } {
  const across = Math.max(Math.abs(grip.across_px_m), 1) * (Math.sign(grip.across_px_m) || 1);
  const away = Math.abs(grip.away_px_m) < 1 ? -1 : grip.away_px_m;
  const limit = (value: number) => Math.max(-5, Math.min(5, value));
  return { right: limit(dx / across), away: limit(dy / away) };
}

/** Rounds to a step, without the noise of floating point. */
export function snap(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toPrecision(12));
}

export function pathOf(points: readonly (readonly number[])[]): string {
  return points.map(([x, y], i) => `${i ? 'L' : 'M'}${x} ${y}`).join('');
}

/** Where a reframe puts a point of the picture: scaled, turned about the corner, shifted. */
export function placedBy(
  fit: { scale: number; rotation_deg: number; shift_x_px: number; shift_y_px: number },
  x: number,
  y: number,
): [number, number] {
  const turn = (fit.rotation_deg * Math.PI) / 180;
  const [c, s] = [Math.cos(turn) * fit.scale, Math.sin(turn) * fit.scale];
  return [c * x - s * y + fit.shift_x_px, s * x + c * y + fit.shift_y_px];
}

/** A fit looked at more closely: `look` counts in parts of the paper's width and height. */
export function lookedAt(fit: Fit, look: Look, width: number, height: number): Fit {
  return {
    scale: fit.scale * look.k,
    x: (u) => (fit.x(u) - look.x * width) * look.k,
    y: (v) => (fit.y(v) - look.y * height) * look.k,
  };
}
