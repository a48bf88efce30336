/** The sky over one plate: what was asked, and the newest answer. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';

export type Sky = Schemas['SkyAnswer'];

export class SkyDesk {
  date = $state('');
  days = $state(120);
  room = $state<string | null>(null);
  under = $state(2);
  sky = $state.raw<Sky | null>(null);
  problem = $state('');
  asking = $state(false);
  #asked = 0;

  constructor(
    readonly bench: OpenShot,
    readonly plateId: string,
    date: string,
    room: string | null,
  ) {
    this.date = date;
    this.room = room;
  }

  /** Ask for the sky as it is wanted now; only the newest answer counts. */
  async look() {
    const asked = ++this.#asked;
    if (!this.room || !this.date) {
      this.sky = null;
      return;
    }
    this.asking = true;
    try {
      const found = await ask(() =>
        api.POST('/api/calc/sky', {
          body: {
            ...this.bench.plan(),
            plate_id: this.plateId,
            room_id: this.room,
            date: this.date,
            days: this.days,
            under_stops: this.under,
            tolerance_deg: 3,
            white_k: 3400,
          },
        }),
      );
      if (asked !== this.#asked) return;
      this.sky = found as Sky;
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (asked === this.#asked) {
        this.problem = error.message;
        this.sky = null;
      }
    } finally {
      if (asked === this.#asked) this.asking = false;
    }
  }
}
