import { describe, expect, it } from 'vitest';
import { closer, CLOSEST, kept, moved, pinch, wheelFactor, WHOLE } from './zoom';

const size = { w: 2000, h: 1000 };

describe('looking closer', () => {
  it('keeps the place under the pointer where it is', () => {
    const at = { x: 0.25, y: 0.8 };
    const look = closer({ k: 2, x: 300, y: 100 }, 1.7, size, at);
    const place = (l: typeof look) => [l.x + (at.x * size.w) / l.k, l.y + (at.y * size.h) / l.k];
    const [x = 0, y = 0] = place({ k: 2, x: 300, y: 100 });
    expect(place(look)[0]).toBeCloseTo(x);
    expect(place(look)[1]).toBeCloseTo(y);
  });

  it('never shows what lies beyond the drawing, nor less than a hair of it', () => {
    expect(kept({ k: 2, x: 1900, y: -50 }, size)).toEqual({ k: 2, x: 1000, y: 0 });
    expect(closer(WHOLE, 0.1, size)).toEqual(WHOLE);
    expect(closer(WHOLE, 1e6, size).k).toBe(CLOSEST);
    expect(moved({ k: 4, x: 500, y: 200 }, 0.5, 0, size).x).toBe(250);
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
