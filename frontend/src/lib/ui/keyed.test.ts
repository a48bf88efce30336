import { expect, test } from 'vitest';
import { keyed } from './keyed';

const keys = (list: string[]) => keyed(list, (one) => one).map(({ key }) => key);

test('an entry keeps its key wherever it comes in the list', () => {
  const [lower, mirror] = keys(['lower it', 'by a mirror']);
  expect(keys(['by a mirror', 'another lens', 'lower it'])).toEqual([
    mirror,
    expect.any(String),
    lower,
  ]);
});

test('entries that say the same have keys of their own', () => {
  expect(new Set(keys(['lower it', 'lower it', 'by a mirror', 'lower it'])).size).toBe(4);
});
