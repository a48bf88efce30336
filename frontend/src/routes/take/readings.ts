/** What the crew reads off for a take, in the order hands work. */

import type { Schemas } from '../../lib/api/client';
import type { Kind } from '../../lib/quantities';

export type Take = Schemas['TakeOut'];
export type Reading =
  | 'axis_height_m'
  | 'distance_m'
  | 'tilt_deg'
  | 'focal_mm'
  | 'focus_tape_m'
  | 'f_number'
  | 'exposure_s'
  | 'iso'
  | 'capture_fps';

export const READINGS: { field: Reading; label: string; kind: Kind }[] = [
  { field: 'axis_height_m', label: 'Lens axis height at the sensor mark', kind: 'length' },
  { field: 'distance_m', label: 'Sensor mark to the mark', kind: 'length' },
  { field: 'tilt_deg', label: 'Tilt', kind: 'degrees' },
  { field: 'focal_mm', label: 'Focal length', kind: 'mm' },
  { field: 'focus_tape_m', label: 'Focus from the sensor mark', kind: 'length' },
  { field: 'f_number', label: 'Stop', kind: 'stop' },
  { field: 'exposure_s', label: 'Shutter', kind: 'shutter' },
  { field: 'iso', label: 'ISO', kind: 'iso' },
  { field: 'capture_fps', label: 'Capture rate', kind: 'rate' },
];

/** What a camera's file never says, and a board that it saw does. */
const BY_BOARD: string[] = ['axis_height_m', 'distance_m', 'tilt_deg'];

/** What filled a reading in. */
export function filledBy(field: Reading): string {
  return BY_BOARD.includes(field) ? 'from the board' : 'from the file';
}
