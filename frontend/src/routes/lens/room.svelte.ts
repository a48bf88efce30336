/** The room of one lens: the stills that hang on it, what was measured by them, what is kept. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { LongWork } from '../../lib/jobs/long-work.svelte';
import { withMeasure, type LensMeasure } from '../../lib/shot/lens';
import { PictureDesk } from '../pictures/desk.svelte';

export type Lens = Schemas['LensOut'];
export type Still = Schemas['LensStill'];
export type Mode = { id: string; name: string; width: number };
type Place = [number, number];
/** What came of measuring. */
export type Answer = {
  measure: LensMeasure;
  pinhole_mm: number;
  rms_px: number;
  reach: number;
  width_px: number;
  height_px: number;
  stills: {
    picture_id: string;
    distance_m: number | null;
    slant_deg: number | null;
    rms_px: number | null;
    counted: boolean;
  }[];
  /** Upright lines, then level ones, so far across or down the picture. */
  at: number[];
  lines: Place[][];
  findings: Schemas['Finding'][];
};

export class LensRoom {
  lens = $state.raw<Lens | null>(null);
  modes = $state.raw<Mode[]>([]);
  stills = $state.raw<Still[]>([]);
  answer = $state.raw<Answer | null>(null);
  mode = $state<string | null>(null);
  marked = $state<number | null>(null);
  focus = $state<number | null>(null);
  ruler = $state(100);
  even = $state<string | null>(null);
  evenStop = $state<number | null>(null);
  readonly desk: PictureDesk;
  readonly work: LongWork;
  #seen = '';

  constructor(
    readonly production: string,
    readonly id: string,
  ) {
    this.desk = new PictureDesk(production, { lens: id });
    this.work = new LongWork(production, 'lens', (job) => {
      this.answer = job.result as Answer;
    });
  }

  get #path() {
    return { production_id: this.production, pk: this.id };
  }
  get editable() {
    return this.desk.editable;
  }
  /** Stills without a board: one of them may show something even. */
  get others() {
    const found = this.stills.map((still) => still.picture_id);
    return this.desk.shown.filter((one) => !found.includes(one.id) && one.looks.length > 0);
  }
  /** Those that a lens can be measured by: nothing that is still being read. */
  get waits() {
    return this.desk.shown.some((one) => one.reading || one.state === 'coming');
  }

  async load() {
    await this.desk.load();
    const path = { production_id: this.production };
    const kit = await ask(() =>
      api.GET('/api/productions/{production_id}/kit', { params: { path } }),
    );
    const lens = kit.lenses.find((one) => one.id === this.id);
    if (!lens) throw new Failure(404, 'This production has no such lens any more.');
    this.lens = lens;
    this.modes = kit.bodies.flatMap((body) =>
      body.modes.map((mode) => ({
        id: mode.id,
        name: `${body.name}, ${mode.name}`,
        width: mode.sensor_width_mm,
      })),
    );
    this.mode ??= this.modes[0]?.id ?? null;
    this.marked ??= lens.focal_min_mm;
    await this.look();
  }

  /** Find out in which stills the board was found, where those have changed. */
  async look() {
    const known = this.desk.shown.map((one) => `${one.id} ${one.revision} ${one.reading}`).join();
    if (known === this.#seen) return;
    this.#seen = known;
    const found = await ask(() =>
      api.GET('/api/productions/{production_id}/lenses/{pk}/stills', {
        params: { path: this.#path },
      }),
    );
    this.stills = found as Still[];
  }

  measure() {
    this.answer = null;
    return this.work.ask({
      lens_id: this.id,
      mode_id: this.mode,
      marked_mm: this.marked,
      focus_m: this.focus,
      ruler_mm: this.ruler,
      even_id: this.even,
      even_stop: this.even ? this.evenStop : null,
    });
  }

  /** Keep what was measured with the lens. */
  async keep() {
    if (!this.lens || !this.answer) return;
    const before = this.lens.measured ?? [];
    const after = withMeasure(before, this.answer.measure);
    if (await this.#save(after)) {
      this.desk.history.push({
        label: `${this.lens.name} as measured`,
        undo: () => void this.#save(before),
        redo: () => void this.#save(after),
      });
    }
  }

  /** Whether what was measured cannot be: nothing should go by it. */
  get impossible() {
    const focal = this.answer?.findings.find((one) => one.key === 'lens-focal');
    return focal?.verdict === 'breaks';
  }

  /** Whether what was measured is what is kept. */
  get kept() {
    const mine = this.answer?.measure;
    const there = this.lens?.measured?.find((one) => one.marked_mm === mine?.marked_mm);
    return !!mine && there?.focal_mm === mine.focal_mm && there.k1 === mine.k1;
  }

  #save(measured: LensMeasure[]): Promise<boolean> {
    return this.desk.saving(async () => {
      const kit = await ask(() =>
        api.GET('/api/productions/{production_id}/kit', {
          params: { path: { production_id: this.production } },
        }),
      );
      const revision = kit.lenses.find((one) => one.id === this.id)?.revision ?? 1;
      this.lens = await ask(() =>
        api.PATCH('/api/productions/{production_id}/lenses/{pk}', {
          params: { path: this.#path },
          body: { revision, measured },
        }),
      );
    });
  }

  dispose() {
    this.desk.dispose();
    this.work.dispose();
  }
}
