import { describe, expect, it } from 'vitest';
import {
  clear,
  copied,
  freeKey,
  insert,
  later,
  markAt,
  moved,
  named,
  pasted,
  put,
  takeOut,
  type Mark,
} from './marks';

const twos: Mark[] = [{ frame: 1, name: '', every: 2 }];
const poses: Mark[] = [
  { frame: 1, name: 'rest', every: 0 },
  { frame: 9, name: 'up', every: 0 },
];
/** The frames at which a column changes, as the core counts them. */
const changes = (marks: Mark[], frames: number) => {
  const found: number[] = [];
  marks.forEach((mark, i) => {
    const end = marks[i + 1]?.frame ?? frames + 1;
    const every = mark.every || Infinity;
    for (let f = mark.frame; f < Math.min(end, frames + 1); f += every) found.push(f);
  });
  return found;
};

describe('marks of a column', () => {
  it('last until the next', () => {
    expect(markAt(poses, 8)?.name).toBe('rest');
    expect(markAt(poses, 9)?.name).toBe('up');
    expect(markAt([], 5)).toBeNull();
  });
  it('are put over frames, and what came after goes on in its own step', () => {
    const held = put(twos, 5, 9, { name: 'still', every: 0 });
    expect(changes(held, 16)).toEqual([1, 3, 5, 11, 13, 15]);
    expect(put(poses, 3, 4, { name: 'x', every: 0 }).map((m) => [m.frame, m.name])).toEqual([
      [1, 'rest'],
      [3, 'x'],
      [5, 'rest'],
      [9, 'up'],
    ]);
    expect(put([], 3, 4, { name: '', every: 1 })).toEqual([{ frame: 3, name: '', every: 1 }]);
  });
  it('are cleared and named', () => {
    expect(clear(poses, 2, 9)).toEqual([poses[0]]);
    expect(named(twos, 7, 'beak', true).at(-1)).toEqual({ frame: 7, name: 'beak', every: 2 });
    expect(named(twos, 7, 'oh', false).at(-1)).toEqual({ frame: 7, name: 'oh', every: 0 });
  });
  it('come later and earlier when frames are put in and taken out', () => {
    expect(insert(poses, 9, 2).at(-1)?.frame).toBe(11);
    expect(takeOut(insert(poses, 5, 4), 5, 8)).toEqual(poses);
    expect(takeOut(poses, 5, 10).map((m) => [m.frame, m.name])).toEqual([
      [1, 'rest'],
      [5, 'up'],
    ]);
  });
  it('are copied with what holds at their first frame, and laid down again', () => {
    const block = copied(poses, 5, 10);
    expect(block).toEqual({
      length: 6,
      marks: [
        { frame: 0, name: 'rest', every: 0 },
        { frame: 4, name: 'up', every: 0 },
      ],
    });
    expect(pasted(poses, 20, block).map((m) => m.frame)).toEqual([1, 9, 20, 24, 26]);
    expect(pasted(poses, 9, copied([], 1, 3))).toEqual([poses[0]]);
  });
  it('are dragged no farther than their neighbours', () => {
    expect(moved(poses, 9, 12).at(-1)?.frame).toBe(12);
    expect(moved(poses, 9, -4).map((m) => m.frame)).toEqual([1, 2]);
    expect(moved(poses, 1, 20)[0]?.frame).toBe(8);
  });
  it('take moves along', () => {
    expect(later([{ first: 2 }, { first: 30 }] as never, 10, 5).map((leg) => leg.first)).toEqual([
      2, 35,
    ]);
    expect(freeKey([{ key: 'part-1' }] as never, 'part')).toBe('part-2');
  });
});
