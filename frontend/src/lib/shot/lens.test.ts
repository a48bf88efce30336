import { describe, expect, it } from 'vitest';
import { restSays, withMeasure, worthSays, type LensMeasure } from './lens';

const one: LensMeasure = {
  marked_mm: 28,
  focal_mm: 28.62,
  off_mm: 0.05,
  k1: -0.0812,
  k2: 0.01,
  right_mm: 0,
  down_mm: 0,
  corner_stops: null,
  corner_mm: null,
  corner_stop: null,
};

describe('a lens that was measured', () => {
  it('says what its ring is worth', () => {
    expect(worthSays(one)).toBe('28 mm on the ring are 28.62 mm (± 0.05 mm)');
    expect(worthSays({ ...one, off_mm: null })).toBe('28 mm on the ring are 28.62 mm');
  });
  it('says how it bends lines and darkens corners', () => {
    expect(restSays(one)).toBe('k1 −0.0812, k2 +0.0100');
    expect(restSays({ ...one, k1: 0, k2: 0 })).toBe('lines stay straight');
    expect(restSays({ ...one, corner_stops: 1.2, corner_stop: 4 })).toBe(
      'k1 −0.0812, k2 +0.0100; corners 1.2 stops darker at f/4',
    );
  });
  it('is measured once at each mark of its ring', () => {
    const at50 = { ...one, marked_mm: 50 };
    const again = { ...one, focal_mm: 28.7 };
    expect(withMeasure([at50, one], again)).toEqual([again, at50]);
  });
});
