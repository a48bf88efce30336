/** Marks and edges in a picture: what is drawn of them, and what they say in words. */

import type { Schemas } from '../../lib/api/client';
import { length } from '../../lib/quantities';
import { turned } from '../pictures/board';

export type Mark = Schemas['MarkInPicture'];
export type Edge = Schemas['EdgeInPicture'];
export type Upright = Schemas['UprightInPicture'];
export type Ball = Schemas['BallInPicture'];
export type BallSays = Schemas['PictureWhole']['by_balls'][number];
export type ByMarks = NonNullable<Schemas['PictureWhole']['by_marks']>;
export type ByEdges = NonNullable<Schemas['PictureWhole']['by_edges']>;
export type Offered = Schemas['PictureWhole']['offered'][number];
export type Place = { x: number; y: number };

/** A mark that is being made: its tapes are not all told yet. */
export type Draft = Omit<Mark, 'right_m' | 'ahead_m' | 'up_m'> & {
  right_m: number | null;
  ahead_m: number | null;
  up_m: number | null;
};

export const isWhole = (draft: Draft): draft is Mark =>
  draft.right_m !== null && draft.ahead_m !== null && draft.up_m !== null;

export type Direction = Edge['direction'];
/** `dash`: how it is drawn, so that no colour has to tell them apart. */
export const DIRECTIONS: { value: Direction; name: string; dash: string }[] = [
  { value: 'across', name: 'level, across the view', dash: '' },
  { value: 'ahead', name: 'level, away from you', dash: '14 5' },
  { value: 'up', name: 'plumb', dash: '3 4' },
];

export const BALLS: { value: Ball['kind']; name: string }[] = [
  { value: 'chrome', name: 'Chrome ball' },
  { value: 'grey', name: 'Grey ball' },
];

/** What can be grabbed in the picture. */
export type Handle = Place & { id: string; label: string };
/** What is drawn between handles. */
export type Line = { id: string; from: Place; to: Place; sign: string; dash: string };

export const within = (part: number) => Math.min(Math.max(part, 0), 1);

/** The handles of edges and of what stands upright. */
export function handlesOf(edges: Edge[], uprights: Upright[]): Handle[] {
  return [
    ...edges.flatMap((edge, n) => {
      const { name } = DIRECTIONS.find((one) => one.value === edge.direction)!;
      return [
        { id: `e${n}.1`, x: edge.x1, y: edge.y1, label: `Edge ${n + 1}, ${name}, one end` },
        { id: `e${n}.2`, x: edge.x2, y: edge.y2, label: `Edge ${n + 1}, ${name}, other end` },
      ];
    }),
    ...uprights.flatMap((one, n) => [
      { id: `u${n}.1`, x: one.foot_x, y: one.foot_y, label: `Known height ${n + 1}, foot` },
      { id: `u${n}.2`, x: one.top_x, y: one.top_y, label: `Known height ${n + 1}, top` },
    ]),
  ];
}

export function linesOf(edges: Edge[], uprights: Upright[]): Line[] {
  return [
    ...edges.map((edge, n) => ({
      id: `e${n}`,
      from: { x: edge.x1, y: edge.y1 },
      to: { x: edge.x2, y: edge.y2 },
      sign: String(n + 1),
      dash: DIRECTIONS.find((one) => one.value === edge.direction)!.dash,
    })),
    ...uprights.map((one, n) => ({
      id: `u${n}`,
      from: { x: one.foot_x, y: one.foot_y },
      to: { x: one.top_x, y: one.top_y },
      sign: length(one.height_m),
      dash: '',
    })),
  ];
}

/** The handles of balls: the middle of each, and its rim. `ratio`: the picture's width over its
 * height. */
export function ballHandles(balls: Ball[]): Handle[] {
  return balls.flatMap((ball, n) => {
    const name = `${BALLS.find((one) => one.value === ball.kind)!.name} ${n + 1}`;
    // Where the rim lies out of the picture at its right, it is taken at its left.
    const aside = ball.x + ball.radius > 1 ? -ball.radius : ball.radius;
    return [
      { id: `b${n}.1`, x: ball.x, y: ball.y, label: `${name}, its middle` },
      { id: `b${n}.2`, x: within(ball.x + aside), y: ball.y, label: `${name}, its rim` },
    ];
  });
}

/** Balls with the middle or the rim of one somewhere else. */
export function ballMoved(balls: Ball[], id: string, to: Place, ratio: number): Ball[] {
  const n = Number(id.slice(1).split('.')[0]);
  return balls.map((one, at) => {
    if (at !== n) return one;
    if (id.endsWith('.1')) return { ...one, x: to.x, y: to.y };
    const radius = Math.hypot(to.x - one.x, (to.y - one.y) / ratio);
    return { ...one, radius: Math.min(Math.max(radius, 0.001), 0.5) };
  });
}

/** Edges and uprights with one of their ends somewhere else. */
export function moved(
  edges: Edge[],
  uprights: Upright[],
  id: string,
  to: Place,
): { edges: Edge[]; uprights: Upright[] } {
  const n = Number(id.slice(1).split('.')[0]);
  const first = id.endsWith('.1');
  if (id.startsWith('e')) {
    const ends = first ? { x1: to.x, y1: to.y } : { x2: to.x, y2: to.y };
    return { uprights, edges: edges.map((one, at) => (at === n ? { ...one, ...ends } : one)) };
  }
  const ends = first ? { foot_x: to.x, foot_y: to.y } : { top_x: to.x, top_y: to.y };
  return { edges, uprights: uprights.map((one, at) => (at === n ? { ...one, ...ends } : one)) };
}

/** What is still to be traced before edges say anything; "" when there is enough. */
export function edgesLack(edges: Edge[]): string {
  const enough = DIRECTIONS.filter(
    (one) => edges.filter((edge) => edge.direction === one.value).length >= 2,
  );
  if (enough.length >= 2) return '';
  return 'Two edges of each of two directions are needed at least; three of each are surer.';
}

/** What is still to be picked before marks say anything; "" when there is enough. */
export function marksLack(count: number): string {
  if (count >= 4) return '';
  const more = 4 - count;
  return `Four marks at least: ${more} more. A fifth finds the one that is wrong.`;
}

/** How far the camera found has a mark from where it was picked, pixels of the file. */
export function offPx(by: ByMarks | null, marks: Mark[], n: number, high: number): number | null {
  const [x, y] = by?.places[n] ?? [];
  const mark = marks[n];
  if (!by || !mark || x === undefined || y === undefined || by.places.length !== marks.length) {
    return null;
  }
  return Math.hypot((x - mark.x) * by.width_px, (y - mark.y) * high);
}

/** What edges say, in rows: what, how much, and how far off it may be. */
export function takenRows(by: ByEdges, uprights: number): [string, string, string][] {
  const off = (degrees: number) => `± ${Math.max(degrees, 0.1).toFixed(1)}°`;
  const widths = by.focal_widths ?? 1;
  const high = by.height_m ?? null;
  const across = (Math.atan(0.5 / widths) * 360) / Math.PI;
  const surer = high !== null && uprights > 1;
  return [
    ['Lens', `${widths.toFixed(2)} × the sensor’s width`, `± ${by.focal_off.toFixed(2)}`],
    ['It saw', `${across.toFixed(1)}° across`, ''],
    ['Tilt', turned(by.tilt_deg, 'up', 'down'), off(by.tilt_off)],
    ['From side to side', turned(by.roll_deg, 'to the right', 'to the left'), off(by.roll_off)],
    [
      'Lens above the ground',
      high === null ? 'trace something of known height' : length(high),
      surer ? `± ${length(by.height_off)}` : '',
    ],
  ];
}

/** The story's camera that sees as the camera of the picture did, on a sensor so wide. */
export function asStoryCamera(by: ByEdges, sensorMm: number): Record<string, number> {
  const round = (value: number, digits: number) => Number(value.toFixed(digits));
  return {
    ...(by.focal_widths == null ? {} : { focal_mm: round(by.focal_widths * sensorMm, 1) }),
    tilt_deg: round(by.tilt_deg, 2),
    roll_deg: round(by.roll_deg, 2),
    ...(by.height_m == null ? {} : { camera_height_m: round(by.height_m, 3) }),
  };
}

/** A direction of light seen from above: ahead is up, level lies on the rim of `radius`; what comes
 * from below level lies as far outside. */
export function dialPlace(
  fromDeg: number,
  upDeg: number,
  radius: number,
): { x: number; y: number; below: boolean } {
  // Straight up in the middle; below level no farther out than the words.
  const away = radius * Math.min(1 - upDeg / 90, 1.15);
  const turn = (fromDeg * Math.PI) / 180;
  return { x: away * Math.sin(turn), y: -away * Math.cos(turn), below: upDeg < 0 };
}

/** The lights of a ball as rows of a table. */
export function lightRows(
  says: BallSays,
): { name: string; comes: string; up: string; wide: string; under: string }[] {
  return says.lights.map((one, n) => ({
    name: n === 0 ? 'Key' : says.kind === 'grey' ? 'Fill' : `Light ${n + 1}`,
    comes: one.told,
    up: `${one.elevation_deg.toFixed(0)}° ± ${Math.max(one.off_deg, 1).toFixed(0)}`,
    wide:
      one.size_deg === null ? '' : `${one.at_most ? 'under ' : ''}${one.size_deg.toPrecision(2)}°`,
    under: n > 0 ? stopsUnder(one.stops) : one.stops === null ? 'burnt out' : '',
  }));
}

const stopsUnder = (stops: number | null) =>
  stops === null ? 'not told' : `${stops.toFixed(1)} stops`;

/** The lights of all balls as they are drawn. */
export function shownLights(says: BallSays[]) {
  return says.flatMap((ball, b) =>
    ball.lights.map((one, n) => ({
      name: `ball ${b + 1}, ${n === 0 ? 'the key' : `light ${n + 1}`}`,
      sign: n === 0 ? `${b + 1} key` : `${b + 1}.${n + 1}`,
      kind: ball.kind,
      key: n === 0,
      size: n === 0 ? 6 : 4,
      from: one.from_deg,
      up: one.elevation_deg,
      off: one.off_deg,
      told: one.told,
    })),
  );
}
