/** What owned and usual formats give the story's camera. */

/** How wide the largest part of a sensor is that has the shape of the delivered picture, as
 * `core/plan/formats.py` has it for new shots: a picture that is higher than wide may be filmed
 * with the camera on its side. */
export function widthUsed(width: number, height: number, aspect: number): number {
  const level = Math.min(width, height * aspect);
  const used = aspect < 1 ? Math.max(level, Math.min(height, width * aspect)) : level;
  return Math.round(used * 100) / 100;
}

type Mode = { name: string; sensor_width_mm: number; sensor_height_mm: number };
export type Format = { name: string; width: number };

/** Usual sensors, generic formats only, 16 by 9: while nothing is owned. */
const USUAL: [string, number][] = [
  ['Full frame', 36],
  ['Super 35', 24.9],
  ['APS-C', 23.5],
  ['17.3 mm wide', 17.3],
  ['1-inch', 13.2],
];

/** The formats to choose from for a picture of this shape: what is owned, by its own words, so that
 * the same words mean the same picture; each width once. */
export function formats(
  bodies: readonly { name: string; modes: Mode[] }[],
  aspect: number,
): Format[] {
  const upright = aspect < 1 ? ', on its side' : '';
  const owned = bodies.flatMap((body) =>
    body.modes.map((mode) => ({
      name: `${body.name}, ${mode.name}${mode.sensor_width_mm > mode.sensor_height_mm ? upright : ''}`,
      width: widthUsed(mode.sensor_width_mm, mode.sensor_height_mm, aspect),
    })),
  );
  if (owned.length === 0)
    return USUAL.map(([name, width]) => ({
      name: `${name}${upright}`,
      width: widthUsed(width, (width * 9) / 16, aspect),
    }));
  return owned.filter((one, i) => owned.findIndex((o) => o.width === one.width) === i);
}
