import { describe, expect, it } from 'vitest';
import { families, find, type Recipe } from './book.svelte';

const recipe = (name: string, family: string, extra: Partial<Recipe> = {}): Recipe => ({
  key: name,
  name,
  family: 'sets',
  family_name: family,
  effect: '',
  said: '',
  suits: [],
  avoid: [],
  passes: [],
  right: [],
  betrays: [],
  post: [],
  shows: [],
  camera: [],
  needs: [],
  cautions: [],
  people: 1,
  money: 0,
  realism: 3,
  risk: 0,
  risk_why: '',
  reusable: false,
  longest_s: null,
  set_hours: { low: 1, likely: 2, high: 3 },
  post_hours: { low: 1, likely: 2, high: 3 },
  own: null,
  ...extra,
});

describe('the recipe book', () => {
  const list = [
    recipe('Wire', 'Objects', { betrays: ['a sway like a pendulum'] }),
    recipe('Twin', 'People', { cautions: [{ key: 'glass', name: 'Glass', cautions: [] }] }),
    recipe('Pendulum clock', 'Objects'),
  ];
  it('finds words anywhere, names first', () => {
    expect(find(list, 'pendulum').map((r) => r.name)).toEqual(['Pendulum clock', 'Wire']);
    expect(find(list, 'GLASS').map((r) => r.name)).toEqual(['Twin']);
    expect(find(list, 'sway clock')).toEqual([]);
    expect(find(list, '')).toHaveLength(3);
  });
  it('gathers families in the order they come', () => {
    expect(families(list).map(([name, rs]) => [name, rs.length])).toEqual([
      ['Objects', 2],
      ['People', 1],
    ]);
  });
});
