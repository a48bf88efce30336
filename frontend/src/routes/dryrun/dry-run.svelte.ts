/** The dry runs of one shot: asked for, watched, looked at. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { LongWork } from '../../lib/jobs/long-work.svelte';

export type Run = Schemas['DryRunOut'];
/** A run of one frame. */
export type Still = Run & { frame: number };
export type Page = Schemas['DryRunPage'];
export type Place = Schemas['PlaceOut'];
/** So many moments make a strip: the first, the last and three between. */
export const MOMENTS = 5;
/** What tells a finding from all others of the shot. */
export const keyOf = (place: Place) => `${place.plate_id} ${place.key}`;
/** What is further off than this in brightness is marked, stops. */
export const APART_STOPS = 0.3;

export function apart(stops: number | null): string {
  if (stops === null) return 'not to be told: not lit yet, or too dark';
  const size = Math.abs(stops);
  if (size < 0.05) return 'as bright as in the story';
  return `${size.toFixed(1)} ${size < 1.05 ? 'stop' : 'stops'} ${stops > 0 ? 'brighter' : 'darker'} than the story`;
}

/** The part of the picture that no plate shows, said. */
export function missing(hole: number): string {
  if (hole < 0.0005) return 'Every part of the picture is filmed by some plate.';
  const part = hole < 0.01 ? 'Less than 1 %' : `${Math.round(hole * 100)} %`;
  return `${part} of the picture is filmed by no plate, and left an even grey.`;
}

/** How often a clip has a picture, said. */
export function pace(reel: Run): string {
  const fps = Math.round((reel.fps ?? 0) * 10) / 10;
  return `${fps} pictures a second, ${reel.width_px} pixels wide: for how things go, not for what is sharp.`;
}

export class DryRuns {
  page = $state.raw<Page | null>(null);
  view = $state<string | null>(null);
  frame = $state(1);
  /** What does not hold of the plates of a run, and where its pictures show that; null while that
   * is not known. */
  places = $state.raw<Place[] | null>(null);
  /** Why that could not be asked. */
  unasked = $state('');
  #placesOf = '';
  readonly work: LongWork;
  readonly clip: LongWork;

  constructor(
    readonly productionId: string,
    readonly shotId: string,
  ) {
    this.work = new LongWork(productionId, 'dry-run', () => void this.load());
    this.clip = new LongWork(productionId, 'dry-run-clip', () => void this.load());
  }

  get frames() {
    return this.page?.views.find((v) => v.id === this.view)?.frames ?? 1;
  }
  /** The runs of the camera in hand, newest first. */
  get #own(): Run[] {
    return (this.page?.runs ?? []).filter((r) => r.view_id === this.view);
  }
  get #stills(): Still[] {
    return this.#own.filter((r): r is Still => r.frame !== null);
  }
  /** The newest run of the camera and frame in hand; of another frame where there is none. */
  get run(): Still | null {
    const own = this.#stills;
    return own.find((r) => r.frame === this.frame) ?? own[0] ?? null;
  }
  /** The newest clip of the camera in hand. */
  get reel(): Run | null {
    return this.#own.find((r) => r.frame === null) ?? null;
  }

  async load() {
    this.page = await ask(() =>
      api.GET('/api/productions/{production_id}/shots/{shot_id}/dry-runs', {
        params: { path: { production_id: this.productionId, shot_id: this.shotId } },
      }),
    );
  }

  /** Find what does not hold of the run in hand. */
  async find(run: Run) {
    this.#placesOf = run.id;
    this.places = null;
    this.unasked = '';
    try {
      const places = await ask(() =>
        api.GET('/api/productions/{production_id}/dry-runs/{pk}/findings', {
          params: { path: { production_id: this.productionId, pk: run.id } },
        }),
      );
      if (this.#placesOf === run.id) this.places = places;
    } catch (error) {
      // The pictures can be looked at without.
      if (!(error instanceof Failure)) throw error;
      if (this.#placesOf === run.id) this.unasked = error.message;
    }
  }

  /** Where it is kept what was asked for of this shot. */
  #asked(kind: 'dry-run' | 'dry-run-clip') {
    return `jungoptic.${kind}.${this.shotId}`;
  }
  /** The runs of the camera in hand, the newest of every frame, by their frames. */
  get strip(): Still[] {
    return this.#stills
      .filter((r, i, own) => own.findIndex((other) => other.frame === r.frame) === i)
      .sort((a, b) => a.frame - b.frame);
  }

  /** Film everything, at the frame in hand or at moments of the whole shot; `width` in pixels. */
  async film(width: 640 | 960, moments: number | null = null) {
    const { shotId: shot_id, view: view_id, frame } = this;
    await this.work.ask({ shot_id, view_id, frame, width, ...(moments && { moments }) });
    if (this.work.job) sessionStorage.setItem(this.#asked('dry-run'), this.work.job.id);
  }
  /** Film all of it as a clip. */
  async filmClip() {
    await this.clip.ask({ shot_id: this.shotId, view_id: this.view });
    if (this.clip.job) sessionStorage.setItem(this.#asked('dry-run-clip'), this.clip.job.id);
  }
  /** Take up what was asked for of this shot before, if it still goes on. */
  async resume() {
    for (const [kind, work] of [
      ['dry-run', this.work],
      ['dry-run-clip', this.clip],
    ] as const) {
      const id = sessionStorage.getItem(this.#asked(kind));
      if (id) await work.resume(id);
    }
  }

  picture(run: Run, which: 'composite' | 'story') {
    return `/api/productions/${this.productionId}/dry-runs/${run.id}/picture?which=${which}`;
  }

  dispose() {
    this.work.dispose();
    this.clip.dispose();
  }
}
