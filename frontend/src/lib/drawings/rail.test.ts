import { describe, expect, it } from 'vitest';
import {
  along,
  closerSpan,
  distanceAt,
  EVERYTHING,
  roundStep,
  rowsOf,
  slid,
  snapped,
  ticks,
} from './rail';

describe('the log axis', () => {
  it('lays equal ratios equally far apart and finds its way back', () => {
    expect(along(0.1, EVERYTHING)).toBeCloseTo(0);
    expect(along(10_000, EVERYTHING)).toBeCloseTo(1);
    expect(along(10, EVERYTHING) - along(1, EVERYTHING)).toBeCloseTo(0.2);
    for (const metres of [0.13, 2.5, 42, 9000]) {
      expect(distanceAt(along(metres, EVERYTHING), EVERYTHING)).toBeCloseTo(metres);
    }
    expect(along(Infinity, EVERYTHING)).toBe(1);
  });

  it('zooms about a place, which stays put, and stays on the rail', () => {
    const span = closerSpan(EVERYTHING, 3, 0.4);
    expect(distanceAt(0.4, span)).toBeCloseTo(distanceAt(0.4, EVERYTHING));
    expect(closerSpan(span, 1e-9, 0.5).from).toBeCloseTo(0.1);
    expect(slid(EVERYTHING, 5).from).toBeCloseTo(0.1);
    const close = closerSpan(EVERYTHING, 1e9, 0.5);
    expect(close.to / close.from).toBeCloseTo(1.25);
  });

  it('marks round distances that do not crowd', () => {
    const marks = ticks(EVERYTHING, 0.07);
    expect(marks).toContain(1);
    expect(marks).toContain(30);
    const parts = marks.map((m) => along(m, EVERYTHING));
    parts.slice(1).forEach((part, i) => expect(part - parts[i]!).toBeGreaterThanOrEqual(0.07));
    const near = ticks({ from: 1, to: 3 }, 0.05);
    expect(near).toContain(1.2);
    expect(near).toContain(2.5);
  });

  it('drops what is dragged on a round distance, or on a thing that is near the hand', () => {
    expect(snapped(17.3456, [], EVERYTHING, 0.01)).toBe(17.3);
    expect(snapped(17.3456, [17.5], EVERYTHING, 0.01)).toBe(17.5);
    expect(snapped(17.3456, [17.5, 17.4], EVERYTHING, 0.01)).toBe(17.4);
    expect(snapped(17.3456, [30], EVERYTHING, 0.01)).toBe(17.3);
    expect(roundStep(0.03)).toBe(0.01);
  });

  it('gives names rows of their own where they would run into one another', () => {
    const labels = [
      { at: 0, width: 50 },
      { at: 30, width: 50 },
      { at: 60, width: 50 },
      { at: 40, width: 10 },
    ];
    const rows = rowsOf(labels, 3);
    expect(rows[0]).toBe(0);
    expect(rows[1]).toBe(1);
    expect(rows[2]).toBe(0);
    expect(new Set([rows[0], rows[1], rows[3]]).size).toBe(3);
    expect(Math.max(...rowsOf([...labels, ...labels], 2))).toBe(1);
  });
});
