/** Pieces of a set map: made, moved and taken off. No DOM. */

import type { Schemas } from '../../lib/api/client';
import { snap } from '../../lib/drawings/geometry';

export type SetMap = Schemas['SetMapFields'];
export type Piece = Schemas['SetPieceFields'];
export type Side = SetMap['sides'][number];

export const SIDES: { value: Side; name: string }[] = [
  { value: 'near', name: 'near the camera' },
  { value: 'left', name: 'left' },
  { value: 'right', name: 'right' },
  { value: 'far', name: 'far' },
];
export const OPENS: { value: Piece['opens']; name: string }[] = [
  { value: '', name: 'it stays' },
  { value: 'rolls', name: 'it rolls out with its table' },
  { value: 'trap', name: 'it is a trap door' },
];
/** What a piece is before anybody has measured it. */
export const NEW_PIECE = {
  foot_m: 0,
  width_m: 0.3,
  depth_m: 0.2,
  height_m: 0.2,
  turn_deg: 0,
  opens: '',
  note: '',
} as const;
export const EMPTY: SetMap = { sides: SIDES.map((side) => side.value), pieces: [] };

/** A piece more, in the middle of the set. */
export function added(map: SetMap, at: { x: number; y: number }): { map: SetMap; key: string } {
  const taken = new Set(map.pieces.map((piece) => piece.key));
  let number = map.pieces.length + 1;
  while (taken.has(`piece-${number}`)) number += 1;
  const key = `piece-${number}`;
  const place = { x_m: snap(at.x, 0.001), y_m: snap(at.y, 0.001) };
  const piece = { ...NEW_PIECE, key, name: `Piece ${number}`, ...place };
  return { key, map: { ...map, pieces: [...map.pieces, piece] } };
}

export function changed(map: SetMap, key: string, fields: Partial<Piece>): SetMap {
  const pieces = map.pieces.map((one) => (one.key === key ? { ...one, ...fields } : one));
  return { ...map, pieces };
}

export function without(map: SetMap, key: string): SetMap {
  return { ...map, pieces: map.pieces.filter((piece) => piece.key !== key) };
}

/** A piece dragged to the right and away; to the millimetre, and never off the paper of the map. */
export function dragged(map: SetMap, key: string, right: number, away: number): SetMap {
  const piece = map.pieces.find((one) => one.key === key);
  if (!piece) return map;
  const within = (value: number) => Math.max(-100, Math.min(100, value));
  return changed(map, key, {
    x_m: within(piece.x_m + right),
    y_m: within(piece.y_m + away),
  });
}

/** A side that opens or closes, in the order in which sides are told. */
export function toggled(map: SetMap, side: Side, open: boolean): SetMap {
  const now = new Set(map.sides);
  if (open) now.add(side);
  else now.delete(side);
  return { ...map, sides: SIDES.map((one) => one.value).filter((one) => now.has(one)) };
}
