/** Marks of a column: what begins at a frame lasts until the next. Nothing here judges. */

import type { Schemas } from '../../lib/api/client';

export type Column = Schemas['ColumnFields'];
export type Mark = Schemas['MarkFields'];
export type Leg = Schemas['LegFields'];

export const MOST_MARKS = 20_000;

const sorted = (marks: Mark[]) => [...marks].sort((a, b) => a.frame - b.frame);

/** The mark that holds at a frame; null before the first. */
export function markAt(marks: Mark[], frame: number): Mark | null {
  return sorted(marks).findLast((mark) => mark.frame <= frame) ?? null;
}

/** One mark for frames `first` to `last`; what came after them goes on as it was. */
export function put(marks: Mark[], first: number, last: number, mark: Omit<Mark, 'frame'>) {
  const after = markAt(marks, last + 1);
  const rest = marks.filter((m) => m.frame < first || m.frame > last);
  const made: Mark[] = [...rest, { ...mark, frame: first }];
  if (after && !rest.some((m) => m.frame === last + 1)) {
    // A run goes on in its own step: its next pose comes when it would have come.
    const every = after.every ?? 0;
    const gone = last + 1 - after.frame;
    const next = every ? after.frame + Math.ceil(gone / every) * every : last + 1;
    if (!rest.some((m) => m.frame > last && m.frame <= next)) {
      made.push({ ...after, frame: next });
    }
  }
  return sorted(made);
}

/** Frames `first` to `last` without marks: what was before them lasts. */
export function clear(marks: Mark[], first: number, last: number) {
  return marks.filter((m) => m.frame < first || m.frame > last);
}

/** What begins at `frame` gets a name; a run goes on, a held pose stays held. */
export function named(marks: Mark[], frame: number, name: string, runs: boolean) {
  const now = markAt(marks, frame);
  const every = runs ? (now?.every ?? 0) : 0;
  return sorted([...marks.filter((m) => m.frame !== frame), { frame, name, every }]);
}

/** `count` empty frames before `frame`: what follows comes later. */
export function insert(marks: Mark[], frame: number, count: number) {
  return marks.map((m) => (m.frame >= frame ? { ...m, frame: m.frame + count } : m));
}

/** Frames taken out: what follows comes earlier, and what began in them begins after them. */
export function takeOut(marks: Mark[], first: number, last: number) {
  const count = last - first + 1;
  const within = markAt(marks, last);
  const rest = marks
    .filter((m) => m.frame < first || m.frame > last)
    .map((m) => (m.frame > last ? { ...m, frame: m.frame - count } : m));
  const begins = within && within.frame >= first && !rest.some((m) => m.frame === first);
  return sorted(begins ? [...rest, { ...within, frame: first }] : rest);
}

/** Frames `first` to `last` as they are, told from their first. */
export function copied(marks: Mark[], first: number, last: number) {
  const own = marks.filter((m) => m.frame >= first && m.frame <= last);
  const before = markAt(marks, first);
  if (before && !own.some((m) => m.frame === first)) own.push({ ...before, frame: first });
  return {
    length: last - first + 1,
    marks: sorted(own).map((m) => ({ ...m, frame: m.frame - first })),
  };
}
export type Copied = ReturnType<typeof copied>;

/** What was copied laid over the frames from `frame` on; after it all goes on as it was. */
export function pasted(marks: Mark[], frame: number, block: Copied) {
  if (block.marks.length === 0) return clear(marks, frame, frame + block.length - 1);
  const [first, ...more] = block.marks.map((m) => ({ ...m, frame: m.frame + frame }));
  const laid = put(marks, frame, frame + block.length - 1, first!);
  return sorted([...laid.filter((m) => !more.some((n) => n.frame === m.frame)), ...more]);
}

/** Another frame for a mark; over another one it may not go. */
export function moved(marks: Mark[], from: number, to: number) {
  const others = marks.filter((m) => m.frame !== from);
  const low = others.filter((m) => m.frame < from).at(-1)?.frame ?? 0;
  const high = others.find((m) => m.frame > from)?.frame ?? Infinity;
  const frame = Math.min(Math.max(to, low + 1, 1), high - 1);
  return sorted(marks.map((m) => (m.frame === from ? { ...m, frame } : m)));
}

/** Legs that begin at `frame` or later, so much later. */
export function later(legs: Leg[], frame: number, count: number) {
  return legs.map((leg) => {
    const first = leg.first ?? 2;
    return first >= frame ? { ...leg, first: Math.max(first + count, 1) } : leg;
  });
}

/** A key that no column has yet. */
export function freeKey(columns: Column[], kind: string) {
  const taken = new Set(columns.map((column) => column.key));
  let number = 1;
  while (taken.has(`${kind}-${number}`)) number += 1;
  return `${kind}-${number}`;
}
