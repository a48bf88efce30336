/** The fields of supports, cloths, lines and people, and what one of them begins as. */

import type { FieldSpec } from './fields';

/** The numbers of what a camera stands or rides on. */
export const SUPPORT: FieldSpec[] = [
  { field: 'lowest_mm', label: 'Lowest', kind: 'mm', hint: "what the camera's base sits on" },
  { field: 'highest_mm', label: 'Highest', kind: 'mm' },
  { field: 'slide_mm', label: 'Slide on it', kind: 'mm', hint: 'forward and back' },
  {
    field: 'travel_mm',
    label: 'Travel in a take',
    kind: 'mm',
    hint: 'level; 0: it stays; empty: no end',
    nullable: true,
  },
];

/** Ordinary supports, to start one from. */
export const SUPPORTS = [
  {
    name: 'Tripod',
    lowest_mm: 450,
    highest_mm: 1650,
    turns_about: 'socket' as const,
    travel_mm: 0,
  },
  {
    name: 'Low stand with a head',
    lowest_mm: 120,
    highest_mm: 160,
    turns_about: 'socket' as const,
    travel_mm: 0,
  },
  {
    name: 'Slider on two tripods',
    lowest_mm: 520,
    highest_mm: 1600,
    turns_about: 'socket' as const,
    travel_mm: 800,
  },
  {
    name: 'By hand',
    lowest_mm: 200,
    highest_mm: 1750,
    turns_about: 'socket' as const,
    travel_mm: null,
    lifts: true,
  },
];

/** The numbers of what is hung. */
export const CLOTH: FieldSpec[] = [
  { field: 'width_m', label: 'Width', kind: 'length' },
  { field: 'length_m', label: 'Length', kind: 'length', hint: 'all of it, top to end' },
];

/** Ordinary cloths, to start one from. */
export const CLOTHS = [
  { name: 'Green cloth, 3 × 6 m', width_m: 3, length_m: 6, colour: 'green' as const },
  { name: 'Blue cloth, 3 × 3 m', width_m: 3, length_m: 3, colour: 'blue' as const },
  { name: 'Black cloth, 3 × 3 m', width_m: 3, length_m: 3, colour: 'black' as const },
  {
    name: 'Green board, 1.2 × 2.4 m',
    width_m: 1.2,
    length_m: 2.4,
    colour: 'green' as const,
    stiff: true,
  },
];

/** The numbers of a thread or a line. */
export const CORD: FieldSpec[] = [
  { field: 'diameter_mm', label: 'Thick', kind: 'mm', hint: 'by a caliper' },
  {
    field: 'rated_kg',
    label: 'Breaks at, kg',
    kind: 'plain',
    hint: 'as its spool says; empty: unknown',
    nullable: true,
  },
];

/** Ordinary threads and lines, to start one from; ratings are on the spool. */
export const CORDS = [
  { name: 'Black thread', diameter_mm: 0.2, clear: false },
  { name: 'Clear line', diameter_mm: 0.35, clear: true },
];

/** The numbers of somebody who is filmed or works on set. */
export const PERSON: FieldSpec[] = [{ field: 'height_m', label: 'Tall, shoes on', kind: 'length' }];
/** Of an animator besides. */
export const ANIMATOR: FieldSpec[] = [
  ...PERSON,
  {
    field: 'reach_m',
    label: 'Reaches over a table',
    kind: 'length',
    hint: 'empty: unknown',
    nullable: true,
  },
];

/** What people do, in the words of the trade. */
export const ROLES = [
  { name: 'performer' as const, does: 'is filmed' },
  { name: 'driver' as const, does: 'moves rigs or the camera in a take' },
  { name: 'animator' as const, does: 'animates frame by frame' },
];
