import { fireEvent, render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import CueCurve from './CueCurve.svelte';
import { FIRST_CUE, onFrame, onLevel, sorted, stored, type LevelKey } from './cues';

describe('what lamps play', () => {
  it('is stored with the first apart from the others', () => {
    const [a, b, c] = ['fire', 'snap', 'drawn'].map((kind) => ({ ...FIRST_CUE, kind }) as never);
    expect(stored([])).toEqual({ cue: null, more_cues: [] });
    expect(stored([a!, b!, c!])).toEqual({ cue: a, more_cues: [b, c] });
  });

  it('has points on frames and whole per cents, in order of time', () => {
    // A beat at frame 13 of 24 a second begins half a second in.
    expect(onFrame(1.03, 0.5, 24)).toBeCloseTo(25 / 24 - 0.5, 6);
    expect(onFrame(0.2, 0.5, 24)).toBe(0);
    expect([onLevel(0.123), onLevel(-1), onLevel(3)]).toEqual([0.12, 0, 1]);
    const one = { at_s: 1, level: 0 };
    const [up, down] = [
      { at_s: 2, level: 1 },
      { at_s: 2, level: 0 },
    ];
    expect(sorted([up, down, one])).toEqual([one, up, down]);
  });
});

describe('a curve by hand', () => {
  const keys: LevelKey[] = [
    { at_s: 0, level: 0.1 },
    { at_s: 0.5, level: 0.9 },
    { at_s: 1, level: 0.4 },
  ];
  const answer = {
    name: 'Panel',
    beat: '',
    begins_s: 0.5,
    levels: Array(48).fill(0.5),
    shown: Array(48).fill(0.5),
    flashes: 0,
    first_frame: 1,
    safe: true,
  };
  const shown = (more: object = {}) => {
    const [onlive, oncommit] = [vi.fn(), vi.fn()];
    render(CueCurve, {
      answer,
      fps: 24,
      frame: -1,
      keys,
      editable: true,
      onlive,
      oncommit,
      ...more,
    });
    return { onlive, oncommit, points: screen.getAllByRole('slider') };
  };

  it('moves a point by a frame and by a per cent, and not past its neighbours', async () => {
    const { onlive, oncommit, points } = shown();
    await fireEvent.keyDown(points[1]!, { key: 'ArrowRight' });
    expect(onlive.mock.lastCall![0][1].at_s).toBeCloseTo(0.5 + 1 / 24, 5);
    await fireEvent.keyDown(points[1]!, { key: 'ArrowUp', shiftKey: true });
    expect(onlive.mock.lastCall![0][1].level).toBe(1);
    for (const [key, at] of [
      ['ArrowLeft', 0],
      ['ArrowRight', 0.5],
    ] as const) {
      await fireEvent.keyDown(points[0]!, { key, shiftKey: true });
      expect(onlive.mock.lastCall![0][0].at_s).toBeCloseTo(at === 0 ? 0 : 10 / 24, 5);
    }
    await fireEvent.keyDown(points[1]!, { key: 'ArrowRight', shiftKey: true });
    expect(onlive.mock.lastCall![0][1].at_s).toBeCloseTo(0.5 + 10 / 24, 5);
    expect(oncommit).toHaveBeenCalledTimes(5);
  });

  it('loses a point by Delete, and other keys are left alone', async () => {
    const { onlive, points } = shown();
    await fireEvent.keyDown(points[1]!, { key: 'a' });
    expect(onlive).not.toHaveBeenCalled();
    await fireEvent.keyDown(points[1]!, { key: 'Delete' });
    expect(onlive).toHaveBeenCalledWith([keys[0], keys[2]]);
  });

  it('is only looked at by who may not edit', async () => {
    const { onlive, points } = shown({ editable: false });
    await fireEvent.keyDown(points[1]!, { key: 'ArrowUp' });
    await fireEvent.dblClick(screen.getByTestId('cue-curve'));
    expect(onlive).not.toHaveBeenCalled();
  });
});
