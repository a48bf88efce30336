import { describe, expect, it } from 'vitest';
import { inShort, playing, rows, type Facts } from './facts';

const clip: Facts = {
  kind: 'clip',
  codec: 'h264',
  container: 'mov',
  width_px: 1920,
  height_px: 1080,
  bit_depth: 10,
  used_bits: 8,
  subsampling: '4:2:2',
  colour: 'BT.709',
  frames: 1536,
  fps: 24,
  uneven: 0,
  key_every: 12,
  interlaced: false,
  turned_deg: 0,
  duration_s: 64,
  bitrate_mbps: 100.04,
  sound_hz: 48000,
  shot_at: '',
  focal_mm: null,
  f_number: null,
  exposure_s: null,
  iso: null,
  missing: [],
  remarks: [],
};

describe('what a file says', () => {
  it('says how long something plays', () => {
    expect([0.5, 9.994, 12, 64, 3725].map(playing)).toEqual([
      '0.50 s',
      '9.99 s',
      '12.0 s',
      '1:04',
      '1:02:05',
    ]);
  });

  it('tells a clip, and leaves out what is not known', () => {
    const told = Object.fromEntries(rows(clip, 8e8).map((row) => [row.name, row.value]));
    expect(told).toEqual({
      Picture: '1920 x 1080 px',
      'Recorded as': 'H.264, 10 bits, of which 8 are used, 4:2:2, BT.709',
      Frames: '1,536, 1:04',
      Rate: '24 fps',
      'Frames that stand alone': 'one in 12',
      Data: '100.0 Mb/s',
      Size: '800 MB',
      Sound: '48.0 kHz',
    });
  });

  it('tells a photograph by its lens', () => {
    const still: Facts = {
      ...clip,
      ...{ kind: 'still', codec: 'JPEG', bit_depth: 8, used_bits: null, colour: '' },
      ...{ fps: null, key_every: null, bitrate_mbps: null, sound_hz: null, duration_s: null },
      ...{ focal_mm: 28, f_number: 5.6, exposure_s: 1 / 48, iso: 800, turned_deg: 90 },
      shot_at: 'not a time',
    };
    const told = Object.fromEntries(rows(still, 3000).map((row) => [row.name, row.value]));
    expect(told['Picture']).toBe('1920 x 1080 px, turned 90° by the file');
    expect([told['Focal length'], told['Stop'], told['ISO']]).toEqual(['28 mm', 'f/5.6', '800']);
    expect(told['Camera’s clock']).toBe('not a time');
    expect('Frames' in told).toBe(false);
  });

  it('says in a line what kind of thing it is', () => {
    expect(inShort(clip)).toBe('1:04, 1920 x 1080');
    expect(inShort({ ...clip, kind: 'still', codec: 'JPEG' })).toBe('JPEG, 1920 x 1080');
    expect(inShort({ ...clip, kind: 'sequence', frames: 240 })).toBe('240 pictures, 1920 x 1080');
    expect(inShort({ ...clip, frames: 1, duration_s: null })).toBe('1 frame, 1920 x 1080');
  });
});
