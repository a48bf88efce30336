/** The lock-offs of the production as an open shot knows them: what is filmed from the same set-ups
 * in other shots. */

import { api, ask, Failure, type Schemas } from '../api/client';
import type { OpenShot } from './open-shot.svelte';

export type Held = Schemas['HeldLockOff'];

export class LockOffs {
  /** Every lock-off of the production; null until somebody asks. */
  held = $state.raw<Held[] | null>(null);

  constructor(private readonly shot: OpenShot) {}

  #path() {
    return { path: { production_id: this.shot.productionId } };
  }

  async ask() {
    try {
      const params = this.#path();
      this.held = await ask(() => api.GET('/api/productions/{production_id}/lockoffs', { params }));
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.shot.notice = error.message;
    }
  }

  /** What other shots film from a lock-off. */
  elsewhere(name: string): Held['shots'] {
    const shots = this.held?.find((one) => one.name === name)?.shots ?? [];
    return shots.filter((one) => one.id !== this.shot.shotId);
  }

  /** A name that no lock-off has yet, as recipes give them: "3-A". */
  free() {
    const taken = [
      ...(this.held ?? []).map((one) => one.name),
      ...this.shot.allPlates.map((p) => p.draft.lock_group ?? ''),
    ];
    const number = this.shot.whole.draft.number.slice(0, 16);
    for (let i = 0; ; i += 1) {
      const letter = i < 26 ? String.fromCharCode(65 + i) : String(i + 1);
      if (!taken.includes(`${number}-${letter}`)) return `${number}-${letter}`;
    }
  }

  /** Call a lock-off something else, in every shot. Why it was refused; nothing when it was not. */
  async rename(name: string, to: string): Promise<string> {
    try {
      this.held = await ask(() =>
        api.POST('/api/productions/{production_id}/lockoffs/rename', {
          params: this.#path(),
          body: { name, to },
        }),
      );
      await this.renew();
      return '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      return error.fields.to ?? error.fields.name ?? error.message;
    }
  }

  /** What the server has by now of the plates here, and of those beside them. */
  async renew() {
    try {
      const [whole] = await Promise.all([this.shot.stored.whole(), this.ask()]);
      for (const plate of whole.plates) {
        this.shot.allPlates.find((one) => one.id === plate.id)?.renew(plate);
      }
      this.shot.beside = whole.beside;
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.shot.notice = error.message;
    }
  }
}
