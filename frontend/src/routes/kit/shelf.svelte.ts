/** One list of the kit. */

import { ask, type Answer } from '../../lib/api/client';
import type { History } from '../../lib/edit/history.svelte';
import { SavedRecord, type Revisioned, type Save } from '../../lib/edit/record.svelte';

export type Thing = Revisioned & { name: string };

/** How the things of a list are saved, made of what one begins as, and removed. */
export type Calls<T extends Thing, Of> = {
  save: (pk: string, body: { revision: number } & Partial<T>) => Promise<Answer<T>>;
  make: (of: Of) => Promise<Answer<T>>;
  remove: (pk: string) => Promise<Answer<unknown>>;
};

/** What all lists of a kit share: the steps that can be undone, and where a failure is told. */
export type Book = {
  history: History;
  attempt: (work: () => Promise<void>) => Promise<void>;
};

/** A record of the kit whose changes can be undone. */
export function undoable<T extends Thing>(book: Book, stored: T, save: Save<T>) {
  const record = new SavedRecord<T>(stored, save);
  record.onchange = (before, after) =>
    book.history.push({
      label: `Change ${record.draft.name}`,
      undo: () => void record.restore(before),
      redo: () => void record.restore(after),
      of: record.id,
    });
  return record;
}

export class Shelf<T extends Thing, Of> {
  records = $state.raw<SavedRecord<T>[]>([]);

  constructor(
    readonly book: Book,
    readonly calls: Calls<T, Of>,
  ) {}

  fill(stored: T[]) {
    this.records = stored.map((one) => this.#record(one));
  }

  #record(stored: T) {
    return undoable<T>(this.book, stored, (revision, changes) =>
      ask(() => this.calls.save(stored.id, { ...changes, revision })),
    );
  }

  add(of: Of) {
    return this.book.attempt(async () => {
      const made = await ask(() => this.calls.make(of));
      this.records = [...this.records, this.#record(made)];
    });
  }

  remove(record: SavedRecord<T>) {
    return this.book.attempt(async () => {
      await ask(() => this.calls.remove(record.id));
      this.records = this.records.filter((x) => x !== record);
      this.book.history.forget(record.id);
    });
  }
}
