import { describe, expect, it } from 'vitest';
import { follows } from './focal';

const lens = (focal_min_mm: number, focal_max_mm: number, name: string) => ({
  name,
  focal_min_mm,
  focal_max_mm,
});

describe('a focal length that is typed', () => {
  it('of a prime is its only one', () => {
    const was = lens(35, 35, '35 mm prime');
    expect(follows(was, { ...was, focal_min_mm: 14 })).toEqual({
      focal_max_mm: 14,
      name: '14 mm prime',
    });
  });
  it('makes a zoom where the longest is typed', () => {
    const was = lens(14, 14, '14 mm prime');
    expect(follows(was, { ...was, focal_max_mm: 35 })).toEqual({ name: '14–35 mm zoom' });
    const zoom = lens(14, 35, '14–35 mm zoom');
    expect(follows(zoom, { ...zoom, focal_min_mm: 18 })).toEqual({ name: '18–35 mm zoom' });
    expect(follows(zoom, { ...zoom, focal_max_mm: 14 })).toEqual({ name: '14 mm prime' });
  });
  it('leaves a name of one’s own alone, and what did not change', () => {
    const own = lens(35, 35, 'The old fifty');
    expect(follows(own, { ...own, focal_min_mm: 50 })).toEqual({ focal_max_mm: 50 });
    expect(follows(own, { ...own })).toEqual({});
  });
});
