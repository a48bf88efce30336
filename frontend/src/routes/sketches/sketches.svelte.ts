/** The pictures of a shot, the marks on the one that is open, and what the marks say. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { sendPicture } from '../../lib/api/upload';
import { History } from '../../lib/edit/history.svelte';
import { SavedRecord } from '../../lib/edit/record.svelte';
import { Turns } from '../../lib/edit/turns';
import type { Point } from './marks';

export type Sketch = Schemas['SketchOut'];
export type Mark = Schemas['AnnotationOut'];
export type Layer = Mark['layer'];

export class Sketches {
  about = $state.raw() as Schemas['ProductionOut'];
  page = $state.raw() as Schemas['SketchPage'];
  open = $state.raw<SavedRecord<Sketch> | null>(null);
  marks = $state.raw<SavedRecord<Mark>[]>([]);
  report = $state.raw<Schemas['StillReport'] | null>(null);
  selected = $state<string | null>(null);
  hidden = $state<Layer[]>([]);
  notice = $state('');
  busy = $state('');
  readonly history = new History();
  readonly #turns = new Turns();
  #asked = 0;

  constructor(
    readonly production: string,
    readonly shot: string,
  ) {}

  get editable() {
    return this.about.role !== 'viewer';
  }
  /** Width in pixels of the points of a planned picture. */
  get deliveryWidth() {
    return this.page.delivery_width_px;
  }
  get chosen() {
    return this.marks.find((m) => m.id === this.selected) ?? null;
  }
  get #path() {
    return { production_id: this.production, shot_id: this.shot };
  }

  async load(openId?: string) {
    const [about, page] = await Promise.all([
      ask(() =>
        api.GET('/api/productions/{production_id}', {
          params: { path: { production_id: this.production } },
        }),
      ),
      ask(() =>
        api.GET('/api/productions/{production_id}/shots/{shot_id}/sketches', {
          params: { path: this.#path },
        }),
      ),
    ]);
    this.about = about;
    this.page = page;
    const wanted = page.sketches.find((s) => s.id === openId) ?? page.sketches[0];
    this.show(wanted ?? null);
  }

  show(sketch: Sketch | null) {
    for (const record of [this.open, ...this.marks]) record?.dispose();
    this.selected = null;
    this.report = null;
    this.open = sketch === null ? null : this.#sketchRecord(sketch);
    this.marks = (sketch?.annotations ?? []).map((m) => this.#markRecord(m));
    if (sketch) void this.judge();
  }

  #sketchRecord(sketch: Sketch) {
    return new SavedRecord<Sketch>(sketch, async (revision, changes) => {
      const saved = await ask(() =>
        api.PATCH('/api/productions/{production_id}/sketches/{pk}', {
          params: { path: { production_id: this.production, pk: sketch.id } },
          body: { revision, ...changes },
        }),
      );
      this.#listed(saved);
      void this.judge();
      return saved;
    });
  }

  #markRecord(mark: Mark) {
    return new SavedRecord<Mark>(mark, async (revision, changes) => {
      const saved = await ask(() =>
        api.PATCH('/api/productions/{production_id}/annotations/{pk}', {
          params: { path: { production_id: this.production, pk: mark.id } },
          body: { revision, ...changes },
        }),
      );
      void this.judge();
      return saved;
    });
  }

  #listed(sketch: Sketch) {
    this.page = {
      ...this.page,
      sketches: this.page.sketches.map((s) => (s.id === sketch.id ? sketch : s)),
    };
  }

  /** What the marks say; only the answer to the newest question counts. */
  async judge() {
    const pk = this.open?.id;
    if (!pk) return;
    const asked = ++this.#asked;
    try {
      const found = await ask(() =>
        api.GET('/api/productions/{production_id}/sketches/{pk}/report', {
          params: { path: { production_id: this.production, pk } },
        }),
      );
      if (asked === this.#asked) this.report = found;
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.notice = error.message;
    }
  }

  async #attempt(work: () => Promise<void>, busy = ''): Promise<void> {
    this.notice = '';
    this.busy = busy;
    await this.#turns.take(work, (sentence) => (this.notice = sentence));
    this.busy = '';
  }

  // --- pictures --------------------------------------------------------------------------------

  upload(files: File[]) {
    return this.#attempt(async () => {
      for (const file of files) {
        const made = await sendPicture(this.production, this.shot, file);
        this.page = { ...this.page, sketches: [...this.page.sketches, made] };
        this.show(made);
      }
    }, 'Sending the picture');
  }

  draw(viewId: string | null = null) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/sketches/frame', {
          params: { path: this.#path },
          body: { title: 'From the Frame', view_id: viewId },
        }),
      );
      this.page = { ...this.page, sketches: [...this.page.sketches, made] };
      this.show(made);
    }, 'Drawing');
  }

  redraw() {
    const pk = this.open?.id;
    if (!pk) return;
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/sketches/{pk}/redraw', {
          params: { path: { production_id: this.production, pk } },
        }),
      );
      this.#listed(made);
      this.show(made);
    }, 'Drawing');
  }

  removeSketch() {
    const pk = this.open?.id;
    if (!pk) return;
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/sketches/{pk}', {
          params: { path: { production_id: this.production, pk } },
        }),
      );
      const rest = this.page.sketches.filter((s) => s.id !== pk);
      this.page = { ...this.page, sketches: rest };
      this.show(rest[0] ?? null);
    });
  }

  // --- marks -----------------------------------------------------------------------------------

  async #post(mark: Omit<Mark, 'revision'>) {
    const sketch_id = this.open?.id;
    if (!sketch_id) return;
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/sketches/{sketch_id}/annotations', {
        params: { path: { production_id: this.production, sketch_id } },
        body: mark,
      }),
    );
    this.marks = [...this.marks.filter((m) => m.id !== made.id), this.#markRecord(made)];
    this.selected = made.id;
    void this.judge();
  }

  async #delete(id: string) {
    await ask(() =>
      api.DELETE('/api/productions/{production_id}/annotations/{pk}', {
        params: { path: { production_id: this.production, pk: id } },
      }),
    );
    this.marks.find((m) => m.id === id)?.dispose();
    this.marks = this.marks.filter((m) => m.id !== id);
    if (this.selected === id) this.selected = null;
    void this.judge();
  }

  add(layer: Layer, points: Point[]) {
    const mark = { id: crypto.randomUUID(), layer, points, name: '', note: '' } as Omit<
      Mark,
      'revision'
    >;
    // Nothing is chosen until the new mark is there: what is typed meanwhile must not go astray.
    this.selected = null;
    return this.#attempt(async () => {
      await this.#post(mark);
      this.history.push({
        label: 'Draw a mark',
        undo: () => void this.#attempt(() => this.#delete(mark.id)),
        redo: () => void this.#attempt(() => this.#post(mark)),
      });
    });
  }

  remove(record: SavedRecord<Mark>) {
    const mark = $state.snapshot(record.draft) as Mark;
    const bare = { ...mark, revision: undefined } as unknown as Omit<Mark, 'revision'>;
    return this.#attempt(async () => {
      await this.#delete(mark.id);
      this.history.push({
        label: 'Remove a mark',
        undo: () => void this.#attempt(() => this.#post(bare)),
        redo: () => void this.#attempt(() => this.#delete(mark.id)),
      });
    });
  }

  /** A finished change of one field, as one step of undo. */
  change<K extends keyof Mark & string>(
    record: SavedRecord<Mark>,
    field: K,
    to: Mark[K],
    from: Mark[K],
  ) {
    const put = (value: Mark[K]) => {
      // Looked up again: undoing a removal makes a new record with the same id.
      const now = this.marks.find((m) => m.id === record.id);
      now?.set(field, value);
      void now?.commit();
    };
    put(to);
    if (JSON.stringify(to) !== JSON.stringify(from)) {
      this.history.push({
        label: field === 'points' ? 'Move a mark' : 'Change a mark',
        undo: () => put(from),
        redo: () => put(to),
      });
    }
  }

  dispose() {
    for (const record of [this.open, ...this.marks]) record?.dispose();
  }
}
