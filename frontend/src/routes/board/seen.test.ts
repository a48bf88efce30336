import { afterEach, expect, it, vi } from 'vitest';
import { SeenRows } from './seen.svelte';

afterEach(() => vi.unstubAllGlobals());

it('makes the first rows, those that come near, and those that somebody goes to', () => {
  let tell: (entries: { isIntersecting: boolean; target: HTMLElement }[]) => void = () => {};
  const watched: HTMLElement[] = [];
  vi.stubGlobal(
    'IntersectionObserver',
    class {
      constructor(callback: typeof tell) {
        tell = callback;
      }
      observe = (element: HTMLElement) => watched.push(element);
      unobserve = (element: HTMLElement) => watched.splice(watched.indexOf(element), 1);
      disconnect = () => watched.splice(0);
    },
  );
  const rows = new SeenRows();
  expect([rows.has('a', 0), rows.has('b', 39), rows.has('c', 40)]).toEqual([true, true, false]);
  const row = document.createElement('li');
  row.dataset['shot'] = 'c';
  const stop = rows.watch(row);
  expect(watched).toEqual([row]);
  tell([{ isIntersecting: false, target: row }]);
  expect(rows.has('c', 40)).toBe(false);
  tell([{ isIntersecting: true, target: row }]);
  expect(rows.has('c', 40)).toBe(true);
  stop?.();
  expect(watched).toEqual([]);
  rows.show('z');
  expect(rows.has('z', 900)).toBe(true);
});

it('makes every row where nobody can tell what is near', () => {
  vi.stubGlobal('IntersectionObserver', undefined);
  expect(new SeenRows().has('z', 900)).toBe(true);
});
