import { describe, expect, it } from 'vitest';
import { inOrder, missing } from './card';
import { before, behind, instead, without } from './order';
import { refusal } from './sources';
import { ahead, framesOf, shownAt } from './timing';

describe('files of a card', () => {
  it('come in the order of their numbers, as people count', () => {
    const files = ['P_10.jpg', 'P_9.jpg', 'P_100.jpg'].map((name) => ({ name }));
    expect(inOrder(files).map((file) => file.name)).toEqual(['P_9.jpg', 'P_10.jpg', 'P_100.jpg']);
  });

  it.each([
    [['a1.jpg', 'a2.jpg', 'a3.jpg'], ''],
    [['a1.jpg', 'a2.jpg', 'a4.jpg'], 'number 3 is missing'],
    [['a1.jpg', 'a3.jpg', 'a5.jpg'], 'numbers 2, 4 are missing'],
    [['a001.cr2', 'a002.cr2', 'a010.cr2'], 'numbers 3, 4, 5, 6 and 3 more are missing'],
    // What is not numbered, or numbered by a clock, has no gaps.
    [['a.jpg', 'b.jpg', 'c.jpg'], ''],
    [['1001.jpg', '5002.jpg', '9003.jpg'], ''],
    [['take2_1.jpg', 'take2_2.jpg', 'take2_3.jpg'], ''],
  ])('%j: %s', (names, told) => {
    expect(missing(names)).toBe(told);
  });
});

describe('playing', () => {
  const taken = [1, 9, 10, 14];

  it.each([
    [1, 0],
    [8, 0],
    [9, 1],
    [10, 2],
    [13, 2],
    [14, 3],
    [30, 3],
  ])('at frame %d stands picture %d', (frame, picture) => {
    expect(shownAt(frame, taken)).toBe(picture);
  });

  it('lasts as long as the holds of what is taken', () => {
    expect(framesOf(0, taken, 20)).toBe(0);
    expect(framesOf(1, taken, 20)).toBe(8);
    expect(framesOf(3, taken, 20)).toBe(13);
    expect(framesOf(4, taken, 20)).toBe(20);
    // What is beyond the sheet stands for a frame each.
    expect(framesOf(6, taken, 20)).toBe(22);
  });

  it('has what comes next ready, and the first after the last', () => {
    const of = (frame: number) => `p${shownAt(frame, taken)}`;
    expect(ahead(9, 20, 12, of)).toEqual(['p1', 'p2', 'p3', 'p0']);
    expect(ahead(1, 20, 2, of)).toEqual(['p0', 'p1']);
  });
});

describe('a camera that is refused', () => {
  it.each([
    ['NotAllowedError', 'allow it'],
    ['NotFoundError', 'plug it in'],
    ['NotReadableError', 'close that'],
    ['TypeError', 'https://'],
  ])('%s has a cure', (name, cure) => {
    const error = new Error('x');
    error.name = name;
    expect(refusal(error)).toContain(cure);
  });
});

describe('the order of a block', () => {
  const order = [1, 2, 3];

  it('takes one out and puts it back where it was', () => {
    const back = behind(2, before(order, 2));
    expect(without(2)(order)).toEqual([1, 3]);
    expect(back(without(2)(order))).toEqual(order);
    expect(behind(1, before(order, 1))([2, 3])).toEqual(order);
  });

  it('keeps what others did meanwhile', () => {
    // Another window took 4 and dropped 1 since.
    expect(without(3)([2, 3, 4])).toEqual([2, 4]);
    expect(behind(2, 1)([3, 4])).toEqual([3, 4, 2]);
    expect(instead(9, 1)([2, 3])).toEqual([2, 3, 9]);
  });

  it('swaps one for another, and back', () => {
    expect(instead(4, 2)(order)).toEqual([1, 4, 3]);
    expect(instead(2, 4)([1, 4, 3])).toEqual(order);
    // A second time changes nothing more.
    expect(behind(3, 2)(order)).toEqual(order);
  });
});
