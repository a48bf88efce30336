/** Developed pictures of one shot: which there are, asking for more, and whether the plan has moved
 * on since. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { LongWork } from '../../lib/jobs/long-work.svelte';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';

export type Developed = Schemas['DevelopedOut'];
/** Small comes first, so that there is something to look at; then large. */
export const SMALL_PX = 480;
export const LARGE_PX = 960;

/** What a picture shows: a plate, or with null the story. */
export type Subject = string | null;

export class Developing {
  pictures = $state.raw<Developed[]>([]);
  /** What to install where none can be made. */
  missing = $state('');
  problem = $state('');
  /** The plan as it was when the list came, as text. */
  #listed = $state.raw('');
  readonly #work: Record<string, LongWork> = {};

  constructor(readonly bench: OpenShot) {}

  get #path() {
    return { production_id: this.bench.productionId, shot_id: this.bench.shotId };
  }
  #plan() {
    return JSON.stringify(this.bench.plan());
  }
  get #view() {
    return this.bench.view?.id ?? null;
  }

  /** The newest picture of a subject at a frame; one of another frame where there is none. */
  of(subject: Subject, frame: number): Developed | null {
    const own = this.pictures.filter(
      (p) => p.plate_id === subject && (subject !== null || p.view_id === this.#view),
    );
    return own.find((p) => p.frame === frame) ?? own[0] ?? null;
  }
  /** Whether a picture shows the plan as it stands on the screen. */
  stands(picture: Developed): boolean {
    return picture.current && this.#listed === this.#plan();
  }
  address(picture: Developed): string {
    return `/api/productions/${this.bench.productionId}/developed/${picture.id}/picture`;
  }

  /** The work for a subject: small, then large. */
  work(subject: Subject): LongWork {
    const key = subject ?? 'story';
    return (this.#work[key] ??= new LongWork(this.bench.productionId, 'develop', () => {
      void this.list().then(() => this.#enlarge(subject));
    }));
  }

  /** How wide a picture was asked for last. */
  readonly #wide: Record<string, number> = {};

  async develop(subject: Subject, frame: number, width = SMALL_PX) {
    this.#wide[subject ?? 'story'] = width;
    await this.work(subject).ask({
      shot_id: this.bench.shotId,
      plate_id: subject,
      view_id: subject === null ? this.#view : null,
      frame,
      width,
    });
  }

  async #enlarge(subject: Subject) {
    const newest = this.pictures.find((p) => p.plate_id === subject);
    // What post lays in has a slimmer frame: asked for large, it is no wider than it comes.
    const asked = this.#wide[subject ?? 'story'] ?? newest?.width_px ?? LARGE_PX;
    if (newest && asked < LARGE_PX && this.stands(newest)) {
      await this.develop(subject, newest.frame, LARGE_PX);
    }
  }

  async list() {
    const asked = this.#plan();
    try {
      const page = await ask(() =>
        api.GET('/api/productions/{production_id}/shots/{shot_id}/developed', {
          params: { path: this.#path },
        }),
      );
      this.pictures = page.pictures;
      this.missing = page.missing;
      this.#listed = asked;
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
    }
  }

  dispose() {
    Object.values(this.#work).forEach((work) => work.dispose());
  }
}
