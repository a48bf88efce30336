import { describe, expect, it } from 'vitest';
import { frameOf, louder, nearest, outline, reach, type Step } from './run';

const row: Step[] = [
  [0, 1],
  [-3, 2],
  [null, null],
  [1, 1],
];

describe('a clip frame by frame', () => {
  it('reaches as far as its largest departure, and never nothing', () => {
    expect(reach([row], 1)).toBe(3);
    expect(reach([[[null, null]]], 5)).toBe(5);
  });

  it('is drawn from highest to lowest and broken where nothing was told', () => {
    const path = outline(
      row,
      (n) => n * 10,
      (value) => -value,
    );
    expect(path.match(/M/g)).toHaveLength(2);
    expect(path).toBe('M0.0 -1.0L10.0 -2.0L10.0 3.0L0.0 0.0ZM30.0 -1.0L30.0 -1.0Z');
  });

  it('draws loudness above silence', () => {
    expect(
      louder([
        [-100, -20],
        [null, null],
      ]),
    ).toEqual([
      [0, 40],
      [null, null],
    ]);
  });

  it('goes to the frame that can be looked at and lies nearest', () => {
    expect(nearest([1, 12, 40], 20)).toBe(12);
    expect(nearest([], 20)).toBe(1);
  });

  it('knows the frame that a finding speaks of', () => {
    const result = { symbol: 'd', name: 'off', value: 1, unit: 'px' };
    const working = { formula: '', source: '', result };
    const frame = { symbol: 'n', name: 'frame', value: 51, unit: '' };
    expect(frameOf({ workings: [{ ...working, inputs: [frame] }] })).toBe(51);
    expect(frameOf({ workings: [{ ...working, inputs: [result] }] })).toBeNull();
    expect(frameOf({ workings: [] })).toBeNull();
  });
});
