/** Plain arithmetic of looking closer: a window onto a drawing, moved and enlarged. No DOM. */

/** What is shown of a drawing: `k` times enlarged, its corner at (x, y), in parts of the whole. */
export type Look = { k: number; x: number; y: number };
export const WHOLE: Look = { k: 1, x: 0, y: 0 };
export const CLOSEST = 24;

/** Kept inside the drawing: never farther out than whole, never beyond its edges. */
export function kept(look: Look): Look {
  const k = Math.min(Math.max(look.k, 1), CLOSEST);
  const inside = (at: number) => Math.min(Math.max(at, 0), 1 - 1 / k);
  return { k, x: inside(look.x), y: inside(look.y) };
}

/** Enlarge by `factor` about a place (0..1 across and down of what is shown), which stays put. */
export function closer(look: Look, factor: number, at = { x: 0.5, y: 0.5 }): Look {
  const k = Math.min(Math.max(look.k * factor, 1), CLOSEST);
  const place = (corner: number, part: number) => corner + part * (1 / look.k - 1 / k);
  return kept({ k, x: place(look.x, at.x), y: place(look.y, at.y) });
}

/** Move by parts of what is shown. */
export function moved(look: Look, dx: number, dy: number): Look {
  return kept({ k: look.k, x: look.x - dx / look.k, y: look.y - dy / look.k });
}

/** How much a turn of the wheel enlarges. */
export function wheelFactor(delta: number): number {
  return Math.exp(-Math.max(-300, Math.min(300, delta)) / 400);
}

/** Two fingers: how far apart, and the middle between them. */
export function pinch(a: { x: number; y: number }, b: { x: number; y: number }) {
  return {
    apart: Math.max(Math.hypot(a.x - b.x, a.y - b.y), 1),
    x: (a.x + b.x) / 2,
    y: (a.y + b.y) / 2,
  };
}
