import { describe, expect, it } from 'vitest';
import { added, changed, dragged, EMPTY, NEW_PIECE, toggled, without, type SetMap } from './pieces';

const map: SetMap = {
  sides: ['near', 'far'],
  pieces: [
    { ...NEW_PIECE, key: 'piece-1', name: 'Quay', x_m: 0.2, y_m: 1.1 },
    { ...NEW_PIECE, key: 'piece-3', name: 'Mill', thing_id: 'mill', x_m: 0, y_m: 1 },
  ],
};

describe('pieces of a set map', () => {
  it('come in the middle under a key that is free', () => {
    const { map: more, key } = added(map, { x: 0.12345, y: 1.6 });
    expect(key).toBe('piece-4');
    expect(more.pieces?.at(-1)).toMatchObject({ key, x_m: 0.123, y_m: 1.6 });
    expect(added(EMPTY, { x: 0, y: 1 }).key).toBe('piece-1');
  });
  it('change and go by themselves', () => {
    expect(changed(map, 'piece-1', { opens: 'trap' }).pieces?.[0]).toMatchObject({
      name: 'Quay',
      opens: 'trap',
    });
    expect(without(map, 'piece-1').pieces).toHaveLength(1);
    expect(map.pieces).toHaveLength(2);
  });
  it('are dragged, and stay within a hundred metres', () => {
    expect(dragged(map, 'piece-1', 0.1, -0.2).pieces?.[0]).toMatchObject({
      x_m: expect.closeTo(0.3, 9),
      y_m: expect.closeTo(0.9, 9),
    });
    expect(dragged(map, 'piece-1', 1e4, 0).pieces?.[0]?.x_m).toBe(100);
    expect(dragged(map, 'gone', 1, 1)).toBe(map);
  });
  it('sides open and close in one order', () => {
    expect(toggled(map, 'left', true).sides).toEqual(['near', 'left', 'far']);
    expect(toggled(map, 'near', false).sides).toEqual(['far']);
    expect(toggled(EMPTY, 'far', false).sides).toEqual(['near', 'left', 'right']);
  });
});
