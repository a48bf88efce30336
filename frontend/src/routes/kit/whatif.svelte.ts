/** What a change of kit does to every shot: asked in parts, so that it can be watched and stopped. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { units } from '../../lib/units.svelte';

export type Change = Schemas['ShotChange'];
/** Shots asked for at once: small enough to see progress, large enough to be quick. */
const AT_ONCE = 10;

export class WhatIf {
  taken = $state.raw<string[]>([]);
  whole = $state(false);
  changes = $state.raw<Change[]>([]);
  done = $state(0);
  all = $state(0);
  running = $state(false);
  problem = $state('');
  #asked = 0;

  constructor(readonly productionId: string) {}

  toggle(id: string) {
    this.taken = this.taken.includes(id)
      ? this.taken.filter((other) => other !== id)
      : [...this.taken, id];
  }

  stop() {
    this.#asked += 1;
    this.running = false;
  }

  async run() {
    const asked = ++this.#asked;
    const path = { production_id: this.productionId };
    this.changes = [];
    this.done = 0;
    this.problem = '';
    this.running = true;
    try {
      const ids: string[] = [];
      for (let offset = 0, count = 1; offset < count; offset += 500) {
        const page = await ask(() =>
          api.GET('/api/productions/{production_id}/shots', {
            params: { path, query: { limit: 500, offset } },
          }),
        );
        ids.push(...page.items.map((shot) => shot.id));
        count = page.count;
      }
      this.all = ids.length;
      for (let i = 0; i < ids.length && asked === this.#asked; i += AT_ONCE) {
        const found = await ask(() =>
          api.POST('/api/productions/{production_id}/replan', {
            params: { path },
            body: {
              without: this.taken,
              whole: this.whole,
              shots: ids.slice(i, i + AT_ONCE),
              notation: units.asked,
            },
          }),
        );
        if (asked !== this.#asked) return;
        this.changes = [...this.changes, ...found.changes];
        this.done = Math.min(i + AT_ONCE, ids.length);
      }
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (asked === this.#asked) this.problem = error.message;
    } finally {
      if (asked === this.#asked) this.running = false;
    }
  }
}
