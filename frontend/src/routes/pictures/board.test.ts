import { describe, expect, it } from 'vitest';
import { focalSays, outlineOf, stoodRows, type Board, type Stood } from './board';

const stood: Stood = {
  height_m: 1.2346,
  distance_m: 2.5,
  tilt_deg: -5.24,
  roll_deg: 0.02,
  aside_m: 0.1,
  height_off: 0.0002,
  distance_off: 0.004,
  tilt_off: 0.02,
  roll_off: 0.31,
};
const board: Board = {
  frame: 12,
  called: '8A-1',
  card_id: null,
  elsewhere: false,
  places: [],
  outline: [
    [960, 540],
    [1100, 540],
    [1100, 700],
    [960, 700],
  ],
  width_px: 1920,
  height_px: 1080,
  px_per_mm: 0.9,
  way: 'standing',
  up_m: 0,
  lying: null,
  standing: stood,
  rms_px: 0.08,
  focal_mm: 35.4,
  focal_told: 'plan',
  focal_measured_mm: null,
  focal_off_mm: 0,
};

describe('where the camera stood', () => {
  it('is told with how far off it may be, and no finer than it can be', () => {
    expect(stoodRows(stood)).toEqual([
      { name: 'Lens above the floor', value: '1.235 m', off: '1.0 mm' },
      { name: 'Level to the mark', value: '2.500 m', off: '4.0 mm' },
      { name: 'Tilt', value: '5.2° down', off: '0.1°' },
      { name: 'From side to side', value: 'level', off: '0.3°' },
    ]);
  });
  it('says where the focal length came from', () => {
    expect(focalSays(board)).toContain('as planned');
    expect(focalSays({ ...board, focal_told: 'board' })).toContain('not the focal length');
    expect(focalSays({ ...board, focal_mm: null, focal_told: '' })).toContain('Hang it');
    const both = focalSays({ ...board, focal_measured_mm: 36, focal_off_mm: 1 });
    expect(both).toContain('The board alone would say 36');
  });
  it('lies where the picture as shown has it', () => {
    expect(outlineOf(board, 960)).toBe('480,270 550,270 550,350 480,350');
  });
});
