/** What a change of kit does to every shot: worked out behind the scenes, watched and stopped. */

import type { Schemas } from '../../lib/api/client';
import { LongWork } from '../../lib/jobs/long-work.svelte';
import { units } from '../../lib/units.svelte';

export type Change = Schemas['ShotChange'];

export class WhatIf {
  taken = $state.raw<string[]>([]);
  whole = $state(false);
  readonly work: LongWork;

  constructor(readonly productionId: string) {
    this.work = new LongWork(productionId, 'replan');
  }

  /** What was found; null while nothing is. */
  get found(): Schemas['Replanned'] | null {
    const { job } = this.work;
    return job?.state === 'done' ? (job.result as Schemas['Replanned']) : null;
  }

  toggle(id: string) {
    this.taken = this.taken.includes(id)
      ? this.taken.filter((other) => other !== id)
      : [...this.taken, id];
  }

  run() {
    return this.work.ask({ without: this.taken, whole: this.whole, notation: units.asked });
  }
}
