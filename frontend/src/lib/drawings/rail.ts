/** Plain arithmetic of the depth rail: a logarithmic axis of distances. No DOM. */

import { snap } from './geometry';

/** The part of the axis that is shown, world metres. */
export type Span = { from: number; to: number };
export const EVERYTHING: Span = { from: 0.1, to: 10_000 };
/** How the rail is laid out, in pixels from above: plates, things in rows, curves, axis. `full`:
 * the blur and drift, in delivered pixels, that reach the top of their band. */
export const RAIL = {
  pad: 26,
  /** Beyond the farthest distance shown lies infinity. */
  end: 46,
  plates: 9,
  things: 26,
  row: 12,
  rows: 6,
  curves: 98,
  axis: 104,
  height: 134,
  full: 12,
};
/** Never less than a quarter more than where it begins: nearer, a step is a hair. */
const TIGHTEST = 1.25;

/** Where a distance lies along the span, 0..1; outside it less or more. Infinity lies at the end. */
export function along(metres: number, span: Span): number {
  if (!Number.isFinite(metres)) return 1;
  return Math.log(Math.max(metres, 1e-6) / span.from) / Math.log(span.to / span.from);
}

/** The distance at a part of the span. */
export function distanceAt(part: number, span: Span): number {
  return span.from * (span.to / span.from) ** part;
}

/** Look closer by `factor` about a part (0..1) of what is shown, which stays put. */
export function closerSpan(span: Span, factor: number, at: number): Span {
  const whole = Math.log(EVERYTHING.to / EVERYTHING.from);
  const now = Math.log(span.to / span.from);
  const next = Math.min(Math.max(now / factor, Math.log(TIGHTEST)), whole);
  return within(Math.log(span.from) + at * (now - next), next);
}

/** Move what is shown by a part of it. */
export function slid(span: Span, part: number): Span {
  const width = Math.log(span.to / span.from);
  return within(Math.log(span.from) - part * width, width);
}

function within(start: number, width: number): Span {
  const [low, high] = [Math.log(EVERYTHING.from), Math.log(EVERYTHING.to)];
  const from = Math.min(Math.max(start, low), high - width);
  return { from: Math.exp(from), to: Math.exp(from + width) };
}

/** Round distances (1, 2, 5 times powers of ten; finer when close) no nearer than `gap` parts. */
export function ticks(span: Span, gap: number): number[] {
  for (const steps of [
    [1, 1.2, 1.4, 1.6, 1.8, 2, 2.5, 3, 3.5, 4, 4.5, 5, 6, 7, 8, 9],
    [1, 1.5, 2, 3, 4, 5, 7],
    [1, 2, 5],
    [1, 3],
    [1],
  ]) {
    const found: number[] = [];
    const first = Math.floor(Math.log10(span.from)) - 1;
    const last = Math.ceil(Math.log10(span.to)) + 1;
    for (let power = first; power <= last; power += 1) {
      for (const step of steps) {
        const metres = Number((step * 10 ** power).toPrecision(6));
        const part = along(metres, span);
        if (part >= -1e-9 && part <= 1 + 1e-9) found.push(metres);
      }
    }
    const parts = found.map((metres) => along(metres, span));
    if (parts.every((part, i) => i === 0 || part - (parts[i - 1] ?? 0) >= gap)) return found;
  }
  return [];
}

/** A round step for distances of this size: about half a per cent, at least a centimetre. */
export function roundStep(metres: number): number {
  return Math.max(0.01, 10 ** Math.floor(Math.log10(Math.max(metres, 0.01) / 20)));
}

/** A dragged distance: on one of `places` where the hand is nearer than `reach` parts, else round. */
export function snapped(metres: number, places: number[], span: Span, reach: number): number {
  const at = along(metres, span);
  let best = Number.POSITIVE_INFINITY;
  let found = snap(metres, roundStep(metres));
  for (const place of places) {
    const off = Math.abs(along(place, span) - at);
    if (off < reach && off < best) {
      best = off;
      found = place;
    }
  }
  return found;
}

/** Rows for labels that must not run into one another: the row of each, by where they begin. */
export function rowsOf(labels: { at: number; width: number }[], most: number): number[] {
  const ends: number[] = [];
  const order = labels.map((_, i) => i).sort((a, b) => labels[a]!.at - labels[b]!.at);
  const rows = labels.map(() => 0);
  for (const i of order) {
    const { at, width } = labels[i]!;
    let row = ends.findIndex((end) => end <= at);
    if (row < 0) row = ends.length < most ? ends.length : ends.indexOf(Math.min(...ends));
    ends[row] = at + width;
    rows[i] = row;
  }
  return rows;
}
