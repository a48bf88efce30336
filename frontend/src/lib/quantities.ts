/**
 * The one way to say a quantity to a person, and to read what people type. Values are SI; how they
 * are written follows the notation chosen on this device.
 */

import { units } from './units.svelte';

export type Kind =
  | 'length' // metres
  | 'mm'
  | 'degrees'
  | 'stop'
  | 'rate'
  | 'iso'
  | 'lux'
  | 'seconds'
  | 'shutter' // seconds of exposure, said as 1/n s
  | 'scale' // the denominator
  | 'pixels'
  | 'stops'
  | 'kelvin'
  | 'percent' // a part of one
  | 'plain';

const trimmed = (value: number, digits: number) =>
  value
    .toFixed(digits)
    .replace(/(\.\d*?)0+$/, '$1')
    .replace(/\.$/, '');

export const TYPICAL: Record<Kind, string> = {
  length: '128 mm, 1.5 m or 5\'6"',
  mm: '28 mm',
  degrees: '-3.5',
  stop: 'f/5.6',
  rate: '24 fps',
  iso: '800',
  lux: '1200 lx',
  seconds: '4 s',
  shutter: '1/48',
  scale: '1:12',
  pixels: '1920',
  stops: '1.5',
  kelvin: '5600 K',
  percent: '50 %',
  plain: '12',
};

export const METRES_PER_INCH = 0.0254;
export const LUX_PER_FOOTCANDLE = 1 / 0.3048 ** 2;

/** `5' 6 1/2"`: to a sixteenth; under a foot to a thirty-second; from a hundred feet to the foot. */
export function feet(metres: number): string {
  const inches = Math.abs(metres) / METRES_PER_INCH;
  const sign = metres < 0 ? '-' : '';
  if (inches >= 1200) return `${sign}${Math.round(inches / 12).toLocaleString('en')}'`;
  if (inches < 1 / 32) return inches === 0 ? '0"' : `${sign}${Number(inches.toPrecision(2))}"`;
  const parts = inches >= 12 ? 16 : 32;
  const all = Math.round(inches * parts);
  const [whole, part] = [Math.floor(all / parts), all % parts];
  const [foot, inch] = [Math.floor(whole / 12), whole % 12];
  let common = part;
  for (let b = parts; b;) [common, b] = [b, common % b];
  const shown = [
    inch || !(foot || part) ? `${inch}` : '',
    part ? `${part / common}/${parts / common}` : '',
  ].filter(Boolean);
  const tail = shown.length ? `${shown.join(' ')}"` : '';
  return sign + (foot ? `${foot}' ${tail}`.trimEnd() : tail);
}

/** Full stops as engraved; the true ones are powers of the square root of two. */
const ENGRAVED = [1, 1.4, 2, 2.8, 4, 5.6, 8, 11, 16, 22, 32, 45, 64];
const THIRDS = ['', '⅓', '⅔'];

/** `f/5.6⅓` where the stop is a third within a twelfth, `f/5.9` elsewhere. */
function stop(value: number): string {
  if (units.now.stop === 'thirds' && value > 0.95 && value < 66) {
    const exact = 6 * Math.log2(value);
    const nearest = Math.round(exact);
    const full = ENGRAVED[Math.floor(nearest / 3)];
    // The engraved numbers are rounded, so they lie a little off the true thirds.
    if (full !== undefined && Math.abs(exact - nearest) <= 0.25) {
      return `f/${full}${THIRDS[((nearest % 3) + 3) % 3]}`;
    }
  }
  return `f/${Number(value.toPrecision(3))}`;
}

/** `128 mm`, `1.536 m`, or `5' 6 1/2"`: what a tape shows. */
export function length(metres: number): string {
  const size = Math.abs(metres);
  if (!Number.isFinite(metres)) return '∞';
  if (units.now.length === 'feet') return feet(metres);
  if (size === 0) return '0 mm';
  if (size < 0.0995) return `${(metres * 1000).toFixed(1)} mm`;
  if (size < 0.9995) return `${(metres * 1000).toFixed(0)} mm`;
  if (size < 9.9995) return `${metres.toFixed(3)} m`;
  return size < 100 ? `${metres.toFixed(2)} m` : `${Math.round(metres).toLocaleString('en')} m`;
}

/** `300 mm`, `3 m`, `10'`: a round distance, without figures that say nothing. */
export function tickLength(metres: number): string {
  if (units.now.length === 'feet') {
    const inFeet = metres / (12 * METRES_PER_INCH);
    if (inFeet < 1) return `${Number((inFeet * 12).toPrecision(2))}"`;
    return `${Number(inFeet.toPrecision(inFeet < 100 ? 2 : 3)).toLocaleString('en')}'`;
  }
  if (metres < 0.9995) return `${Number((metres * 1000).toPrecision(3))} mm`;
  return `${Number(metres.toPrecision(3)).toLocaleString('en')} m`;
}

/** A value of a kind, with its unit; null is infinity (JSON has no other word for it). */
export function say(value: number | null | undefined, kind: Kind): string {
  if (value === undefined) return '';
  if (value === null || !Number.isFinite(value)) return '∞';
  switch (kind) {
    case 'length':
      return length(value);
    case 'mm':
      return `${trimmed(value, 2)} mm`;
    case 'degrees':
      return `${trimmed(value, 2)}°`;
    case 'stop':
      return stop(value);
    case 'rate':
      return `${trimmed(value, 2)} fps`;
    case 'lux':
      if (units.now.light === 'footcandles') {
        const candles = value / LUX_PER_FOOTCANDLE;
        return `${candles >= 10 ? Math.round(candles).toLocaleString('en') : candles.toPrecision(2)} fc`;
      }
      return value >= 1000
        ? `${(Math.round(value / 10) * 10).toLocaleString('en')} lx`
        : `${value.toFixed(value < 10 ? 1 : 0)} lx`;
    case 'seconds':
      return `${trimmed(value, 2)} s`;
    case 'shutter':
      if (value >= 0.4) return `${trimmed(value, 2)} s`;
      return 1 / value >= 10 ? `1/${Math.round(1 / value)} s` : `1/${trimmed(1 / value, 1)} s`;
    case 'scale':
      return value === 1 ? '1:1' : `1:${trimmed(value, 2)}`;
    case 'pixels':
      return `${Math.round(value).toLocaleString('en')} px`;
    case 'stops':
      return `${trimmed(value, 1)} stops`;
    case 'kelvin':
      return `${trimmed(value, 0)} K`;
    case 'percent':
      return `${trimmed(value * 100, 1)} %`;
    case 'iso':
      return trimmed(value, 0);
    default:
      return trimmed(value, 3);
  }
}

const VULGAR: Record<string, string> = {
  '½': '1/2',
  '⅓': '1/3',
  '⅔': '2/3',
  '¼': '1/4',
  '¾': '3/4',
  '⅛': '1/8',
  '⅜': '3/8',
  '⅝': '5/8',
  '⅞': '7/8',
};

/** What is typed or pasted with other signs for the same: curly quotes and primes, dashes for a
 * minus, spaces that do not break, a slash of fractions. */
function plain(text: string): string {
  return text
    .replace(/[\u2018\u2019\u2032\u00b4]/g, "'")
    .replace(/[\u201c\u201d\u2033]|''/g, '"')
    .replace(/[\u2010-\u2013\u2212]/g, '-')
    .replace(/[\u2044\u2215]/g, '/')
    .replace(/[\u00a0\u2007-\u200a\u202f]/g, ' ')
    .trim();
}

/** A plain or vulgar number: `12`, `1,5`, `+1.5`, `1/2`, `6 1/2`, `6½`, `1,920`, `10 000.5`. NaN when
 * it is neither. A comma before three figures parts thousands, as they are printed, unless nothing
 * but nought stands before it. */
function readNumber(text: string): number {
  const clean = plain(text)
    .replace(/^\+\s*/, '')
    .replace(
      /^(-?[1-9]\d{0,2})((?:,\d{3})+)(?=\.\d|\D|$)/,
      (_, first: string, rest: string) => first + rest.replaceAll(',', ''),
    )
    .replace(
      /^(-?[1-9]\d{0,2})((?: \d{3})+)(?=\.\d|$)/,
      (_, first: string, rest: string) => first + rest.replaceAll(' ', ''),
    )
    .replace(',', '.')
    .replace(/\s*([½⅓⅔¼¾⅛⅜⅝⅞])$/, (_, sign: string) => ` ${VULGAR[sign]}`)
    .trim();
  const mixed = /^(-?)(\d+)\s+(\d+)\/(\d+)$/.exec(clean);
  if (mixed) {
    const size = Number(mixed[2]) + Number(mixed[3]) / Number(mixed[4]);
    return mixed[1] ? -size : size;
  }
  const fraction = /^(-?\d+(?:\.\d+)?)\/(\d+(?:\.\d+)?)$/.exec(clean);
  if (fraction) return Number(fraction[1]) / Number(fraction[2]);
  return /^-?(\d+\.?\d*|\.\d+)(e-?\d+)?$/i.test(clean) ? Number(clean) : NaN;
}

const LENGTH_UNITS: Record<string, number> = {
  mm: 0.001,
  cm: 0.01,
  m: 1,
  km: 1000,
  in: 0.0254,
  '"': 0.0254,
  ft: 0.3048,
  "'": 0.3048,
};

/** Metres from `1.5 m`, `66mm`, `5'6"`, `5' 6 1/2"`; a bare number is in `bare` metres each. */
export function readLength(text: string, bare = 1): number {
  const clean = plain(text).toLowerCase();
  const feet = /^(-?)([\d.,]+)\s*(?:'|ft)\s*(?:([\d.,\s/½⅓⅔¼¾⅛⅜⅝⅞]+?)\s*(?:"|in)?)?$/.exec(clean);
  if (feet) {
    const size = readNumber(feet[2] ?? '') * 0.3048 + (feet[3] ? readNumber(feet[3]) * 0.0254 : 0);
    return feet[1] ? -size : size;
  }
  const parts = /^(.*?)\s*(mm|cm|km|m|in|")?$/.exec(clean);
  const unit = parts?.[2];
  return readNumber(parts?.[1] ?? '') * (unit ? (LENGTH_UNITS[unit] ?? NaN) : bare);
}

const PAST_A_STOP: Record<string, number> = {
  '⅓': 1,
  '1/3': 1,
  '½': 1.5,
  '1/2': 1.5,
  '⅔': 2,
  '2/3': 2,
};

/** A stop: `5.6`, `f8`, `T2.8`, or a part past a full stop: `5.6⅓`, `5.6 2/3`, `f/11½`. */
function readStop(text: string): number {
  const bare = plain(text).replace(/^[ft]\s*\/?\s*/i, '');
  const past = /^([\d.,]+)(?:\s*([⅓⅔½])|\s+([12]\/[23]))$/.exec(bare);
  const count = past && PAST_A_STOP[past[2] ?? past[3] ?? ''];
  if (!past || !count) return readNumber(bare);
  // From the true stop, not from the engraved number, which is rounded.
  const full = 2 ** (Math.round(2 * Math.log2(readNumber(past[1] ?? ''))) / 2);
  return Number((full * 2 ** (count / 6)).toPrecision(4));
}

/** A shutter in degrees, from `180°`, `180`, or a time at this rate: `1/48`, `1/48 s`, `0.02 s`. */
export function readShutter(text: string, fps: number): number {
  const clean = plain(text);
  if (/^\d+\s*\//.test(clean) || /s(ec)?$/i.test(clean)) {
    return Number((readNumber(clean.replace(/\s*s(ec)?$/i, '')) * fps * 360).toPrecision(6));
  }
  return readNumber(clean.replace(/\s*(°|deg|degrees)$/i, ''));
}

/** A shutter of so many degrees at this rate, as an angle or as a time. */
export function sayShutter(degrees: number, fps: number): string {
  return units.now.shutter === 'angle'
    ? say(degrees, 'degrees')
    : say(degrees / 360 / fps, 'shutter');
}

/** How a field writes and reads a shutter in degrees where the rate is known. */
export function shutterAt(fps: number) {
  return {
    say: (degrees: number) => sayShutter(degrees, fps),
    read: (text: string) => readShutter(text, fps),
    typical: '180° or 1/48',
  };
}

const SUFFIX: Partial<Record<Kind, RegExp>> = {
  degrees: /\s*(°|deg|degrees)$/i,
  rate: /\s*(fps|f\/s|frames\/s)$/i,
  iso: /^iso\s*/i,
  lux: /\s*(lx|lux)$/i,
  seconds: /\s*(s|sec|seconds)$/i,
  shutter: /\s*(s|sec)$/i,
  pixels: /\s*px$/i,
  stops: /\s*stops?$/i,
  kelvin: /\s*k(elvin)?$/i,
  scale: /^1\s*[:/]\s*/,
};

/**
 * Read what was typed as a value of `kind`; NaN when it cannot be read. For lengths, a bare
 * number takes the unit in which the field shows its present value.
 */
export function read(text: string, kind: Kind, shown?: number | null): number {
  if (kind === 'length') {
    const size = Math.abs(shown ?? 0);
    const bare =
      units.now.length === 'feet'
        ? size > 0 && size < 12 * METRES_PER_INCH
          ? METRES_PER_INCH
          : 12 * METRES_PER_INCH
        : size > 0 && size < 0.9995
          ? 0.001
          : 1;
    return readLength(text, bare);
  }
  // Any unit of length, as the product prints them; a bare number is in millimetres.
  if (kind === 'mm') return Number((readLength(text, 0.001) * 1000).toPrecision(12));
  if (kind === 'stop') return readStop(text);
  let bare = plain(text);
  if (kind === 'shutter' && /(°|deg)$/i.test(bare)) return NaN;
  const suffix = SUFFIX[kind];
  if (suffix) bare = bare.replace(suffix, '');
  if (kind === 'lux') {
    const candles = /\s*(fc|ft-?c|footcandles?|foot-candles?)$/i;
    if (candles.test(bare)) return readNumber(bare.replace(candles, '')) * LUX_PER_FOOTCANDLE;
    const told = /(lx|lux)\s*$/i.test(text);
    if (!told && units.now.light === 'footcandles') return readNumber(bare) * LUX_PER_FOOTCANDLE;
  }
  if (kind === 'percent') return readNumber(bare.replace(/\s*%$/, '')) / 100;
  return readNumber(bare);
}

/** Whether what has been typed so far is only the beginning of a number: `-`, `1.`, `5'6`, `1/`. It
 * is not sent anywhere before it goes on or is left. */
export function halfTyped(text: string): boolean {
  return /[.,/:+'-]$|^[ft]\/?$|^1:$|'\s*\d+(\s+\d*\/?\d*)?$|\d\s+\d*\/?$|\de-?$/i.test(plain(text));
}

/** Up to five figures, so that a hand calculation can be compared; never with a power of ten. */
export function figure(value: number | null): string {
  if (value === null || !Number.isFinite(value)) return '∞';
  const size = Math.abs(value);
  if (size < 5e-7) return '0';
  if (size < 1e-3) return trimmed(value, 7);
  if (size >= 1e5) return Math.round(value).toLocaleString('en');
  return String(Number(value.toPrecision(5)));
}

/** How far one arrow key or one tick of the tape moves a value: about 1 %, in round steps. */
export function stepFor(value: number, kind: Kind): number {
  if (kind === 'degrees') return 0.1;
  if (kind === 'percent') return 0.01;
  if (kind === 'kelvin') return 50;
  if (kind === 'pixels' || kind === 'iso') return kind === 'iso' ? 100 : 2;
  const size = Math.abs(value) || (kind === 'length' ? 0.1 : 1);
  const power = 10 ** Math.floor(Math.log10(size) - 1.5);
  return kind === 'length' ? Math.max(power, 0.001) : power;
}

/** The longest of 1, 2, 5 times a power of ten that is no longer than `longest`. */
export function roundBelow(longest: number): number {
  const power = 10 ** Math.floor(Math.log10(longest));
  for (const k of [5, 2]) if (k * power <= longest * 1.0001) return k * power;
  return power;
}

/** A part of a whole in per cent, finer where it is little. */
export function share(part: number): string {
  return `${(part * 100).toFixed(part < 0.1 ? 1 : 0)} %`;
}
