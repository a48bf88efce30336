/** Three-way merging of one record: what I changed, what they changed, what both did. */

export type Values = Record<string, unknown>;

export function same(a: unknown, b: unknown): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}

/** Fields of `draft` that differ from `base`. */
export function changed<T extends object>(base: T, draft: T): Partial<T> {
  const out: Partial<T> = {};
  for (const key of Object.keys(draft) as (keyof T)[]) {
    if (key === 'id' || key === 'revision') continue;
    if (!same(base[key], draft[key])) out[key] = draft[key];
  }
  return out;
}

/**
 * Of my changes since `base`, those that can go on top of `theirs` and those where both of us
 * changed the same field to different values, which only a person can settle.
 */
export function merge<T extends object>(base: T, mine: Partial<T>, theirs: T) {
  const clear: Partial<T> = {};
  const clashing: (keyof T)[] = [];
  for (const key of Object.keys(mine) as (keyof T)[]) {
    if (same(theirs[key], mine[key])) continue;
    if (same(theirs[key], base[key])) clear[key] = mine[key];
    else clashing.push(key);
  }
  return { clear, clashing };
}
