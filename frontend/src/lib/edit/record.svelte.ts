/**
 * One saved record as a person edits it: drafts answer at once, saving follows by itself, a
 * refused value stays where it was typed, and two windows never overwrite each other.
 */

import { Failure } from '../api/client';
import { changed, merge, same } from './merge';
import { status } from './status.svelte';

export type Revisioned = { id: string; revision: number };
export type Save<T> = (revision: number, changes: Partial<T>) => Promise<T>;

/** A record as a sheet edits it. */
export interface Editing<T extends Revisioned> {
  readonly id: string;
  /** As the person sees it. */
  readonly draft: T;
  /** Per field, why the server refused it. */
  readonly problems: Record<string, string>;
  set<K extends keyof T & string>(field: K, value: T[K]): void;
  commit(): Promise<void>;
}

const RETRY_MS = 2000;

export class SavedRecord<T extends Revisioned> implements Editing<T> {
  /** As the server has it. */
  stored = $state.raw() as T;
  /** As the person sees it. */
  draft = $state() as T;
  /** Per field, why the server refused it. */
  problems = $state<Record<string, string>>({});
  /** Fields that somebody else changed too, with their record; null when all is clear. */
  clash = $state<{ fields: (keyof T & string)[]; theirs: T } | null>(null);
  /** Told of every change as it is committed, for undo: what its fields were, and what they are. */
  onchange: ((before: Partial<T>, after: Partial<T>) => void) | null = null;
  /** As it was committed last. */
  #committed: T;
  #running: Promise<void> | null = null;
  #again = false;
  #refused = 0;

  constructor(
    stored: T,
    private readonly save: Save<T>,
  ) {
    this.stored = stored;
    this.draft = { ...stored };
    this.#committed = { ...stored };
  }

  get id() {
    return this.stored.id;
  }

  /** As the person left it last, whether the server has it yet or not. */
  get committed(): Readonly<T> {
    return this.#committed;
  }

  /** Live change: seen at once, saved at the next `commit`. */
  set<K extends keyof T & string>(field: K, value: T[K]) {
    this.draft[field] = value;
  }

  /** Save what differs. Calls while one is under way are gathered into the next. */
  commit(): Promise<void> {
    this.#tell();
    if (this.#running) {
      this.#again = true;
      return this.#running;
    }
    this.#running = this.#run().finally(() => {
      this.#running = null;
      // Asked for after the last look at what differs, and before this was told to be over.
      return this.#again ? this.commit() : undefined;
    });
    return this.#running;
  }

  /** Put fields back to what they were, or forward again, and save; `onchange` is not told. */
  restore(values: Partial<T>): Promise<void> {
    Object.assign(this.draft, values);
    this.#committed = $state.snapshot(this.draft) as T;
    return this.commit();
  }

  #tell() {
    const now = $state.snapshot(this.draft) as T;
    const after = changed(this.#committed, now);
    const before: Partial<T> = {};
    for (const key of Object.keys(after) as (keyof T)[]) before[key] = this.#committed[key];
    this.#committed = now;
    if (Object.keys(after).length > 0) this.onchange?.(before, after);
  }

  async #run() {
    do {
      this.#again = false;
      if (this.clash) return;
      const changes = changed(this.stored, $state.snapshot(this.draft) as T);
      if (Object.keys(changes).length === 0) {
        this.#mark({});
        return;
      }
      status.begin();
      let saved = false;
      try {
        const answer = await this.save(this.stored.revision, changes);
        this.#take(answer, changes);
        this.#mark({});
        status.offline = false;
        saved = true;
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        await this.#failed(error, changes);
      } finally {
        status.end(saved);
      }
    } while (this.#again);
  }

  /** The server has it otherwise by now, by nobody's edit here: take that over, except what is being
   * typed. */
  renew(stored: T) {
    if (stored.revision > this.stored.revision) this.#take(stored, {});
  }

  /** Take over the server's answer, except where the person has typed on meanwhile. */
  #take(answer: T, sent: Partial<T>) {
    const before = this.stored;
    this.stored = answer;
    for (const key of Object.keys(answer) as (keyof T)[]) {
      const reference = key in sent ? sent[key] : before[key];
      if (same(this.draft[key], reference)) {
        this.draft[key] = answer[key];
        // What the server makes of it is nobody's change.
        this.#committed[key] = answer[key];
      }
    }
  }

  async #failed(failure: Failure, changes: Partial<T>) {
    if (failure.status === 409) {
      const theirs = (failure.body as { current?: T }).current;
      if (!theirs) {
        this.#mark({ '': failure.message });
        return;
      }
      const { clear, clashing } = merge(this.stored, changes, theirs);
      const mine = $state.snapshot(this.draft) as T;
      this.stored = theirs;
      this.draft = { ...theirs, ...clear };
      for (const key of clashing) this.draft[key] = mine[key];
      this.#committed = $state.snapshot(this.draft) as T;
      if (clashing.length > 0) {
        this.clash = { fields: clashing as (keyof T & string)[], theirs };
      } else {
        this.#again = true;
      }
    } else if (failure.passing) {
      status.offline = true;
      this.#again = true;
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    } else {
      const named = Object.keys(failure.fields).length > 0;
      this.#mark(named ? failure.fields : { '': failure.message });
    }
  }

  #mark(problems: Record<string, string>) {
    this.problems = problems;
    const now = Object.keys(problems).length > 0 ? 1 : 0;
    status.refuse(now - this.#refused);
    this.#refused = now;
  }

  /** Settle a clash: `keep` lists the fields where mine wins; the others take theirs. */
  settle(keep: string[]) {
    const clash = this.clash;
    if (!clash) return;
    for (const field of clash.fields) {
      if (!keep.includes(field)) this.draft[field] = clash.theirs[field];
    }
    this.clash = null;
    return this.commit();
  }

  /** Forget what was typed into a refused field. */
  revert(field: keyof T & string) {
    this.draft[field] = this.stored[field];
    return this.commit();
  }

  /** Called when the record leaves the screen, so that its refusal stops counting. */
  dispose() {
    this.#mark({});
  }
}
