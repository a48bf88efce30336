/** Words and colours of lamps and screens, shared by the sheets and the tables. */

import type { Schemas } from './api/client';

/** Choices for a menu, in the order they are told; none that the API knows may be missing. */
const choices = <V extends string>(names: Record<V, string>) =>
  (Object.entries(names) as [V, string][]).map(([value, name]) => ({ value, name }));

export const GELS = choices<Schemas['LampPlace']['gel'] & string>({
  '': 'no gel',
  'blue-8': 'eighth blue',
  'blue-4': 'quarter blue',
  'blue-2': 'half blue',
  'blue-34': 'three-quarter blue',
  'blue-1': 'full blue',
  'orange-8': 'eighth orange',
  'orange-4': 'quarter orange',
  'orange-2': 'half orange',
  'orange-34': 'three-quarter orange',
  'orange-1': 'full orange',
});

export const ROLES = choices<Schemas['LampPlace']['role'] & string>({
  '': 'as it stands',
  key: 'key',
  fill: 'fill',
  back: 'back light',
  screen: 'screen',
  practical: 'practical in the picture',
  played: 'played',
});

export const SCREENS = choices<NonNullable<Schemas['PlateOut']['screen_colour']>>({
  green: 'green',
  blue: 'blue',
  black: 'black cloth',
  white: 'white or snow',
  sky: 'overcast sky',
  red: 'red',
});

export const SWATCH_KINDS = choices<NonNullable<Schemas['SwatchFields']['kind']>>({
  skin: 'skin',
  hair: 'hair',
  wardrobe: 'wardrobe',
  prop: 'prop',
  foliage: 'foliage',
  smoke: 'smoke, water',
  flame: 'flame',
  glass: 'glass',
  metal: 'metal',
});

/** A colour of the core for a style sheet. */
export const css = (rgb: readonly number[]) => `rgb(${rgb.join(' ')})`;

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
