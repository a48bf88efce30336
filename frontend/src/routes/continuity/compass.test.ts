import { describe, expect, it } from 'vitest';
import { apart, bearingOf, onCircle, radiusOf } from './compass';

describe('the compass of a place', () => {
  it.each([
    [0, 0, -10],
    [90, 10, 0],
    [180, 0, 10],
    [270, -10, 0],
  ])('puts bearing %d where a compass has it', (bearing, x, y) => {
    const [cx, cy] = onCircle(bearing, 10);
    expect(cx).toBeCloseTo(x);
    expect(cy).toBeCloseTo(y);
    expect(bearingOf(cx, cy)).toBeCloseTo(bearing);
  });

  it('puts the zenith in the middle and the horizon on the rim', () => {
    expect(radiusOf(0, 90)).toBe(90);
    expect(radiusOf(45, 90)).toBe(45);
    expect(radiusOf(90, 90)).toBe(0);
    expect(radiusOf(null, 90)).toBe(90);
    expect(radiusOf(-10, 90)).toBe(90);
  });

  it('keeps labels from lying on each other', () => {
    const spots = Array.from({ length: 6 }, () => ({ x: 30, y: 40 }));
    const placed = apart(spots, 19);
    for (let i = 0; i < placed.length; i++) {
      for (let j = 0; j < i; j++) {
        const [a, b] = [placed[i]!, placed[j]!];
        expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThanOrEqual(19);
      }
    }
    expect(placed[0]).toEqual({ x: 30, y: 40 });
  });
});
