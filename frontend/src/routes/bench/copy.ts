/** A plate's numbers as plain text, to paste into a message or a notebook. */

import type { Schemas } from '../../lib/api/client';
import { length, say, sayShutter } from '../../lib/quantities';
import type { Kit, Plate, Shot } from '../../lib/shot/plan';

/** From where what post lays in is filmed, and how large it is made of it. */
function placed(found: Schemas['InPost'] | null): [string, string][] {
  const size = found?.laid[0]?.size;
  if (!found || size === undefined) return [];
  return [
    [
      'Placed in post',
      `filmed from ${length(found.from_m)}, made ${(size * 100).toPrecision(2)} %`,
    ],
  ];
}

export function asText(shot: Shot, plate: Plate, answer: Schemas['PlateAnswer'], kit: Kit): string {
  const stage = answer.stage;
  if (!stage) return '';
  const body = kit.bodies.find((b) => b.id === plate.body_id);
  const mode = body?.modes.find((m) => m.id === plate.mode_id);
  const lens = kit.lenses.find((x) => x.id === plate.lens_id);
  const lines: [string, string][] = [
    ['Scale', say(plate.scale ?? 1, 'scale')],
    ['Body', `${body?.name ?? ''}, ${mode?.name ?? ''}`],
    ['Lens', lens?.name ?? ''],
    ['Lens axis height', length(stage.axis_m)],
    ['Tilt', say(stage.tilt_deg, 'degrees')],
    ['Stop', say(plate.f_number ?? 5.6, 'stop')],
    ...stage.passes.map((pass, i): [string, string] => [
      stage.passes.length > 1
        ? `Focus pass ${i + 1}, from the sensor mark`
        : 'Focus from the sensor mark',
      pass.focus_m === null ? '∞' : length(pass.focus_m + stage.sensor_to_pupil_m),
    ]),
    [
      'Sharp',
      `${length(stage.depth_near_m)} to ${stage.depth_far_m === null ? '∞' : length(stage.depth_far_m)}`,
    ],
    ['Capture rate', say(stage.capture_fps, 'rate')],
    [
      'Shutter',
      `${sayShutter(plate.shutter_deg ?? 180, stage.capture_fps)} (${say(stage.exposure_s, 'shutter')})`,
    ],
    ['ISO', say(plate.iso ?? 800, 'iso')],
    ['Light needed', say(stage.lux_needed, 'lux')],
    ['Pixels left across', say(stage.pixels_across, 'pixels')],
    ...placed(answer.in_post),
    ...answer.marks.map((mark): [string, string] => [
      `Mark: ${mark.name}`,
      `${length(mark.from_sensor_m)} ahead, ${length(Math.abs(mark.aside_m))} ${mark.aside_m < 0 ? 'left' : 'right'}`,
    ]),
  ];
  const open = answer.findings.filter((f) => f.verdict !== 'holds');
  return [
    `Shot ${shot.number} ${shot.title}: ${plate.name}`,
    ...lines.map(([name, value]) => `${name}: ${value}`),
    ...open.map((f) => `${f.title} ${f.verdict}: ${f.sentence}`),
  ].join('\n');
}
