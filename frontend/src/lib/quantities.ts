/** The one way to say a quantity to a person, and to read what people type. */

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
  plain: '12',
};

/** `128 mm`, `1.536 m`: what a tape shows. */
export function length(metres: number): string {
  const size = Math.abs(metres);
  if (!Number.isFinite(metres)) return '∞';
  if (size === 0) return '0 mm';
  if (size < 0.0995) return `${(metres * 1000).toFixed(1)} mm`;
  if (size < 0.9995) return `${(metres * 1000).toFixed(0)} mm`;
  if (size < 9.9995) return `${metres.toFixed(3)} m`;
  return size < 100 ? `${metres.toFixed(2)} m` : `${Math.round(metres).toLocaleString('en')} m`;
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
      return `f/${Number(value.toPrecision(3))}`;
    case 'rate':
      return `${trimmed(value, 2)} fps`;
    case 'lux':
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
    case 'iso':
      return trimmed(value, 0);
    default:
      return trimmed(value, 3);
  }
}

/** A plain or vulgar number: `12`, `1,5`, `1/2`, `6 1/2`. NaN when it is neither. */
function readNumber(text: string): number {
  const clean = text.trim().replace('−', '-').replace(',', '.');
  const mixed = /^(-?\d+)\s+(\d+)\/(\d+)$/.exec(clean);
  if (mixed) return Number(mixed[1]) + Number(mixed[2]) / Number(mixed[3]);
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
  const clean = text.trim().toLowerCase().replaceAll('′', "'").replaceAll('″', '"');
  const feet = /^(-?)([\d.,]+)\s*(?:'|ft)\s*(?:([\d.,\s/]+?)\s*(?:"|in)?)?$/.exec(clean);
  if (feet) {
    const size = readNumber(feet[2] ?? '') * 0.3048 + (feet[3] ? readNumber(feet[3]) * 0.0254 : 0);
    return feet[1] ? -size : size;
  }
  const parts = /^(.*?)\s*(mm|cm|km|m|in|")?$/.exec(clean);
  const unit = parts?.[2];
  return readNumber(parts?.[1] ?? '') * (unit ? (LENGTH_UNITS[unit] ?? NaN) : bare);
}

const SUFFIX: Partial<Record<Kind, RegExp>> = {
  mm: /\s*mm$/i,
  degrees: /\s*(°|deg|degrees)$/i,
  rate: /\s*(fps|f\/s|frames\/s)$/i,
  iso: /^iso\s*/i,
  lux: /\s*(lx|lux)$/i,
  seconds: /\s*(s|sec|seconds)$/i,
  shutter: /\s*(s|sec)$/i,
  pixels: /\s*px$/i,
  stops: /\s*stops?$/i,
  stop: /^f\s*\/?\s*/i,
  scale: /^1\s*[:/]\s*/,
};

/**
 * Read what was typed as a value of `kind`; NaN when it cannot be read. For lengths, a bare
 * number takes the unit in which the field shows its present value.
 */
export function read(text: string, kind: Kind, shown?: number | null): number {
  if (kind === 'length') {
    const inMillimetres = shown != null && shown !== 0 && Math.abs(shown) < 0.9995;
    return readLength(text, inMillimetres ? 0.001 : 1);
  }
  let bare = text.trim();
  if (kind === 'shutter' && /(°|deg)$/i.test(bare)) return NaN;
  const suffix = SUFFIX[kind];
  if (suffix) bare = bare.replace(suffix, '');
  if (kind === 'lux') bare = bare.replace(/,(?=\d{3}\b)/g, '');
  return readNumber(bare);
}

/** How far one arrow key or one tick of the tape moves a value: about 1 %, in round steps. */
export function stepFor(value: number, kind: Kind): number {
  if (kind === 'degrees') return 0.1;
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
