/** What the core says of one plate's tricks; it follows every change of the drafts. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { LATER, newest } from '../../lib/edit/newest';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';

export type Tricks = Schemas['Tricks'];
export type Section = 'lock' | 'split' | 'crowd' | 'rig' | 'reframe' | 'cut' | 'timing';

/** The parts of the room, and the findings that belong to each. */
export const SECTIONS: { key: Section; name: string; findings: string[] }[] = [
  { key: 'lock', name: 'Lock and clean plate', findings: ['lock', 'drift'] },
  { key: 'split', name: 'Split and throw', findings: ['split', 'throw'] },
  { key: 'crowd', name: 'Crowd', findings: ['crowd'] },
  { key: 'rig', name: 'Rig', findings: ['rig', 'load'] },
  { key: 'reframe', name: 'Reframe first', findings: ['reframe'] },
  { key: 'cut', name: 'Cut out and track', findings: ['roto', 'markers'] },
  { key: 'timing', name: 'Timing', findings: ['beats'] },
];

export class TrickAnswers {
  answer = $state.raw<Tricks | null>(null);
  problem = $state('');

  constructor(readonly bench: OpenShot) {}

  /** Ask anew. */
  readonly compute = newest(async () => {
    const plate = this.bench.plate;
    if (!plate) {
      this.answer = null;
      return;
    }
    const body = { ...this.bench.plan(), plate_id: plate.id };
    try {
      this.answer = (await ask(() => api.POST('/api/calc/tricks', { body }))) as Tricks;
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
      if (error.passing && !this.bench.left) return LATER;
      this.answer = null;
    }
  });
}

/** Which part of the room a shot is about, before anybody chooses. */
export function firstSection(bench: OpenShot): Section {
  const { splits = [], reframe = null, beats = [] } = bench.shot.draft;
  const plates = bench.plates.map((p) => p.draft);
  if (splits.length > 0) return 'split';
  if (plates.some((p) => p.crowd)) return 'crowd';
  if (plates.some((p) => p.rig)) return 'rig';
  if (plates.some((p) => p.markers)) return 'cut';
  if (reframe) return 'reframe';
  return beats.length > 0 ? 'timing' : 'lock';
}
