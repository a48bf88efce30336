import { describe, expect, it } from 'vitest';
import { closer, CLOSEST, kept, moved, pinch, wheelFactor, WHOLE } from './zoom';

describe('looking closer', () => {
  it('keeps the place under the pointer where it is', () => {
    const at = { x: 0.25, y: 0.8 };
    const before = { k: 2, x: 0.15, y: 0.1 };
    const look = closer(before, 1.7, at);
    expect(look.x + at.x / look.k).toBeCloseTo(before.x + at.x / before.k);
    expect(look.y + at.y / look.k).toBeCloseTo(before.y + at.y / before.k);
  });

  it('never shows what lies beyond the drawing, nor less than a hair of it', () => {
    expect(kept({ k: 2, x: 0.95, y: -0.5 })).toEqual({ k: 2, x: 0.5, y: 0 });
    expect(closer(WHOLE, 0.1)).toEqual(WHOLE);
    expect(closer(WHOLE, 1e6).k).toBe(CLOSEST);
    expect(closer(WHOLE, 2)).toEqual({ k: 2, x: 0.25, y: 0.25 });
    expect(moved({ k: 4, x: 0.25, y: 0.2 }, 0.5, 0).x).toBe(0.125);
  });

  it('turns the wheel the same way in and out', () => {
    expect(wheelFactor(-120) * wheelFactor(120)).toBeCloseTo(1);
    expect(wheelFactor(-120)).toBeGreaterThan(1);
    expect(wheelFactor(1e9)).toBe(wheelFactor(300));
  });

  it('measures two fingers', () => {
    expect(pinch({ x: 0, y: 0 }, { x: 30, y: 40 })).toEqual({ apart: 50, x: 15, y: 20 });
    expect(pinch({ x: 5, y: 5 }, { x: 5, y: 5 }).apart).toBe(1);
  });
});
