import { describe, expect, it } from 'vitest';
import {
  alongLevel,
  around,
  besideUpright,
  boxOf,
  laid,
  onPaper,
  shared,
  type Box,
  type Place,
  type Words,
} from './words';

const paper = { width: 400, height: 200 };
const word = (x: number, y: number, width = 40, more: Partial<Words> = {}): Words => ({
  width,
  places: around(x, y, 12),
  ...more,
});

/** Small and always the same, so that a failure comes again. */
function numbers(seed: number) {
  let state = seed;
  return () => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return state / 2147483648;
  };
}

describe('words of a drawing', () => {
  it('stay where they are while nothing lies on them', () => {
    const placed = laid([word(100, 50), word(300, 50)], paper);
    expect(placed.map(({ at }) => [at.x, at.y, at.anchor])).toEqual([
      [100, 50, 'middle'],
      [300, 50, 'middle'],
    ]);
  });

  it('never lie on one another or beside the paper, whatever they are', () => {
    for (let seed = 1; seed <= 60; seed += 1) {
      const next = numbers(seed);
      const words = Array.from({ length: 14 }, () =>
        word(next() * 400, next() * 200, 20 + next() * 80),
      );
      const caption = { left: 0, right: 120, top: 0, bottom: 14 };
      const boxes = [caption, ...laid(words, paper, [caption]).map((one) => boxOf(one, one.at))];
      boxes.forEach((box, i) => {
        boxes.slice(i + 1).forEach((other) => expect(shared(box, other)).toBe(0));
        expect(box.left).toBeGreaterThanOrEqual(0);
        expect(box.right).toBeLessThanOrEqual(400);
        expect(box.top).toBeGreaterThanOrEqual(0);
        expect(box.bottom).toBeLessThanOrEqual(200);
      });
    }
  });

  it('are left out where there is no room, unless they have to be there', () => {
    const crowd = Array.from({ length: 40 }, () => word(50, 20, 90));
    const small = { width: 100, height: 40 };
    const placed = laid(crowd, small);
    expect(placed.length).toBeLessThan(4);
    expect(laid([...crowd, word(50, 20, 90, { keep: true })], small).length).toBe(
      placed.length + 1,
    );
  });

  it('stand clear of small things where another place is as good, and keep their names', () => {
    const measure = { width: 90, short: 40, places: alongLevel(100, 300, 100, true), keep: true };
    const figure = { left: 190, right: 210, top: 60, bottom: 98 };
    const place = (taken: Box[], things: Box[]): Place => {
      const [one] = laid([measure], paper, taken, things);
      if (!one) throw new Error('left out');
      return one.at;
    };
    const clear = place([], [figure]);
    expect(shared(boxOf(measure, clear), figure)).toBe(0);
    expect(clear.short).toBeUndefined();
    // Where things are everywhere, the place that covers least of them, with its name.
    const crowd = { left: 0, right: 400, top: 0, bottom: 200 };
    expect(place([], [crowd])).toEqual({ x: 200, y: 96, anchor: 'middle' });
    // And never on other words for the sake of a thing.
    const words = { left: 0, right: 400, top: 100, bottom: 200 };
    expect(shared(boxOf(measure, place([words], [figure])), words)).toBe(0);
  });

  it('of what reaches out of the paper stand on the part that is seen', () => {
    expect(onPaper(-50, 120, 400)).toEqual([0, 120]);
    expect(onPaper(500, 120, 400)).toEqual([400, 120]);
    expect(onPaper(-90, 900, 400)).toEqual([0, 400]);
    expect(onPaper(-90, -1, 400)).toBeNull();
    expect(onPaper(401, 500, 400)).toBeNull();
  });

  it('of a measure go to the other side, along the line, and lose their name last', () => {
    const measure = (places: Words['places']): Words => ({
      width: 90,
      short: 40,
      places,
      keep: true,
    });
    const [one] = laid([measure(besideUpright(200, 40, 160, true))], paper);
    expect(one?.at).toEqual({ x: 206, y: 104, anchor: 'start' });
    const right = { left: 205, right: 400, top: 0, bottom: 200 };
    const [other] = laid([measure(besideUpright(200, 40, 160, true))], paper, [right]);
    expect(other?.at.anchor).toBe('end');
    // Nothing wider than fifty is free on the left either.
    const left = { left: 0, right: 150, top: 0, bottom: 200 };
    const [cut] = laid([measure(besideUpright(200, 40, 160, true))], paper, [right, left]);
    expect(cut?.at).toMatchObject({ anchor: 'end', short: true });
    const [level] = laid([measure(alongLevel(100, 300, 100, true))], paper);
    expect(level?.at).toEqual({ x: 200, y: 96, anchor: 'middle' });
    const [under] = laid([measure(alongLevel(100, 300, 100, false))], paper);
    expect(under?.at.y).toBe(112);
  });
});
