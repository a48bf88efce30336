/** Which rows of the Board are shown. Plain functions. */

import type { Schemas } from '../../lib/api/client';

export type Row = Schemas['BoardRow'];
export type RowVerdict = Schemas['RowVerdict'];
export type FilmedShot = Schemas['FilmedShot'];

export type Filter = {
  words: string;
  place: string;
  day: string;
  kind: string;
  recipe: string;
  trouble:
    '' | 'breaks' | 'strains' | 'filmed' | 'forgotten' | 'cautions' | 'continuity' | 'unplanned';
};

export const NO_FILTER: Filter = {
  words: '',
  place: '',
  day: '',
  kind: '',
  recipe: '',
  trouble: '',
};

export const TROUBLES: { value: Filter['trouble']; name: string }[] = [
  { value: 'breaks', name: 'something breaks' },
  { value: 'strains', name: 'strains or breaks' },
  { value: 'filmed', name: 'filmed, and not as planned' },
  { value: 'forgotten', name: 'a plate is forgotten' },
  { value: 'cautions', name: 'cautions not read' },
  { value: 'continuity', name: 'continuity' },
  { value: 'unplanned', name: 'no plates yet' },
];

export function filtered(filter: Filter): boolean {
  return (Object.keys(NO_FILTER) as (keyof Filter)[]).some((key) => filter[key].trim() !== '');
}

function text(row: Row): string {
  return [
    row.number,
    row.title,
    row.action,
    row.place,
    row.time_of_day,
    row.next,
    ...row.recipes.map((r) => r.name),
    ...row.plates.map((p) => p.name),
  ]
    .join(' ')
    .toLowerCase();
}

function troubled(
  row: Row,
  verdict: RowVerdict | undefined,
  filmed: FilmedShot | undefined,
  kind: Filter['trouble'],
): boolean {
  switch (kind) {
    case 'breaks':
      return verdict?.verdict === 'breaks';
    case 'strains':
      return verdict?.verdict === 'breaks' || verdict?.verdict === 'strains';
    case 'filmed':
      return filmed !== undefined && filmed.verdict !== 'holds';
    case 'forgotten':
      return row.forgotten.length > 0;
    case 'cautions':
      return row.unread_cautions > 0;
    case 'continuity':
      return row.continuity.length > 0;
    case 'unplanned':
      return row.plates.length === 0;
    default:
      return true;
  }
}

export function matches(
  row: Row,
  verdict: RowVerdict | undefined,
  filter: Filter,
  filmed?: FilmedShot,
): boolean {
  const words = filter.words.toLowerCase().split(/\s+/).filter(Boolean);
  const all = words.length > 0 ? text(row) : '';
  return (
    words.every((word) => all.includes(word)) &&
    (!filter.place || row.place === filter.place) &&
    (!filter.day || row.plates.some((p) => (p.film_on ?? 'none') === filter.day)) &&
    (!filter.kind || row.plates.some((p) => p.kind === filter.kind)) &&
    (!filter.recipe || row.recipes.some((r) => r.key === filter.recipe)) &&
    troubled(row, verdict, filmed, filter.trouble)
  );
}

/** The distinct values of a column, sorted; empty ones left out. */
export function distinct(values: (string | null | undefined)[]): string[] {
  return [...new Set(values.filter((v): v is string => !!v))].sort((a, b) => a.localeCompare(b));
}

/** Before which shot a dragged row lands: `tops` are the upper edges of the rows, in order. */
export function landing(ids: string[], tops: number[], heights: number[], y: number) {
  for (let i = 0; i < ids.length; i++) {
    if (y < (tops[i] ?? 0) + (heights[i] ?? 0) / 2) return ids[i] ?? null;
  }
  return null;
}
