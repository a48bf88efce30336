import { describe, expect, it } from 'vitest';
import { dragged, gripsOf, placeAt, pointed } from './curve';
import type { Leg } from './marks';

const leg: Leg = { first: 3, frames: 4, way: 40, ease: 'even', ramp_frames: 0, curve: [] };
const wanted = [0, 0, 10, 20, 30, 40, 40];

describe('grips of a curve', () => {
  it('stand where the move begins and ends', () => {
    expect(gripsOf([leg], wanted)).toEqual([
      { leg: 0, what: 'begin', frame: 2, place: 0 },
      { leg: 0, what: 'end', frame: 6, place: 40 },
    ]);
    expect(placeAt(wanted, 0)).toBe(0);
    expect(placeAt(wanted, 99)).toBe(40);
  });
  it('change when and how far', () => {
    const [begin, end] = gripsOf([leg], wanted);
    expect(dragged([leg], wanted, begin!, 4, 0)[0]).toMatchObject({ first: 5, frames: 4, way: 40 });
    expect(dragged([leg], wanted, end!, 10.3, 55)[0]).toMatchObject({ frames: 8, way: 55 });
    expect(dragged([leg], wanted, end!, -5, 55)[0]?.frames).toBe(1);
  });
  it('bend it through points', () => {
    const bent = pointed([leg], wanted, 4, 30)!;
    expect(bent[0]?.curve).toEqual([{ at: 0.5, gone: 0.75 }]);
    const point = gripsOf(bent, wanted)[1]!;
    expect(point.frame).toBe(4);
    expect(dragged(bent, wanted, point, 5, 10)[0]?.curve).toEqual([{ at: 0.75, gone: 0.25 }]);
    expect(pointed([leg], wanted, 1, 0)).toBeNull();
    expect(pointed(bent, wanted, 4, 30)).toBeNull();
  });
});
