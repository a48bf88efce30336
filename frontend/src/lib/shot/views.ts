/** The further cameras of a shot: what each decides, and what its camera has before it. */

import type { Schemas } from '../api/client';
import type { Shot } from './plan';

export type View = Schemas['ViewFields'];

/** What the first camera is called. */
export const FIRST_VIEW = 'First camera';

/** An angle between -180 and 180 degrees. */
const wrapped = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;

/** The shot as one of its further cameras has it: the key comes from where it sees it come from. */
export function overlaid(shot: Shot, view: View | null): Shot {
  if (!view) return shot;
  const own: Partial<View> = { ...view };
  delete own.id;
  delete own.name;
  const key = shot.key_from_deg ?? null;
  const bearing = shot.camera_bearing_deg ?? null;
  return {
    ...shot,
    ...own,
    key_from_deg: key === null ? null : wrapped(key - view.turned_deg),
    camera_bearing_deg: bearing === null ? null : wrapped(bearing + view.turned_deg),
  };
}

/** A new view: the camera in hand, standing still, to be changed. */
export function newView(shot: Shot, from: View | null): View {
  const taken = (shot.views ?? []).map((v) => v.name);
  const name = ['Close-up', 'Insert', 'Reverse'].find((word) => !taken.includes(word));
  const now = from ?? shot;
  return {
    id: crypto.randomUUID(),
    name: name ?? `View ${taken.length + 2}`,
    screen_time_s: 2,
    stands_right_m: from?.stands_right_m ?? 0,
    stands_ahead_m: from?.stands_ahead_m ?? 0,
    turned_deg: from?.turned_deg ?? 0,
    sensor_width_mm: now.sensor_width_mm ?? 24.9,
    focal_mm: now.focal_mm ?? 35,
    camera_height_m: now.camera_height_m ?? 1.5,
    tilt_deg: now.tilt_deg ?? 0,
    pan_deg: now.pan_deg ?? 0,
    roll_deg: now.roll_deg ?? 0,
    shutter_deg: now.shutter_deg ?? 180,
    move_right_m: 0,
    move_away_m: 0,
    move_up_m: 0,
    move_pan_deg: 0,
    move_tilt_deg: 0,
    move_ease: 'both',
    move_zoom: 1,
    story_speed: now.story_speed ?? 1,
    story_speed_keys: [],
    splits: [],
    reframe: null,
    beats: [],
  };
}

function turned(view: View | null): [number, number] {
  const turn = ((view?.turned_deg ?? 0) * Math.PI) / 180;
  return [Math.cos(turn), Math.sin(turn)];
}

/** A way to the right of a view's camera and ahead of it, as the shot's own world has it. */
export function inWorld(view: View | null, right: number, ahead: number): [number, number] {
  const [c, s] = turned(view);
  return [right * c + ahead * s, -right * s + ahead * c];
}

/** How far ahead of a view's camera a place of the shot's world lies, metres. */
export function ahead(view: View | null, x: number, y: number): number {
  const [c, s] = turned(view);
  return (x - (view?.stands_right_m ?? 0)) * s + (y - (view?.stands_ahead_m ?? 0)) * c;
}
