/** Where the words of a drawing stand, so that none lie on others. Plain geometry, no DOM. */

/** A place for words: `y` is their base line; `short` leaves away what they can do without. */
export type Place = {
  x: number;
  y: number;
  anchor: 'start' | 'middle' | 'end';
  short?: boolean;
};
export type Words = {
  /** In pixels, all of them, and what is left of them where they are shortened. */
  width: number;
  short?: number;
  /** Where they may stand, best first. */
  places: Place[];
  /** They stand where they hide least, if nowhere is clear; else they are left out. */
  keep?: boolean;
};
export type Box = { left: number; right: number; top: number; bottom: number };

/** What words need above and below their base line, pixels. */
const ABOVE = 10;
const BELOW = 3;

export function boxOf(words: Words, at: Place): Box {
  const width = at.short ? (words.short ?? words.width) : words.width;
  const left = at.x - { start: 0, middle: width / 2, end: width }[at.anchor];
  return { left, right: left + width, top: at.y - ABOVE, bottom: at.y + BELOW };
}

/** How much of two boxes lies on one another, square pixels. */
export function shared(one: Box, other: Box): number {
  const across = Math.min(one.right, other.right) - Math.max(one.left, other.left);
  const down = Math.min(one.bottom, other.bottom) - Math.max(one.top, other.top);
  return across > 0 && down > 0 ? across * down : 0;
}

/** The part of a line from a to b that is on paper so large; nothing where none of it is. */
export function onPaper(a: number, b: number, size: number): [number, number] | null {
  const cut = (at: number) => Math.min(Math.max(at, 0), size);
  return Math.max(a, b) < 0 || Math.min(a, b) > size ? null : [cut(a), cut(b)];
}

/** Words in their order, the first ones first served, each at the first of its places that is on the
 * paper and clear of the others and of what is `taken`: of these the first that covers none of the
 * `things` drawn, if there is one. */
export function laid<T extends Words>(
  words: T[],
  paper: { width: number; height: number },
  taken: Box[] = [],
  things: Box[] = [],
): (T & { at: Place })[] {
  const boxes = [...taken];
  const found: (T & { at: Place })[] = [];
  for (const one of words) {
    let best: { at: Place; box: Box; hides: number; covers: number } | null = null;
    for (const at of one.places) {
      // A name left away is a greater loss than a line of a thing behind it.
      if (best?.hides === 0 && at.short && !best.at.short) break;
      const box = boxOf(one, at);
      const off =
        Math.max(0, -box.left) +
        Math.max(0, box.right - paper.width) +
        Math.max(0, -box.top) +
        Math.max(0, box.bottom - paper.height);
      // A pixel beside the paper is as bad as a line's height of one word on another.
      const hides =
        off * (ABOVE + BELOW) + boxes.reduce((sum, other) => sum + shared(box, other), 0);
      const covers = things.reduce((sum, thing) => sum + shared(box, thing), 0);
      if (!best || hides < best.hides || (hides === best.hides && covers < best.covers))
        best = { at, box, hides, covers };
      if (hides === 0 && covers === 0) break;
    }
    if (!best || (best.hides > 0 && !one.keep)) continue;
    boxes.push(best.box);
    found.push({ ...one, at: best.at });
  }
  return found;
}

/** Places around a point for words centred on it: there, below, above, and beside it. */
export function around(x: number, y: number, line: number): Place[] {
  const rows = [0, 1, -1, 2, -2, 3].map((n) => n * line);
  return [
    ...rows.map((row): Place => ({ x, y: y + row, anchor: 'middle' })),
    ...rows.flatMap((row): Place[] => [
      { x: x + 8, y: y + row, anchor: 'start' },
      { x: x - 8, y: y + row, anchor: 'end' },
    ]),
  ];
}

/** Places along an upright line for what it measures, on the better side first. */
export function besideUpright(x: number, y0: number, y1: number, right: boolean): Place[] {
  const sides: Place[] = [
    { x: x + 6, y: 0, anchor: 'start' },
    { x: x - 6, y: 0, anchor: 'end' },
  ];
  if (!right) sides.reverse();
  const heights = [0.5, 0.25, 0.75, 0, 1].map((part) => y0 + (y1 - y0) * part + 4);
  const full = heights.flatMap((y) => sides.map((side) => ({ ...side, y })));
  return [...full, ...full.map((at) => ({ ...at, short: true }))];
}

/** Places along a level line, over it first where `over`. */
export function alongLevel(x0: number, x1: number, y: number, over: boolean): Place[] {
  const rows = over ? [-4, 12, -16, 24] : [12, -4, 24, -16];
  const full = rows.flatMap((row) =>
    [0.5, 0.25, 0.75].map((part): Place => ({
      x: x0 + (x1 - x0) * part,
      y: y + row,
      anchor: 'middle',
    })),
  );
  return [...full, ...full.map((at) => ({ ...at, short: true }))];
}
