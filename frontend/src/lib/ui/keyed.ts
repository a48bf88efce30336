/** Entries of a list that can come anew in another order, each with a key of what it says: a row
 * whose button is just being pressed must not become another row under the finger. What says the
 * same twice is told apart by its turn. */
export function keyed<T>(list: readonly T[], told: (one: T) => string): { key: string; one: T }[] {
  const met = new Map<string, number>();
  return list.map((one) => {
    const text = told(one);
    const turn = met.get(text) ?? 0;
    met.set(text, turn + 1);
    return { key: `${turn} ${text}`, one };
  });
}
