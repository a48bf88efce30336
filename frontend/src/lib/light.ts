/** Words and colours of lamps and screens, shared by the sheets and the tables. */

import type { Schemas } from './api/client';

export const GELS: { value: Schemas['LampPlace']['gel'] & string; name: string }[] = [
  { value: '', name: 'no gel' },
  { value: 'blue-8', name: 'eighth blue' },
  { value: 'blue-4', name: 'quarter blue' },
  { value: 'blue-2', name: 'half blue' },
  { value: 'blue-34', name: 'three-quarter blue' },
  { value: 'blue-1', name: 'full blue' },
  { value: 'orange-8', name: 'eighth orange' },
  { value: 'orange-4', name: 'quarter orange' },
  { value: 'orange-2', name: 'half orange' },
  { value: 'orange-34', name: 'three-quarter orange' },
  { value: 'orange-1', name: 'full orange' },
];

export const SCREENS = [
  { value: 'green', name: 'green' },
  { value: 'blue', name: 'blue' },
  { value: 'black', name: 'black cloth' },
  { value: 'white', name: 'white or snow' },
  { value: 'sky', name: 'overcast sky' },
  { value: 'red', name: 'red' },
];

/** How the usual screens look when lit; the core computes with the same. */
export const SCREEN_RGB: Record<string, string> = {
  green: 'rgb(40 170 70)',
  blue: 'rgb(35 70 170)',
  black: 'rgb(14 14 15)',
  white: 'rgb(236 236 234)',
  sky: 'rgb(205 210 214)',
  red: 'rgb(175 40 40)',
};

export const SWATCH_KINDS = [
  { value: 'skin', name: 'skin' },
  { value: 'hair', name: 'hair' },
  { value: 'wardrobe', name: 'wardrobe' },
  { value: 'prop', name: 'prop' },
  { value: 'foliage', name: 'foliage' },
  { value: 'smoke', name: 'smoke, water' },
  { value: 'flame', name: 'flame' },
  { value: 'glass', name: 'glass' },
  { value: 'metal', name: 'metal' },
];

/** `from the right, in front`: a number of degrees alone is easily mistaken. */
export function side(fromDeg: number): string {
  const turn = ((((fromDeg + 180) % 360) + 360) % 360) - 180;
  const size = Math.abs(turn);
  if (size < 15) return 'behind the action';
  if (size > 165) return 'behind the camera';
  const across = turn > 0 ? 'right' : 'left';
  return size < 75 ? `${across}, behind` : size > 105 ? `${across}, in front` : across;
}

/** `0.7`, `−1.3`: stops with their sign, to a tenth. */
export function signed(stops: number): string {
  const shown = Math.abs(stops).toFixed(1);
  return shown === '0.0' ? '0' : `${stops < 0 ? '−' : '+'}${shown}`;
}

/** How a band of a map is filled: ochre over the level of the action, dark under it. */
export function bandFill(low: number, high: number): { fill: string; opacity: number } {
  const middle = (Math.max(low, -5) + Math.min(high, 5)) / 2;
  return middle >= 0
    ? { fill: 'var(--ochre)', opacity: Math.min(0.06 + 0.17 * middle, 0.75) }
    : { fill: 'var(--shade)', opacity: Math.min(-0.09 * middle, 0.42) };
}

/** `213°`. */
export const degrees = (value: number) => `${Math.round(value)}°`;

/** `3 h 05`, `45 min`. */
export function minutes(value: number): string {
  const whole = Math.round(value);
  return whole < 90
    ? `${whole} min`
    : `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')}`;
}
