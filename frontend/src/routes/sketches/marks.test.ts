import { describe, expect, it } from 'vitest';
import { onCross } from './looks';
import { partOf, pathOf, shifted, toSegment, withMiddle, withPoint } from './marks';

describe('marks on a picture', () => {
  it('turns a place on the screen into parts of the picture', () => {
    const box = { left: 100, top: 50, width: 400, height: 200 };
    expect(partOf(300, 150, box)).toEqual([0.5, 0.5]);
    expect(partOf(-900, 9000, box)).toEqual([-0.2, 1.2]);
    expect(partOf(100, 50, { ...box, width: 0, height: 0 })).toEqual([0, 0]);
  });

  it('moves one point, or all', () => {
    const line = [
      [0, 0],
      [1, 1],
    ];
    expect(withPoint(line, 1, [0.5, 0.5])).toEqual([
      [0, 0],
      [0.5, 0.5],
    ]);
    expect(shifted(line, 0.1, -0.2)).toEqual([
      [0.1, -0.2],
      [1.1, 0.8],
    ]);
    expect(line[1]).toEqual([1, 1]);
  });

  it('puts a new point into the nearest piece of a line', () => {
    const bent = [
      [0, 0],
      [0.5, 0],
      [0.5, 1],
    ];
    expect(withMiddle(bent, [0.25, 0.05], 2)).toHaveLength(4);
    expect(withMiddle(bent, [0.25, 0.05], 2)[1]).toEqual([0.25, 0.05]);
    expect(withMiddle(bent, [0.52, 0.6], 2)[2]).toEqual([0.52, 0.6]);
    expect(withMiddle([[0, 0]], [1, 1], 1)).toEqual([
      [0, 0],
      [1, 1],
    ]);
  });

  it('measures in heights of the picture', () => {
    // Half the width of a 2:1 picture is one height.
    expect(toSegment([0.5, 0], [0, 0], [0, 1], 2)).toBeCloseTo(1);
    expect(toSegment([0, 2], [0, 0], [0, 1], 2)).toBeCloseTo(1);
    expect(toSegment([0.3, 0.3], [0.3, 0.3], [0.3, 0.3], 1)).toBe(0);
  });

  it('draws paths in a box of a thousand', () => {
    const line = [
      [0, 0],
      [1, 1],
      [0, 1],
    ];
    expect(pathOf(line, 2)).toBe('M0.0 0.0L1000.0 500.0L0.0 500.0');
    expect(pathOf(line, 2, true)).toMatch(/Z$/);
    expect(onCross(10, 20)).toBe('M2 20h16M10 12v16');
  });
});
