import { describe, expect, it } from 'vitest';
import { alongLevel, around, besideUpright, boxOf, laid, shared, type Words } from './words';

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
