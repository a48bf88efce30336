/** A piece of long work of one kind: asked for, watched until it ends, stopped; found again by
 * whoever comes back to the screen. */

import { api, ask, Failure, type Schemas } from '../api/client';

export type Job = Schemas['JobOut'];
/** How often it is looked at: soon at first, seldom later. */
const FIRST_MS = 300;
const SLOWEST_MS = 2000;

export class LongWork {
  job = $state.raw<Job | null>(null);
  /** Why it could not be asked for. */
  problem = $state('');
  #timer: ReturnType<typeof setTimeout> | undefined;
  #left = false;

  constructor(
    readonly productionId: string,
    readonly kind: string,
    readonly ondone: (job: Job) => void = () => {},
  ) {}

  get open() {
    return this.job?.state === 'waiting' || this.job?.state === 'running';
  }
  /** Where the file that came of it lies; null without one. */
  get file(): string | null {
    if (this.job?.state !== 'done' || !this.job.file_name) return null;
    return `/api/productions/${this.productionId}/jobs/${this.job.id}/file`;
  }

  get #path() {
    return { production_id: this.productionId };
  }

  /** Ask for it, unless it is going on; what was asked for before is forgotten here. */
  async ask(params: Record<string, unknown> = {}) {
    if (this.open) return;
    this.problem = '';
    this.job = null;
    await this.#attempt(async () => {
      const body = { id: crypto.randomUUID(), kind: this.kind, params };
      const job = await ask(() =>
        api.POST('/api/productions/{production_id}/jobs', { params: { path: this.#path }, body }),
      );
      this.#take(job, FIRST_MS);
    });
  }

  get #away() {
    return `jungoptic.put-away.${this.kind}`;
  }

  /** Take up one's own newest work of this kind, or with `id` only that: while it goes on, or while
   * what came of it was not put away. */
  async resume(id?: string) {
    await this.#attempt(async () => {
      const jobs = await ask(() =>
        api.GET('/api/productions/{production_id}/jobs', { params: { path: this.#path } }),
      );
      const own = jobs.find(
        (job) => job.kind === this.kind && job.mine && (id === undefined || job.id === id),
      );
      if (!own) return;
      const kept = own.file_name !== '' && localStorage.getItem(this.#away) !== own.id;
      if (own.state === 'done' && kept) this.job = own;
      else if (own.state === 'waiting' || own.state === 'running') this.#take(own, FIRST_MS);
    });
  }

  async cancel() {
    const job = this.job;
    if (!job) return;
    await this.#attempt(async () => {
      const path = { ...this.#path, pk: job.id };
      const now = await ask(() =>
        api.POST('/api/productions/{production_id}/jobs/{pk}/cancel', { params: { path } }),
      );
      this.#take(now, FIRST_MS);
    });
  }

  /** Put away what is shown of it. */
  clear() {
    clearTimeout(this.#timer);
    if (this.job) localStorage.setItem(this.#away, this.job.id);
    this.job = null;
    this.problem = '';
  }

  dispose() {
    this.#left = true;
    clearTimeout(this.#timer);
  }

  #take(job: Job, next_ms: number) {
    if (this.#left) return;
    const before = this.job;
    this.job = job;
    clearTimeout(this.#timer);
    if (this.open) {
      this.#timer = setTimeout(() => void this.#look(job.id, next_ms), next_ms);
    } else if (job.state === 'done' && before?.state !== 'done') {
      this.ondone(job);
    }
  }

  async #look(pk: string, waited_ms: number) {
    const next = Math.min(waited_ms * 1.3, SLOWEST_MS);
    try {
      const path = { ...this.#path, pk };
      const job = await ask(() =>
        api.GET('/api/productions/{production_id}/jobs/{pk}', { params: { path } }),
      );
      if (this.job?.id === pk) this.#take(job, next);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (error.passing && !this.#left) {
        this.#timer = setTimeout(() => void this.#look(pk, next), next);
      } else {
        this.problem = error.message;
        this.job = null;
      }
    }
  }

  async #attempt(work: () => Promise<void>) {
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
    }
  }
}
