/** The files of a camera's card: their order, and what is missing. */

/** The last number in a name. */
const numberIn = (name: string) => {
  const found = /(\d+)(?!.*\d)/.exec(name.replace(/\.[^.]*$/, ''));
  return found ? Number(found[1]) : null;
};

/** Files by the numbers in their names, as people count. */
export function inOrder<T extends { name: string }>(files: readonly T[]): T[] {
  const names = new Intl.Collator('en', { numeric: true });
  return [...files].sort((a, b) => names.compare(a.name, b.name));
}

/** What is missing between the numbers of files, in words; empty where nothing is. */
export function missing(names: readonly string[]): string {
  const numbers = names.map(numberIn).filter((n): n is number => n !== null);
  if (numbers.length < 3 || numbers.length < names.length) return '';
  const there = new Set(numbers);
  const first = Math.min(...numbers);
  const last = Math.max(...numbers);
  if (last - first > 10 * numbers.length) return '';
  const gone: number[] = [];
  for (let n = first; n <= last; n += 1) if (!there.has(n)) gone.push(n);
  if (!gone.length) return '';
  const some = gone.slice(0, 4).join(', ');
  const more = gone.length > 4 ? ` and ${gone.length - 4} more` : '';
  return gone.length === 1 ? `number ${some} is missing` : `numbers ${some}${more} are missing`;
}
