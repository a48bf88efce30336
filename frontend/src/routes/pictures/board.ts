/** What the board in a picture says of the camera, in rows. */

import type { Schemas } from '../../lib/api/client';
import { length, say } from '../../lib/quantities';

export type Board = NonNullable<Schemas['PictureWhole']['board']>;
export type Way = 'lying' | 'standing';
export type Stood = NonNullable<Board['standing']>;

export const WAYS: { value: Way; name: string }[] = [
  { value: 'standing', name: 'upright, on its lower edge' },
  { value: 'lying', name: 'flat on the floor' },
];

/** An angle with its side in words: `2.1° up`, `level`. */
export function turned(degrees: number, more: string, less: string): string {
  const shown = Math.abs(degrees).toFixed(1);
  return shown === '0.0' ? 'level' : `${shown}° ${degrees > 0 ? more : less}`;
}

const off = (degrees: number) => `${Math.max(degrees, 0.1).toFixed(1)}°`;

/** What is told of where the camera stood, each with how far off it may be. */
export function stoodRows(stood: Stood): { name: string; value: string; off: string }[] {
  return [
    {
      name: 'Lens above the floor',
      value: length(stood.height_m),
      off: length(Math.max(stood.height_off, 0.001)),
    },
    {
      name: 'Level to the mark',
      value: length(stood.distance_m),
      off: length(Math.max(stood.distance_off, 0.001)),
    },
    { name: 'Tilt', value: turned(stood.tilt_deg, 'up', 'down'), off: off(stood.tilt_off) },
    {
      name: 'From side to side',
      value: turned(stood.roll_deg, 'to the right', 'to the left'),
      off: off(stood.roll_off),
    },
  ];
}

/** What a board or marks were measured with. */
type GoneBy = {
  focal_mm?: number | null;
  focal_told: Board['focal_told'] | 'marks';
  focal_measured_mm?: number | null;
  focal_off_mm: number;
};

/** What the focal length came from, in a sentence; "" without one. */
export function goneBySays(by: GoneBy, whose: 'board' | 'marks'): string {
  if (by.focal_mm == null) return '';
  const gone = `Worked out with a focal length of ${say(by.focal_mm, 'mm')} as focused`;
  const own = whose === 'board' ? 'board itself says' : 'marks themselves say';
  const from = {
    file: ', as the file says.',
    plan: ', as planned; a lens set otherwise would show it elsewhere.',
    board: `, as the ${own}: not the focal length that was planned.`,
    marks: `, as the ${own}: not the focal length that was planned.`,
    '': '.',
  }[by.focal_told];
  return gone + from + aloneSays(by, whose);
}

/** What they say of it themselves, where that was not gone by. */
function aloneSays(by: GoneBy, whose: 'board' | 'marks'): string {
  if (by.focal_measured_mm == null || by.focal_told === whose) return '';
  return ` The ${whose} alone would say ${say(by.focal_measured_mm, 'mm')}, give or take ${say(by.focal_off_mm, 'mm')}.`;
}

/** The same of a board, also where nothing comes of it. */
export function focalSays(board: Board): string {
  if (board.focal_mm === null) {
    return 'Hang it on a take or a plate with a lens: without one nobody can say where the camera stood.';
  }
  if (board.focal_told === '') {
    const gone = `a focal length of ${say(board.focal_mm, 'mm')} as focused`;
    return `No camera sees a board so with ${gone}.` + aloneSays(board, 'board');
  }
  return goneBySays(board, 'board');
}

/** The outline of the paper in a picture that is shown so wide. */
export function outlineOf(board: Board, wide: number): string {
  const times = wide / board.width_px;
  return board.outline.map(([x, y]) => `${(x ?? 0) * times},${(y ?? 0) * times}`).join(' ');
}
