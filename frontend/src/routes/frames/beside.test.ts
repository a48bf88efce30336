import { describe, expect, it } from 'vitest';
import { besideOf, loudness, placeOf } from './beside';

const clip = { frames: 144, fps: 24, across: 10, down: 10, loud: [-100, -60, -30, 0] };

describe('what stands beside the rows of a sheet', () => {
  it('begins at the row it is told to, which may lie before the sheet', () => {
    expect([1, 2, 144, 145].map((row) => besideOf(clip, 1, row, 24))).toEqual([1, 2, 144, null]);
    expect([1, 9, 10].map((row) => besideOf(clip, 10, row, 24))).toEqual([null, null, 1]);
    expect(besideOf(clip, -23, 1, 24)).toBe(25);
  });
  it('keeps its own pace', () => {
    // A phone's thirty frames a second beside twenty-four rows.
    const phone = { frames: 300, fps: 30 };
    expect([1, 5, 25].map((row) => besideOf(phone, 1, row, 24))).toEqual([1, 6, 31]);
    expect(besideOf({ frames: 10, fps: null }, 1, 7, 24)).toBe(7);
  });
  it('is found in its sheet of small pictures', () => {
    expect(placeOf(clip, 1)).toEqual({ sheet: 1, x: 0, y: 0 });
    expect(placeOf(clip, 10)).toEqual({ sheet: 1, x: 100, y: 0 });
    expect(placeOf(clip, 100)).toEqual({ sheet: 1, x: 100, y: 100 });
    expect(placeOf(clip, 101)).toEqual({ sheet: 2, x: 0, y: 0 });
  });
  it('is as loud as it is drawn', () => {
    expect([1, 2, 3, 4, 5].map((frame) => loudness(clip, frame))).toEqual([0, 0, 0.5, 1, 0]);
  });
});
