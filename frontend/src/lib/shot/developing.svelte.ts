/** Developed pictures of one shot: which there are, asking for more, and whether the plan has moved
 * on since. */

import { api, ask, Failure, type Schemas } from '../api/client';
import { status } from '../edit/status.svelte';
import { LongWork } from '../jobs/long-work.svelte';
import type { OpenShot } from './open-shot.svelte';

export type Developed = Schemas['DevelopedOut'];
/** Small comes first, so that there is something to look at; then large. */
export const SMALL_PX = 480;
export const LARGE_PX = 960;

/** What a picture shows: a plate, or with null the story. */
export type Subject = string | null;
/** What of a plate would be otherwise, as a way out or a way of the planner has it; empty: nothing. */
export type Change = {
  changes?: Record<string, unknown>;
  shot?: Record<string, unknown>;
  things?: Record<string, unknown>;
  alone?: boolean;
};

/** A value as text that says the same whatever the order of its names. */
function inOrder(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(inOrder).join()}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const names = Object.keys(value).sort();
  const of = value as Record<string, unknown>;
  return `{${names.map((name) => `${name}:${inOrder(of[name])}`).join()}}`;
}

/** All of a change, and nothing else of what has it. */
function whole(change: Change) {
  const { changes = {}, shot = {}, things = {}, alone = false } = change;
  return { changes, shot, things, alone };
}
const told = (change: Change) => inOrder(whole(change));
const NOTHING = told({});

export class Developing {
  pictures = $state.raw<Developed[]>([]);
  /** What to install where none can be made. */
  missing = $state('');
  problem = $state('');
  /** The plan as it was when the list came, as text. */
  #listed = $state.raw('');
  readonly #work: Record<string, LongWork> = {};

  /** `larger`: whether a large picture follows the small one. */
  constructor(
    readonly bench: OpenShot,
    readonly larger = true,
  ) {}

  get #path() {
    return { production_id: this.bench.productionId, shot_id: this.bench.shotId };
  }
  #plan() {
    return JSON.stringify(this.bench.plan());
  }
  get #view() {
    return this.bench.view?.id ?? null;
  }

  /** The place of a plate that was looked at closely last, as planned. */
  closely(subject: Subject): Developed | null {
    const mine = (p: Developed) => p.plate_id === subject && p.at.length > 0;
    return this.pictures.find((p) => mine(p) && told(p.change) === NOTHING) ?? null;
  }

  /** The newest picture of a subject at a frame, as planned or with a change; one of another frame
   * where there is none. */
  of(subject: Subject, frame: number, change: Change = {}): Developed | null {
    const wanted = told(change);
    const own = this.pictures.filter(
      (p) =>
        p.plate_id === subject &&
        !p.at.length &&
        (subject !== null || p.view_id === this.#view) &&
        told(p.change) === wanted,
    );
    return own.find((p) => p.frame === frame) ?? own[0] ?? null;
  }
  /** Whether a picture shows the plan as it stands on the screen. */
  stands(picture: Developed): boolean {
    return picture.current && this.#listed === this.#plan();
  }
  /** The picture of a subject at just this frame that still stands. */
  shown(subject: Subject, frame: number, change: Change = {}): Developed | null {
    const found = this.of(subject, frame, change);
    return found && found.frame === frame && this.stands(found) ? found : null;
  }
  address(picture: Developed): string {
    return `/api/productions/${this.bench.productionId}/developed/${picture.id}/picture`;
  }

  #key(subject: Subject, change: Change) {
    return `${subject ?? 'story'} ${told(change)}`;
  }

  /** The work for a subject: small, then large. */
  work(subject: Subject, change: Change = {}): LongWork {
    return (this.#work[this.#key(subject, change)] ??= new LongWork(
      this.bench.productionId,
      'develop',
      () => void this.list().then(() => (this.larger ? this.#enlarge(subject, change) : undefined)),
    ));
  }

  /** How wide a picture was asked for last. */
  readonly #wide: Record<string, number> = {};

  async develop(subject: Subject, frame: number, width = SMALL_PX, change: Change = {}) {
    this.#wide[this.#key(subject, change)] = width;
    await this.work(subject, change).ask({
      shot_id: this.bench.shotId,
      plate_id: subject,
      view_id: subject === null ? this.#view : null,
      frame,
      width,
      ...(told(change) !== NOTHING && { change: whole(change) }),
    });
  }

  readonly #close: Record<string, LongWork> = {};
  /** The work for a close look at a plate. */
  close(subject: Subject): LongWork {
    return (this.#close[subject ?? 'story'] ??= new LongWork(
      this.bench.productionId,
      'develop',
      () => void this.list(),
    ));
  }
  /** Look at a place of a plate, right and down as parts of its picture, as its card keeps it. */
  async look(subject: Subject, frame: number, at: [number, number]) {
    await this.close(subject).ask({
      shot_id: this.bench.shotId,
      plate_id: subject,
      frame,
      width: SMALL_PX,
      at,
    });
  }

  async #enlarge(subject: Subject, change: Change) {
    const newest = this.pictures.find(
      (p) => p.plate_id === subject && !p.at.length && told(p.change) === told(change),
    );
    // What post lays in has a slimmer frame: asked for large, it is no wider than it comes.
    const asked = this.#wide[this.#key(subject, change)] ?? newest?.width_px ?? LARGE_PX;
    if (newest && asked < LARGE_PX && this.stands(newest)) {
      await this.develop(subject, newest.frame, LARGE_PX, change);
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

  /** While a component shows them: once what was changed is on the server, whether a picture still
   * stands is asked anew. */
  watch(renew: () => Promise<void> = () => this.list()) {
    $effect(() => () => this.dispose());
    $effect(() => {
      this.bench.question();
      if (status.state !== 'saved' || this.bench.dragging) return;
      const later = setTimeout(() => void renew(), 150);
      return () => clearTimeout(later);
    });
  }

  /** Nobody looks any more: what has not begun is in the way of whatever is asked for next. */
  drop() {
    for (const work of Object.values(this.#work)) {
      if (work.job?.state === 'waiting') void work.cancel();
    }
  }

  dispose() {
    for (const work of [...Object.values(this.#work), ...Object.values(this.#close)])
      work.dispose();
  }
}
