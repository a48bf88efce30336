import { describe, expect, it } from 'vitest';
import {
  distinct,
  filtered,
  landing,
  matches,
  NO_FILTER,
  type Row,
  type RowVerdict,
} from './filter';

const row = (changes: Partial<Row> = {}): Row => ({
  id: 'a',
  revision: 1,
  number: '2',
  title: 'The tide mill',
  action: 'Ansa crosses the bridge',
  place: 'Mill',
  time_of_day: 'dawn',
  screen_time_s: 6,
  views: 1,
  variant_of: null,
  sketch: null,
  recipes: [{ key: 'twin-split', name: 'Twin' }],
  plates: [
    {
      id: 'p',
      name: 'Clean plate',
      kind: 'live',
      required: true,
      step: 1,
      lock_group: 'A',
      film_on: '2026-12-05',
    },
  ],
  set_hours: { low: 1, likely: 2, high: 3 },
  post_hours: { low: 1, likely: 2, high: 3 },
  logged: 0,
  readiness: 0.25,
  next: 'Film',
  forgotten: [],
  unread_cautions: 0,
  continuity: [],
  ...changes,
});
const verdict = (word: string | null): RowVerdict => ({
  id: 'a',
  next: '',
  verdict: word,
  title: '',
  sentence: '',
  plates: {},
  unasked: {},
  picture: null,
});

describe('which rows are shown', () => {
  it('takes every word from anywhere in the row', () => {
    expect(matches(row(), undefined, { ...NO_FILTER, words: 'MILL clean' })).toBe(true);
    expect(matches(row(), undefined, { ...NO_FILTER, words: 'mill dusk' })).toBe(false);
    expect(matches(row(), undefined, { ...NO_FILTER, words: '  ' })).toBe(true);
  });

  it.each([
    [{ place: 'Mill' }, true],
    [{ place: 'Quay' }, false],
    [{ day: '2026-12-05' }, true],
    [{ day: 'none' }, false],
    [{ kind: 'live' }, true],
    [{ kind: 'puppet' }, false],
    [{ recipe: 'twin-split' }, true],
    [{ recipe: 'see-through' }, false],
  ])('by %o: %s', (filter, shown) => {
    expect(matches(row(), undefined, { ...NO_FILTER, ...filter })).toBe(shown);
  });

  it('tells trouble apart', () => {
    const by = (trouble: 'breaks' | 'strains' | 'forgotten' | 'cautions' | 'unplanned') => ({
      ...NO_FILTER,
      trouble,
    });
    expect(matches(row(), verdict('breaks'), by('breaks'))).toBe(true);
    expect(matches(row(), verdict('strains'), by('breaks'))).toBe(false);
    expect(matches(row(), verdict('strains'), by('strains'))).toBe(true);
    expect(matches(row(), undefined, by('breaks'))).toBe(false);
    expect(matches(row({ forgotten: ['Clean'] }), undefined, by('forgotten'))).toBe(true);
    expect(matches(row({ unread_cautions: 1 }), undefined, by('cautions'))).toBe(true);
    expect(matches(row({ plates: [] }), undefined, by('unplanned'))).toBe(true);
    expect(matches(row(), undefined, by('unplanned'))).toBe(false);
  });

  it('knows when anything is filtered at all', () => {
    expect(filtered(NO_FILTER)).toBe(false);
    expect(filtered({ ...NO_FILTER, words: ' ' })).toBe(false);
    expect(filtered({ ...NO_FILTER, kind: 'live' })).toBe(true);
  });

  it('lists distinct values in order', () => {
    expect(distinct(['b', '', null, 'a', 'b', undefined])).toEqual(['a', 'b']);
  });
});

describe('where a dragged row lands', () => {
  const ids = ['a', 'b', 'c'];
  const tops = [0, 80, 160];
  const heights = [80, 80, 80];
  it.each([
    [-10, 'a'],
    [39, 'a'],
    [41, 'b'],
    [121, 'c'],
    [199, 'c'],
    [201, null],
  ])('at %d before %s', (y, before) => {
    expect(landing(ids, tops, heights, y)).toBe(before);
  });
});
