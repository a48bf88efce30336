/** The plan as the calculator wants it, from the drafts on the screen. */

import type { Schemas } from '../api/client';

export type Shot = Schemas['ShotOut'];
export type Plate = Schemas['PlateOut'];
export type StandIn = Schemas['StandInOut'];
export type Kit = Schemas['KitOut'];
export type Question = Schemas['Question'];
/** A kit with nothing in it. */
export const NO_KIT: Kit = {
  bodies: [],
  lenses: [],
  lamps: [],
  rooms: [],
  rigs: [],
  supports: [],
  cloths: [],
  cords: [],
  people: [],
};
/** What is to be told of a plan. */
export type Look = Omit<Schemas['KeptQuestion'], 'plan' | 'kept' | 'changes'>;

/** What is selected when no plate is. */
export const WORLD = 'world';

/** The record without its revision, as creation and the calculator take it. */
export function bare<T extends { id: string; revision: number }>(row: T): Omit<T, 'revision'> {
  const copy: Partial<T> = { ...row };
  delete copy.revision;
  return copy as Omit<T, 'revision'>;
}

export function question(
  shot: Shot,
  plates: Plate[],
  standIns: StandIn[],
  kit: Kit,
  beside: Schemas['PlanBeside'][],
  how: Look,
): Question {
  const fields: Partial<Shot> = { ...shot };
  delete fields.id;
  delete fields.revision;
  return {
    shot: fields as Question['shot'],
    plates: plates.map(bare),
    stand_ins: standIns.map(bare),
    bodies: kit.bodies.map((body) => ({ ...bare(body), modes: body.modes.map(bare) })),
    lenses: kit.lenses.map(bare),
    lamps: kit.lamps.map(bare),
    rooms: kit.rooms.map(bare),
    rigs: kit.rigs.map(bare),
    supports: kit.supports.map(bare),
    cloths: kit.cloths.map(bare),
    cords: kit.cords.map(bare),
    people: kit.people.map(bare),
    beside,
    ...how,
  };
}

/** The plan alone, as the calculators of one plate take it. */
export function planOf(asked: Question) {
  return { ...parted(asked).plan, notation: asked.notation };
}

/** A question in its two parts: the plan, and what is to be told of it. */
export function parted(asked: Question): { plan: Schemas['Plan']; look: Look } {
  const { shot, plates, stand_ins, ...rest } = asked;
  const { bodies, lenses, lamps, rooms, rigs, supports, cloths, cords, people, ...more } = rest;
  const { beside, ...look } = more;
  const kit = { bodies, lenses, lamps, rooms, rigs, supports, cloths, cords, people };
  return { plan: { shot, plates, stand_ins, ...kit, beside }, look };
}

/** What a new stand-in of a kind begins as; sizes of ordinary things. */
export const NEW_STAND_IN: Record<StandIn['kind'], Partial<StandIn>> = {
  figure: { name: 'Figure', width_m: 0.5, height_m: 1.7, depth_m: 0 },
  box: { name: 'Box', width_m: 2, height_m: 2, depth_m: 2 },
  card: { name: 'Card', width_m: 4, height_m: 3, depth_m: 0 },
  ground: { name: 'Ground', width_m: 6, height_m: 0, depth_m: 6 },
};

/** How large a new screen begins: no larger than the first cloth of its colour that is owned. */
export function newScreen(kit: Kit): Partial<Plate> {
  const cloth = kit.cloths.find((one) => one.colour === 'green');
  if (!cloth) return {};
  return {
    screen_width_m: Math.min(cloth.width_m, 3),
    screen_height_m: Math.min(cloth.length_m, 3),
  };
}

/** What a new plate of a kind begins as. */
export const NEW_PLATE: Record<Plate['kind'], Partial<Plate>> = {
  miniature: { name: 'Miniature', scale: 12, f_number: 11 },
  screen: {
    name: 'Performer on a screen',
    scale: 1,
    f_number: 5.6,
    screen_width_m: 3,
    screen_height_m: 3,
    screen_gap_m: 2,
  },
  live: { name: 'Live plate', scale: 1, f_number: 5.6 },
  puppet: { name: 'Puppet', scale: 6, f_number: 11, motion: 'still', cut: 'key', takes_planned: 1 },
  element: { name: 'Element over black', scale: 1, f_number: 5.6, motion: 'gravity', cut: 'luma' },
  still: { name: 'Still', scale: 1, f_number: 8, motion: 'still', takes_planned: 1 },
};
