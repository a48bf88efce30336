/** What is ticked on a card, on every device. A tick is shown at once, kept on this device until
 * the server has it, and sent again while there is no connection. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';

export type Ticked = Schemas['Ticked'];
/** How long it waits before it sends again what did not get through, milliseconds. */
const AGAIN_MS = 5000;

export class Ticks {
  /** As the server last said. */
  stored = $state.raw<Ticked[]>([]);
  /** What was ticked or cleared here and is not there yet. */
  waiting = $state.raw<Record<string, boolean>>({});
  problem = $state('');
  #timer: ReturnType<typeof setTimeout> | null = null;
  #sending = false;

  constructor(
    readonly production: string,
    readonly card: string,
    stored: Ticked[],
  ) {
    this.stored = stored;
    try {
      this.waiting = JSON.parse(localStorage.getItem(this.#key) ?? '{}') as Record<string, boolean>;
    } catch {
      this.waiting = {};
    }
    void this.send();
  }

  get #key() {
    return `jungoptic.ticks.${this.card}`;
  }

  done(item: string): boolean {
    return this.waiting[item] ?? this.stored.some((one) => one.item === item);
  }

  /** Who ticked a line, and when; null while it is only on this device. */
  by(item: string): Ticked | null {
    if (this.waiting[item] !== undefined) return null;
    return this.stored.find((one) => one.item === item) ?? null;
  }

  tick(item: string, on: boolean) {
    this.problem = '';
    this.#wait({ ...this.waiting, [item]: on });
    void this.send();
  }

  #wait(waiting: Record<string, boolean>) {
    this.waiting = waiting;
    if (Object.keys(waiting).length > 0) localStorage.setItem(this.#key, JSON.stringify(waiting));
    else localStorage.removeItem(this.#key);
  }

  /** Send what waits, one line after the other. */
  async send() {
    if (this.#sending) return;
    this.#sending = true;
    this.stop();
    try {
      let next: [string, boolean] | undefined;
      while ((next = Object.entries(this.waiting)[0])) await this.#one(...next);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
      if (error.passing) this.#timer = setTimeout(() => void this.send(), AGAIN_MS);
      // Who is let in again sends it then; what the server will never take is not kept.
      else if (error.status !== 401 && error.status !== 403) this.#wait({});
    } finally {
      this.#sending = false;
    }
  }

  async #one(item: string, done: boolean) {
    const path = { production_id: this.production, pk: this.card };
    this.stored = await ask(() =>
      api.POST('/api/productions/{production_id}/cards/{pk}/ticks', {
        params: { path },
        body: { item, done },
      }),
    );
    this.problem = '';
    // Ticked the other way meanwhile, it goes on waiting.
    if (this.waiting[item] !== done) return;
    this.#wait(
      Object.fromEntries(Object.entries(this.waiting).filter(([other]) => other !== item)),
    );
  }

  stop() {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
  }
}
