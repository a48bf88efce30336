/** One thing after the other: what is asked for later waits, a refusal is said, nothing is lost. */

import { Failure } from '../api/client';
import { status } from './status.svelte';

export class Turns {
  #last: Promise<unknown> = Promise.resolve();

  /**
   * Run `work` when everything asked for before is done. Resolves to whether it worked; a refusal
   * goes to `refused` as a sentence, anything else is a mistake of ours and is thrown.
   */
  take(work: () => Promise<void>, refused: (sentence: string) => void): Promise<boolean> {
    const turn = this.#last.then(async () => {
      status.begin();
      let saved = false;
      try {
        await work();
        saved = true;
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        refused(error.message);
      } finally {
        status.end(saved);
      }
      return saved;
    });
    // A mistake of ours must not block the turns after it.
    this.#last = turn.catch(() => undefined);
    return turn;
  }
}
