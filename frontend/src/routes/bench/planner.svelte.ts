/** The planner's desk: what is wished for, the ways found, and up to three laid side by side. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import { planOf } from '../../lib/shot/plan';

export type Way = Schemas['Way'];
export type Wishes = Required<Schemas['WishFields']>;
export const FIRST_WISHES: Wishes = {
  quality: 1,
  changes: 1,
  light: 1,
  own_only: false,
  keep_scale: false,
};
export const MOST_COMPARED = 3;

export class Planner {
  wishes = $state.raw<Wishes>(FIRST_WISHES);
  found = $state.raw<Schemas['Search'] | null>(null);
  compared = $state.raw<Way[]>([]);
  answers = $state.raw<Schemas['PlateAnswer'][]>([]);
  searching = $state(false);
  problem = $state('');
  /** What would be taken away, and what that would do to this shot. */
  taken = $state.raw<string[]>([]);
  changes = $state.raw<Schemas['ChangeOut'][] | null>(null);
  #asked = 0;
  #compareAsked = 0;

  constructor(readonly bench: OpenShot) {}

  /** Search for the plate chosen now. Only the answer to the newest question counts. */
  async search() {
    const plate = this.bench.plate;
    const asked = ++this.#asked;
    if (!plate) {
      this.found = null;
      return;
    }
    this.searching = true;
    try {
      const found = await ask(() =>
        api.POST('/api/calc/planner', {
          body: { ...planOf(this.bench.question()), plate_id: plate.id, wishes: this.wishes },
        }),
      );
      if (asked !== this.#asked) return;
      this.found = found;
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (asked === this.#asked) this.problem = error.message;
    } finally {
      if (asked === this.#asked) this.searching = false;
    }
  }

  /** Another plate: nothing of the last one stays on the table. */
  clear() {
    this.found = null;
    this.compared = [];
    this.answers = [];
    this.problem = '';
  }

  isCompared(way: Way) {
    return this.compared.some((other) => sameWay(other, way));
  }

  /** Lay a way beside the others, or take it away. */
  toggle(way: Way) {
    this.compared = this.isCompared(way)
      ? this.compared.filter((other) => !sameWay(other, way))
      : [...this.compared, way].slice(-MOST_COMPARED);
    return this.compare();
  }

  async compare() {
    const plate = this.bench.plate;
    const asked = ++this.#compareAsked;
    if (!plate || this.compared.length === 0) {
      this.answers = [];
      return;
    }
    try {
      const answers = await ask(() =>
        api.POST('/api/calc/compare', {
          body: {
            ...planOf(this.bench.question()),
            plate_id: plate.id,
            candidates: this.compared.map((way) => way.changes),
            at: this.bench.at,
          },
        }),
      );
      // The client's types widen pairs of numbers to lists; they are pairs.
      if (asked === this.#compareAsked) this.answers = answers as Schemas['PlateAnswer'][];
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (asked === this.#compareAsked) this.problem = error.message;
    }
  }

  /** What this shot would look like without some of the kit. */
  async without() {
    if (this.taken.length === 0) {
      this.changes = null;
      return;
    }
    try {
      this.changes = await ask(() =>
        api.POST('/api/calc/replan', {
          body: { ...planOf(this.bench.question()), taken: { without: this.taken, whole: false } },
        }),
      );
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
    }
  }
}

function sameWay(a: Way, b: Way) {
  return JSON.stringify(a.changes) === JSON.stringify(b.changes);
}
