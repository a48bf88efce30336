import { describe, expect, it } from 'vitest';
import { signed, tint } from './cloth';

describe('the light on a cloth', () => {
  it('is written with its side, and as nothing where it is next to nothing', () => {
    expect([0.52, -0.31, 0.04, -0.04].map(signed)).toEqual(['+0.5', '−0.3', '0', '0']);
  });

  it('is tinted warm where it is brighter, cold where darker, stronger the farther off', () => {
    const strength = (stops: number) => Number(/[\d.]+\)$/.exec(tint(stops))?.[0].slice(0, -1));
    expect(tint(0.5).startsWith('rgb(230')).toBe(true);
    expect(tint(-0.5).startsWith('rgb(30')).toBe(true);
    expect(strength(1)).toBeGreaterThan(strength(0.2));
    expect(strength(9)).toBe(0.65);
  });
});
