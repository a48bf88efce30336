/** Where the grips of a move's curve are, and what dragging them makes of its legs. */

import type { Leg } from './marks';

export type Grip = { leg: number; what: 'begin' | 'end' | number; frame: number; place: number };

const first = (leg: Leg) => leg.first ?? 2;
const frames = (leg: Leg) => leg.frames ?? 24;
const way = (leg: Leg) => leg.way ?? 0;

/** The place at a frame (0: before the first) of `wanted`, one number for each frame from 1. */
export function placeAt(wanted: number[], frame: number): number {
  if (frame < 1 || wanted.length === 0) return 0;
  return wanted[Math.min(Math.round(frame), wanted.length) - 1] ?? 0;
}

export function gripsOf(legs: Leg[], wanted: number[]): Grip[] {
  return legs.flatMap((leg, i) => {
    const from = first(leg) - 1;
    const grip = (what: Grip['what'], frame: number): Grip => ({
      leg: i,
      what,
      frame,
      place: placeAt(wanted, frame),
    });
    return [
      grip('begin', from),
      ...(leg.curve ?? []).map((point, p) => grip(p, from + point.at * frames(leg))),
      grip('end', from + frames(leg)),
    ];
  });
}

const kept = (value: number, low: number, high: number) => Math.min(Math.max(value, low), high);

/** The legs after a grip was dragged to a frame and a place. */
export function dragged(legs: Leg[], wanted: number[], grip: Grip, frame: number, place: number) {
  return legs.map((leg, i): Leg => {
    if (i !== grip.leg) return leg;
    const from = first(leg) - 1;
    if (grip.what === 'begin') return { ...leg, first: kept(Math.round(frame) + 1, 1, 100_000) };
    if (grip.what === 'end') {
      const count = kept(Math.round(frame) - from, 1, 100_000);
      return { ...leg, frames: count, way: round(way(leg) + place - grip.place) };
    }
    const number = grip.what;
    const points = leg.curve ?? [];
    const low = (points[number - 1]?.at ?? 0) + 0.01;
    const high = (points[number + 1]?.at ?? 1) - 0.01;
    const at = round(kept((frame - from) / frames(leg), low, high));
    const begun = placeAt(wanted, from);
    const gone = round(kept(way(leg) ? (place - begun) / way(leg) : 0, -4, 5));
    return { ...leg, curve: points.map((p, n) => (n === number ? { at, gone } : p)) };
  });
}

/** The legs with a point more on the curve of the one that goes at that frame; null for none. */
export function pointed(legs: Leg[], wanted: number[], frame: number, place: number) {
  const number = legs.findIndex(
    (leg) => frame > first(leg) - 1 && frame < first(leg) - 1 + frames(leg),
  );
  const leg = legs[number];
  if (!leg || !way(leg) || (leg.curve ?? []).length >= 40) return null;
  const from = first(leg) - 1;
  const at = round((frame - from) / frames(leg));
  if ((leg.curve ?? []).some((p) => Math.abs(p.at - at) < 0.01)) return null;
  const gone = round(kept((place - placeAt(wanted, from)) / way(leg), -4, 5));
  const curve = [...(leg.curve ?? []), { at, gone }].sort((a, b) => a.at - b.at);
  return legs.map((one, i) => (i === number ? { ...leg, curve } : one));
}

const round = (value: number) => Math.round(value * 1000) / 1000;
