import { describe, expect, it } from 'vitest';
import { hours, KINDS, range } from './kinds';

describe('hours in words', () => {
  it.each([
    [0, '0 h'],
    [0.001, '1 min'],
    [0.25, '15 min'],
    [0.94, '56 min'],
    [0.96, '1.0 h'],
    [7.55, '7.5 h'],
    [26.4, '26 h'],
  ])('%d is %s', (value, words) => {
    expect(hours(value)).toBe(words.replaceAll(' ', '\u00a0'));
  });
  it('says a range with its likely value first', () => {
    expect(range({ low: 0.5, likely: 1, high: 2 })).toBe('1.0\u00a0h (30\u00a0min to 2.0\u00a0h)');
  });
  it('names every kind of plate', () => {
    for (const { name, short } of Object.values(KINDS)) expect(name && short).toBeTruthy();
  });
});
