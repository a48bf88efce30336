import { describe, expect, it } from 'vitest';
import { formats, widthUsed } from './formats';

describe('what a format gives the story’s camera', () => {
  // The same values as in tests/core/test_formats.py.
  it.each([
    [24.9, 14.00625, 16 / 9, 24.9],
    [24.9, 13.1, 16 / 9, 23.29],
    [24.9, 13.1, 1920 / 804, 24.9],
    [36, 24, 1, 24],
    [24.9, 14.00625, 9 / 16, 14.01],
    [24.9, 13.1, 9 / 16, 13.1],
  ])('of %d by %d mm, %d times as wide as high: %d', (width, height, aspect, used) => {
    expect(widthUsed(width, height, aspect)).toBe(used);
  });

  it('names what is owned, each width once, else what is usual', () => {
    const mode = { name: '4K', sensor_width_mm: 24.9, sensor_height_mm: 13.1 };
    const body = { name: 'Body', modes: [mode, { ...mode, name: '2K' }] };
    expect(formats([body], 16 / 9)).toEqual([{ name: 'Body, 4K', width: 23.29 }]);
    expect(formats([body], 9 / 16)).toEqual([{ name: 'Body, 4K, on its side', width: 13.1 }]);
    expect(formats([], 9 / 16)[0]).toEqual({ name: 'Full frame, on its side', width: 20.25 });
  });
});
