/** The fields of kit records as they are shown: label, kind of quantity, hint. */

import type { Kind } from '../../lib/quantities';
import { ZONE } from '../../lib/zone';

export type FieldSpec = {
  field: string;
  label: string;
  kind: Kind;
  hint?: string;
  nullable?: boolean;
};

/** What says whether a thing is borrowed, and when it is there. */
export type Lent = { borrowed?: boolean; loan_first?: string | null; loan_last?: string | null };

export const BODY: FieldSpec[] = [
  {
    field: 'axis_height_mm',
    label: 'Base to lens axis',
    kind: 'mm',
    hint: 'with its lowest support',
  },
  { field: 'flange_mm', label: 'Lens mount to sensor mark', kind: 'mm' },
  {
    field: 'socket_mm',
    label: 'Socket ahead of the mark',
    kind: 'mm',
    hint: 'where it turns on a tripod; empty: under the mark',
    nullable: true,
  },
];

export const MODE: FieldSpec[] = [
  { field: 'sensor_width_mm', label: 'Sensor width used', kind: 'mm' },
  { field: 'sensor_height_mm', label: 'Sensor height used', kind: 'mm' },
  { field: 'width_px', label: 'Width', kind: 'pixels' },
  { field: 'height_px', label: 'Height', kind: 'pixels' },
  { field: 'min_fps', label: 'Slowest', kind: 'rate' },
  { field: 'max_fps', label: 'Fastest', kind: 'rate' },
  { field: 'bit_depth', label: 'Bits per channel', kind: 'plain' },
  {
    field: 'bitrate_mbps',
    label: 'Megabits a second',
    kind: 'plain',
    hint: 'what it writes; empty when unknown',
    nullable: true,
  },
  { field: 'base_iso', label: 'Base ISO', kind: 'iso' },
  { field: 'min_iso', label: 'Lowest ISO', kind: 'iso' },
  { field: 'max_iso', label: 'Highest ISO', kind: 'iso' },
  {
    field: 'readout_ms',
    label: 'First row to last, ms',
    kind: 'plain',
    hint: 'how long the sensor is read; empty when unknown',
    nullable: true,
  },
];

export const LENS: FieldSpec[] = [
  { field: 'focal_min_mm', label: 'Focal length', kind: 'mm', hint: 'shortest' },
  {
    field: 'focal_max_mm',
    label: 'Focal length',
    kind: 'mm',
    hint: 'longest; the same for a prime',
  },
  { field: 'widest_stop', label: 'Widest stop', kind: 'stop' },
  { field: 'smallest_stop', label: 'Smallest stop', kind: 'stop' },
  { field: 'close_focus_m', label: 'Close focus', kind: 'length', hint: 'from the sensor mark' },
  { field: 't_over_f', label: 'T-stop over f-stop', kind: 'plain', hint: '1 when unknown' },
  {
    field: 'pupil_ratio',
    label: 'Pupil ratio',
    kind: 'plain',
    hint: 'exit over entrance; 1 when unknown',
  },
  { field: 'length_mm', label: 'Mount to front rim', kind: 'mm', nullable: true },
  { field: 'pupil_from_mount_mm', label: 'Mount to entrance pupil', kind: 'mm', nullable: true },
];

/** Sensor areas of generic formats, to start a mode from. */
export const FORMATS = [
  {
    name: 'Super 35',
    sensor_width_mm: 24.9,
    sensor_height_mm: 13.1,
    width_px: 4096,
    height_px: 2160,
  },
  {
    name: 'Full frame',
    sensor_width_mm: 36,
    sensor_height_mm: 20.25,
    width_px: 3840,
    height_px: 2160,
  },
  { name: 'APS-C', sensor_width_mm: 23.5, sensor_height_mm: 13.2, width_px: 3840, height_px: 2160 },
  {
    name: '17.3 mm wide',
    sensor_width_mm: 17.3,
    sensor_height_mm: 9.7,
    width_px: 3840,
    height_px: 2160,
  },
  { name: '1-inch', sensor_width_mm: 13.2, sensor_height_mm: 7.4, width_px: 3840, height_px: 2160 },
];

export const LAMP: FieldSpec[] = [
  { field: 'lux_at_1m', label: 'Light at 1 m', kind: 'lux', hint: 'metered on its axis' },
  { field: 'size_m', label: 'Across what shines', kind: 'length', hint: 'its longer side' },
  {
    field: 'width_m',
    label: 'The shorter side',
    kind: 'length',
    hint: 'empty: as its kind',
    nullable: true,
  },
  {
    field: 'beam_deg',
    label: 'Beam at half strength',
    kind: 'degrees',
    hint: 'the whole angle; empty: as its kind',
    nullable: true,
  },
  { field: 'count', label: 'Owned alike', kind: 'plain' },
  { field: 'watts', label: 'Watts', kind: 'plain' },
  { field: 'temperature_k', label: 'Colour', kind: 'kelvin' },
];

export const ROOM: FieldSpec[] = [
  { field: 'length_m', label: 'Length', kind: 'length' },
  { field: 'width_m', label: 'Width', kind: 'length' },
  { field: 'height_m', label: 'Height', kind: 'length', hint: 'empty: open air', nullable: true },
  {
    field: 'reflectance',
    label: 'Light it gives back',
    kind: 'plain',
    hint: '0 to 1: white walls .7, concrete .3, black cloth .05',
  },
  { field: 'mains_hz', label: 'Mains, Hz', kind: 'plain', hint: 'empty: none', nullable: true },
];

/** What the mains of a room can give, shown where it has any. */
export const MAINS: FieldSpec[] = [
  { field: 'volts', label: 'Mains, volts', kind: 'plain' },
  { field: 'circuits', label: 'Circuits', kind: 'plain', hint: 'with a breaker of their own' },
  { field: 'circuit_a', label: 'Amperes of each', kind: 'plain', hint: 'as on its breaker' },
];

/** Where an open-air place lies. */
export const PLACE: FieldSpec[] = [
  {
    field: 'latitude_deg',
    label: 'Latitude',
    kind: 'degrees',
    hint: '+ north; empty: unknown',
    nullable: true,
  },
  { field: 'longitude_deg', label: 'Longitude', kind: 'degrees', hint: '+ east', nullable: true },
];

export const LAMP_KINDS = [
  { value: 'panel', name: 'panel, shines like paper' },
  { value: 'bank', name: 'bank of tubes' },
  { value: 'fresnel', name: 'fresnel, a beam' },
  { value: 'bulb', name: 'bulb, all round' },
  { value: 'practical', name: 'practical, seen in the picture' },
  { value: 'bounce', name: 'bounce, gives back light' },
  { value: 'sun', name: 'the sun' },
];

/** What a new lamp begins as: a middling panel. */
export const NEW_LAMP = {
  lux_at_1m: 2000,
  size_m: 0.4,
  watts: 80,
  temperature_k: 5600,
  flicker_free: true,
  count: 1,
  kind: 'panel' as const,
  borrowed: false,
};

/** What a new room has of mains and sky, until it is told. */
export const NEW_ROOM = {
  borrowed: false,
  volts: 230,
  circuit_a: 16,
  circuits: 1,
  reflectance: 0.5,
  time_zone: ZONE,
  horizon: [],
};

/** Ordinary places, to start a room from. */
export const ROOMS = [
  { name: 'Garage', length_m: 6, width_m: 5, height_m: 2.4, mains_hz: 50 },
  { name: 'Living room', length_m: 5, width_m: 4, height_m: 2.5, mains_hz: 50 },
  { name: 'Yard', length_m: 15, width_m: 10, height_m: null, mains_hz: null },
];

/** What a rig can move, in the words of the trade. */
export const RIG_AXES = [
  { value: 'track', name: 'camera, sideways' },
  { value: 'push', name: 'camera, in and out' },
  { value: 'crane', name: 'camera, up and down' },
  { value: 'pan', name: 'head, pan' },
  { value: 'tilt', name: 'head, tilt' },
  { value: 'zoom', name: 'zoom ring' },
  { value: 'focus', name: 'focus ring' },
  { value: 'turntable', name: 'turntable' },
  { value: 'crank', name: 'crank on a thing' },
  { value: 'layer', name: 'layer of a set' },
  { value: 'belt', name: 'belt or painted roll' },
  { value: 'line', name: 'thing on a line' },
];
const TURNING = ['pan', 'tilt', 'zoom', 'focus', 'turntable', 'crank'];

/** The numbers of a rig: in degrees where its axis turns, else in millimetres. */
export function rigSpecs(axis: string): FieldSpec[] {
  const kind: Kind = TURNING.includes(axis) ? 'degrees' : 'mm';
  const specs: FieldSpec[] = [
    { field: 'per_turn', label: 'One turn goes', kind, hint: 'of its handle or motor' },
    { field: 'steps_per_turn', label: 'Steps in a turn', kind: 'plain', hint: '1: whole turns' },
    { field: 'travel', label: 'From stop to stop', kind, hint: 'empty: no end', nullable: true },
    { field: 'backlash', label: 'Play when it turns round', kind },
    { field: 'per_s', label: 'At most in a second', kind, hint: 'empty: by hand', nullable: true },
  ];
  if (kind === 'degrees') {
    specs.push({
      field: 'radius_mm',
      label: 'Marks are stuck at',
      kind: 'mm',
      hint: 'from its middle',
      nullable: true,
    });
  }
  return specs;
}

/** Ordinary rigs, to start one from. */
export const RIGS = [
  {
    name: 'Slider with a crank',
    axis: 'track' as const,
    per_turn: 1,
    steps_per_turn: 4,
    travel: 800,
  },
  { name: 'Geared head', axis: 'pan' as const, per_turn: 3, steps_per_turn: 12, travel: null },
  { name: 'Turntable', axis: 'turntable' as const, per_turn: 5, steps_per_turn: 10, travel: null },
  {
    name: 'Crank on a wheel',
    axis: 'crank' as const,
    per_turn: 7.2,
    steps_per_turn: 1,
    travel: null,
  },
];
