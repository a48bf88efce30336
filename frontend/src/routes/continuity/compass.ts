/** The geometry of a place's compass: where each shot's key comes from. Plain functions. */

/** A point on a circle: bearing clockwise from up, radius in pixels. */
export function onCircle(bearing: number, radius: number): [number, number] {
  const turn = (bearing * Math.PI) / 180;
  return [radius * Math.sin(turn), -radius * Math.cos(turn)];
}

/** Radius on the compass for a key's elevation: the rim is level, the centre is overhead. */
export function radiusOf(elevation: number | null, rim: number): number {
  const up = Math.min(Math.max(elevation ?? 0, 0), 90);
  return rim * (1 - up / 90);
}

export type Spot = { x: number; y: number };

/** The same spots, moved outward along their circle so that no two labels lie on each other. */
export function apart(spots: Spot[], distance: number): Spot[] {
  const placed: Spot[] = [];
  for (const spot of spots) {
    let { x, y } = spot;
    const radius = Math.max(Math.hypot(x, y), distance);
    const bearing = bearingOf(x, y);
    for (let step = 1; placed.some((p) => Math.hypot(p.x - x, p.y - y) < distance) && step < 40;) {
      const turn = ((step % 2 ? 1 : -1) * Math.ceil(step / 2) * 6 * 60) / radius;
      [x, y] = onCircle(bearing + turn, radius);
      step += 1;
    }
    placed.push({ x, y });
  }
  return placed;
}

/** The bearing, 0 to 360, of a point dragged on the compass. */
export function bearingOf(x: number, y: number): number {
  return ((((Math.atan2(x, -y) * 180) / Math.PI) % 360) + 360) % 360;
}
