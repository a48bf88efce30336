/** What a file says of itself, in the words of whoever reads a camera. */

import type { Schemas } from '../../lib/api/client';
import { bytes } from '../../lib/pictures/groups';
import { say } from '../../lib/quantities';

export type Facts = Required<Schemas['Facts']>;
type Row = { name: string; value: string };

const CODECS: Record<string, string> = {
  h264: 'H.264',
  hevc: 'HEVC',
  prores: 'ProRes',
  dnxhd: 'DNxHD',
  vp9: 'VP9',
  av1: 'AV1',
  ffv1: 'FFV1',
  mjpeg: 'Motion JPEG',
  raw: 'raw',
};

/** How long something plays: `1:04`, `3.2 s`. */
export function playing(seconds: number): string {
  if (seconds < 60) return `${seconds.toFixed(seconds < 10 ? 2 : 1)} s`;
  const whole = Math.round(seconds);
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor((whole % 3600) / 60);
  const rest = String(whole % 60).padStart(2, '0');
  return hours ? `${hours}:${String(minutes).padStart(2, '0')}:${rest}` : `${minutes}:${rest}`;
}

/** A line on a small card: what kind of thing it is. */
export function inShort(facts: Facts): string {
  const size = `${facts.width_px} x ${facts.height_px}`;
  if (facts.kind === 'still') return `${facts.codec ?? 'still'}, ${size}`;
  if (facts.kind === 'sequence') return `${facts.frames.toLocaleString()} pictures, ${size}`;
  const time = facts.duration_s === null ? `${facts.frames} frame` : playing(facts.duration_s);
  return `${time}, ${size}`;
}

export function rows(facts: Facts, size: number): Row[] {
  const found: (Row | null)[] = [
    { name: 'Picture', value: `${facts.width_px} x ${facts.height_px} px${turned(facts)}` },
    {
      name: 'Recorded as',
      value: [CODECS[facts.codec] ?? facts.codec, bits(facts), facts.subsampling, facts.colour]
        .filter(Boolean)
        .join(', '),
    },
    facts.kind === 'still'
      ? null
      : {
          name: 'Frames',
          value: `${facts.frames.toLocaleString()}${facts.duration_s === null ? '' : `, ${playing(facts.duration_s)}`}`,
        },
    facts.fps === null ? null : { name: 'Rate', value: say(facts.fps, 'rate') },
    facts.key_every === null
      ? null
      : {
          name: 'Frames that stand alone',
          value: facts.key_every === 1 ? 'all' : `one in ${facts.key_every}`,
        },
    facts.bitrate_mbps === null
      ? null
      : { name: 'Data', value: `${facts.bitrate_mbps.toFixed(1)} Mb/s` },
    { name: 'Size', value: bytes(size) },
    facts.sound_hz === null
      ? null
      : { name: 'Sound', value: `${(facts.sound_hz / 1000).toFixed(1)} kHz` },
    facts.focal_mm === null ? null : { name: 'Focal length', value: say(facts.focal_mm, 'mm') },
    facts.f_number === null ? null : { name: 'Stop', value: say(facts.f_number, 'stop') },
    facts.exposure_s === null
      ? null
      : { name: 'Exposure', value: say(facts.exposure_s, 'shutter') },
    facts.iso === null ? null : { name: 'ISO', value: say(facts.iso, 'iso') },
    facts.shot_at ? { name: 'Camera’s clock', value: clock(facts.shot_at) } : null,
  ];
  return found.filter((row) => row !== null);
}

function turned(facts: Facts): string {
  return facts.turned_deg ? `, turned ${facts.turned_deg}° by the file` : '';
}

function bits(facts: Facts): string {
  if (facts.bit_depth === null) return '';
  const used = facts.used_bits === null ? '' : `, of which ${facts.used_bits} are used`;
  return `${facts.bit_depth} bits${used}`;
}

function clock(said: string): string {
  const when = new Date(said);
  return Number.isNaN(when.valueOf()) ? said : when.toLocaleString();
}
