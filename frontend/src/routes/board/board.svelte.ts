/** The state of the Board: rows, filters, selection, verdicts as they come in, undo by steps. */

import { SvelteMap, SvelteSet } from 'svelte/reactivity';
import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { Turns } from '../../lib/edit/turns';
import { LongWork } from '../../lib/jobs/long-work.svelte';
import {
  matches,
  NO_FILTER,
  type Filter,
  type FilmedShot,
  type Row,
  type RowVerdict,
} from './filter';

/** How many shots are judged in one request. */
const BATCH = 20;
/** From so many shots on copies are made behind the scenes. */
const MANY = 20;
/** From this step on a plate has set cards; takes come after it. */
const CARD_ISSUED = 2;
/** From this step on it has takes. */
const FILMED = 3;

export class Board {
  about = $state.raw<Schemas['ProductionOut'] | null>(null);
  rows = $state.raw<Row[]>([]);
  steps = $state.raw<Schemas['StepsOut']>({ undo: null, redo: null });
  filter = $state<Filter>({ ...NO_FILTER });
  /** Why the last thing tried did not work. */
  notice = $state('');
  /** The row that the keyboard is on. */
  at = $state<string | null>(null);
  readonly verdicts = new SvelteMap<string, RowVerdict>();
  /** The worst of what was filmed of each shot. */
  readonly filmed = new SvelteMap<string, FilmedShot>();
  readonly chosen = new SvelteSet<string>();
  #round = 0;
  readonly #turns = new Turns();

  /** The breakdown on paper, and copies of many shots: made behind the scenes. */
  readonly paper: LongWork;
  readonly copies: LongWork;

  constructor(readonly production: string) {
    this.paper = new LongWork(production, 'breakdown-pdf');
    this.copies = new LongWork(production, 'duplicate', () => {
      this.copies.clear();
      void this.#reload();
    });
  }

  get editable() {
    return this.about !== null && this.about.role !== 'viewer';
  }
  get shown(): Row[] {
    return this.rows.filter((row) =>
      matches(row, this.verdicts.get(row.id), this.filter, this.filmed.get(row.id)),
    );
  }
  get chosenRows(): Row[] {
    return this.rows.filter((row) => this.chosen.has(row.id));
  }

  async load() {
    const path = { params: { path: { production_id: this.production } } };
    const [about, board] = await Promise.all([
      ask(() => api.GET('/api/productions/{production_id}', path)),
      ask(() => api.GET('/api/productions/{production_id}/board', path)),
    ]);
    this.about = about;
    this.#take(board);
    void this.paper.resume();
    if (this.editable) void this.copies.resume();
  }

  #take(board: Schemas['BoardOut']) {
    this.rows = board.rows;
    this.steps = board.steps;
    const there = board.rows.map((row) => row.id);
    for (const id of [...this.chosen]) if (!there.includes(id)) this.chosen.delete(id);
    if (this.at && !there.includes(this.at)) this.at = null;
    void this.judge();
  }

  async #reload() {
    const path = { params: { path: { production_id: this.production } } };
    this.#take(await ask(() => api.GET('/api/productions/{production_id}/board', path)));
  }

  /** Ask for verdicts in batches, in story order; a newer round ends an older one. */
  async judge() {
    const round = ++this.#round;
    const path = { production_id: this.production };
    const all = this.rows.map((row) => row.id);
    const taken = this.rows.filter((row) => row.plates.some((plate) => plate.step >= FILMED));
    const there = taken.map((row) => row.id);
    for (const id of this.filmed.keys()) if (!there.includes(id)) this.filmed.delete(id);
    const judged = await this.#inBatches(all, round, async (shots) => {
      const found = await ask(() =>
        api.GET('/api/productions/{production_id}/board/verdicts', {
          params: { path, query: { shots } },
        }),
      );
      for (const one of found) this.verdicts.set(one.id, one);
    });
    if (!judged) return;
    await this.#inBatches(there, round, async (shots) => {
      const found = await ask(() =>
        api.GET('/api/productions/{production_id}/filmed', { params: { path, query: { shots } } }),
      );
      for (const one of found) this.filmed.set(one.id, one);
    });
  }

  async #inBatches(ids: string[], round: number, look: (ids: string[]) => Promise<void>) {
    for (let i = 0; i < ids.length && round === this.#round; i += BATCH) {
      try {
        await look(ids.slice(i, i + BATCH));
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        // Without its verdicts the Board still works; the next look asks again.
        this.notice = `The plates could not be judged: ${error.message}`;
        return false;
      }
    }
    return true;
  }

  // --- selection -----------------------------------------------------------------------------

  toggle(id: string, range = false) {
    const list = this.shown.map((row) => row.id);
    if (range && this.at && this.at !== id) {
      const [a = 0, b = 0] = [list.indexOf(this.at), list.indexOf(id)].sort((x, y) => x - y);
      for (const one of list.slice(Math.max(a, 0), b + 1)) this.chosen.add(one);
    } else if (this.chosen.has(id)) this.chosen.delete(id);
    else this.chosen.add(id);
    this.at = id;
  }

  chooseAll() {
    for (const row of this.shown) this.chosen.add(row.id);
  }

  /** What an action works on: the chosen shots, or else the one the keyboard is on. */
  get targets(): string[] {
    if (this.chosen.size > 0) return this.chosenRows.map((row) => row.id);
    return this.at ? [this.at] : [];
  }

  // --- what is done ---------------------------------------------------------------------------

  /** In turn; after a refusal the Board is looked at again, since it has changed. */
  async #attempt(work: () => Promise<void>): Promise<void> {
    this.notice = '';
    const done = await this.#turns.take(work, (sentence) => (this.notice = sentence));
    if (!done) await this.#reload().catch(() => undefined);
  }

  #post(what: 'remove' | 'duplicate' | 'split' | 'merge' | 'set', body: Record<string, unknown>) {
    return this.#attempt(async () => {
      const done = await ask(() =>
        api.POST(`/api/productions/{production_id}/board/${what}`, {
          params: { path: { production_id: this.production } },
          body: body as Schemas['Chosen'],
        }),
      );
      await this.#reload();
      const made = (done as Schemas['Done']).step?.made ?? [];
      if (made[0]) this.at = made[0];
    });
  }

  /** Put shots before another one, or at the end: seen at once, stored in turn. */
  move(ids: string[], before: string | null) {
    if (ids.length === 0 || (before !== null && ids.includes(before))) return;
    const moving = this.rows.filter((row) => ids.includes(row.id));
    const rest = this.rows.filter((row) => !ids.includes(row.id));
    const place = before === null ? rest.length : rest.findIndex((row) => row.id === before);
    if (place < 0) return;
    this.rows = [...rest.slice(0, place), ...moving, ...rest.slice(place)];
    return this.#attempt(async () => {
      const done = await ask(() =>
        api.POST('/api/productions/{production_id}/board/order', {
          params: { path: { production_id: this.production } },
          body: { ids, before },
        }),
      );
      // Nothing but the order has changed, so the rows need not be asked for again.
      if (done.step) this.steps = { undo: done.step, redo: null };
    });
  }

  /** Move the targets one place up or down among what is shown. */
  nudge(down: boolean) {
    const ids = this.targets;
    const list = this.shown.map((row) => row.id);
    const places = ids.map((id) => list.indexOf(id)).filter((i) => i >= 0);
    if (places.length === 0) return;
    if (down) {
      const last = Math.max(...places);
      if (last + 1 >= list.length) return;
      return this.move(ids, list[last + 2] ?? this.#after(list[last + 1]));
    }
    const first = Math.min(...places);
    if (first === 0) return;
    return this.move(ids, list[first - 1] ?? null);
  }

  /** The shot that follows `id` in the whole Board, shown or not. */
  #after(id: string | undefined): string | null {
    const place = this.rows.findIndex((row) => row.id === id);
    return this.rows[place + 1]?.id ?? null;
  }

  /** The shots about to be removed that hold set cards, or takes; asked about first. */
  asking = $state<Row[] | null>(null);

  /** Remove the chosen shots; what was issued or filmed is not put aside without asking. */
  remove() {
    const ids = this.targets;
    const held = this.rows.filter(
      (row) => ids.includes(row.id) && row.plates.some((plate) => plate.step >= CARD_ISSUED),
    );
    if (held.length) {
      this.asking = held;
      return;
    }
    return this.removeNow();
  }
  removeNow() {
    this.asking = null;
    return this.#post('remove', { ids: this.targets });
  }
  duplicate() {
    const ids = this.targets;
    return ids.length < MANY ? this.#post('duplicate', { ids }) : this.copies.ask({ ids });
  }
  merge() {
    return this.#post('merge', { ids: this.targets });
  }
  split(id: string, at_s: number) {
    return this.#post('split', { id, at_s });
  }
  set(changes: { place?: string; time_of_day?: string; film_on?: string | null }) {
    return this.#post('set', { ids: this.targets, ...changes });
  }

  #turn(which: 'undo' | 'redo') {
    const step = this.steps[which];
    if (!step) return;
    return this.#attempt(async () => {
      await ask(() =>
        api.POST(`/api/productions/{production_id}/steps/{pk}/${which}`, {
          params: { path: { production_id: this.production, pk: step.id } },
        }),
      );
      await this.#reload();
    });
  }
  undo() {
    return this.#turn('undo');
  }
  redo() {
    return this.#turn('redo');
  }

  /** Add a shot at the end. The failure is thrown, so that the form can say what is wrong. */
  async add(number: string, title: string): Promise<void> {
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/shots', {
        params: { path: { production_id: this.production } },
        body: {
          id: crypto.randomUUID(),
          number,
          title,
          position: this.rows.length + 1e4,
        } as Schemas['ShotIn'],
      }),
    );
    await this.#reload();
    this.at = made.id;
  }

  dispose() {
    this.#round += 1;
    this.paper.dispose();
    this.copies.dispose();
  }
}
