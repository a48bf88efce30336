/** The exposure sheet of one plate as it is worked on, and what the core says of it. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { History } from '../../lib/edit/history.svelte';
import { LATER, newest } from '../../lib/edit/newest';
import type { SavedRecord } from '../../lib/edit/record.svelte';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import type { Strip } from './beside';
import { freeKey, type Column, type Copied, type Leg, type Mark } from './marks';
import { openSheet, type Sheet } from './record';

export type { Sheet };
export type Lapse = Schemas['LapseFields'];
export type SheetAnswer = Schemas['SheetAnswer'];
export type ColumnAnswer = Schemas['ColumnAnswer'];
/** What is marked on the sheet: frames of one column, both ends included. */
export type Choice = { key: string; first: number; last: number };

export const NEW_COLUMN: Record<Column['kind'], Partial<Column>> = {
  part: { name: 'Part', marks: [{ frame: 1, name: '', every: 1 }] },
  piece: {
    name: 'Eyes',
    marks: [{ frame: 1, name: 'open', every: 0 }],
    pieces: ['open', 'half', 'shut'].map((key) => ({ key, name: '' })),
  },
  axis: {
    name: 'Move',
    legs: [{ first: 2, frames: 24, way: 100, ease: 'both', ramp_frames: 0, curve: [] }],
  },
  words: { name: 'Sound and words' },
  note: { name: 'Notes' },
};

export class SheetDesk {
  record = $state.raw() as SavedRecord<Sheet>;
  answer = $state.raw<SheetAnswer | null>(null);
  problem = $state('');
  /** The column in hand. */
  chosen = $state<string | null>(null);
  choice = $state.raw<Choice | null>(null);
  copied = $state.raw<Copied | null>(null);
  readonly history = new History();
  /** Small pictures of what stands beside the rows; `lacksStrip`: they were not made yet;
   * `stripProblem`: why it is not known. */
  strip = $state.raw<Strip | null>(null);
  lacksStrip = $state(false);
  stripProblem = $state('');

  /** Days at the table that the camera tells of. */
  sat = $state.raw<Schemas['SatFields'][]>([]);
  /** The production's clock. */
  #zone = $state('');

  constructor(
    readonly bench: OpenShot,
    readonly plateId: string,
  ) {}

  get columns(): Column[] {
    return this.record.draft.columns ?? [];
  }
  get column(): Column | null {
    return this.columns.find((column) => column.key === this.chosen) ?? null;
  }
  /** What stands in the plate, to choose from. */
  get things() {
    return this.bench.standIns
      .filter((thing) => thing.draft.plate_id === this.plateId)
      .map((thing) => ({ value: thing.id, name: thing.draft.name }));
  }
  /** What is computed of a column. */
  told(key: string): ColumnAnswer | null {
    return this.answer?.columns.find((column) => column.key === key) ?? null;
  }
  get frames() {
    return this.answer?.frames ?? this.bench.frames;
  }

  async load() {
    const params = { path: { production_id: this.bench.productionId, pk: this.plateId } };
    const [record, sat] = await Promise.all([
      openSheet(this.bench.productionId, this.plateId),
      ask(() => api.GET('/api/productions/{production_id}/plates/{pk}/sat', { params })),
    ]);
    this.sat = sat.days;
    this.#zone = sat.time_zone;
    record.onchange = (before, after) =>
      this.history.push({
        label: this.#label,
        undo: () => void record.restore(before),
        redo: () => void record.restore(after),
      });
    this.record = record;
    this.chosen = this.columns[0]?.key ?? null;
  }

  #label = 'Change the sheet';

  /** Other columns: seen at once, and saved unless a hand is still on them. */
  set(columns: Column[], label: string, rests = true) {
    this.#label = label;
    this.record.set('columns', columns);
    if (rests) void this.record.commit();
  }

  /** Some fields of one column. */
  change(key: string, fields: Partial<Column>, label: string, rests = true) {
    this.set(
      this.columns.map((column) => (column.key === key ? { ...column, ...fields } : column)),
      label,
      rests,
    );
  }

  /** The marks of a column as `how` makes them. */
  mark(key: string, label: string, how: (marks: Mark[], column: Column) => Mark[]) {
    const column = this.columns.find((one) => one.key === key);
    if (!column || column.kind === 'axis') return;
    this.change(key, { marks: how(column.marks ?? [], column) }, label);
  }

  legs(key: string, legs: Leg[], label: string, rests = true) {
    this.change(key, { legs }, label, rests);
  }

  /** The drag is over: one step for undo, and save. */
  rest() {
    void this.record.commit();
  }

  add(kind: Column['kind']) {
    const key = freeKey(this.columns, kind);
    const made = { ...NEW_COLUMN[kind], key, kind } as Column;
    this.set([...this.columns, made], 'Add a column');
    this.chosen = key;
  }

  remove(key: string) {
    this.set(
      this.columns.filter((column) => column.key !== key),
      'Remove a column',
    );
    if (this.chosen === key) this.chosen = this.columns[0]?.key ?? null;
    if (this.choice?.key === key) this.choice = null;
  }

  /** The columns that the shot itself asks for. */
  begin() {
    const columns = this.answer?.begin_with ?? [];
    this.set(columns, 'Begin the sheet');
    this.chosen = columns[0]?.key ?? null;
  }

  worked(days: Schemas['WorkedFields'][], label: string) {
    this.#label = label;
    this.record.set('worked', days);
    void this.record.commit();
  }

  /** A time-lapse, or none: seen at once, and saved unless a hand is still on it. */
  lapse(lapse: Lapse | null, label: string, rests = true) {
    this.#label = label;
    this.record.set('lapse', lapse);
    if (rests) void this.record.commit();
  }

  /** What stands beside the rows. */
  get reference() {
    return this.record.draft.reference ?? null;
  }
  refer(reference: Schemas['ReferenceFields'] | null, label: string) {
    this.#label = label;
    this.record.set('reference', reference);
    void this.record.commit();
  }
  /** Where a sheet of small pictures lies. */
  stripSheet(sheet: number) {
    const pk = this.reference?.picture_id ?? '';
    return `/api/productions/${this.bench.productionId}/pictures/${pk}/strip/${sheet}`;
  }
  async seeBeside() {
    const pk = this.reference?.picture_id;
    this.strip = null;
    this.lacksStrip = false;
    this.stripProblem = '';
    if (!pk) return;
    const path = { production_id: this.bench.productionId, pk };
    try {
      const found = await ask(() =>
        api.GET('/api/productions/{production_id}/pictures/{pk}/strip', { params: { path } }),
      );
      if (this.reference?.picture_id === pk) this.strip = found as Strip;
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (this.reference?.picture_id !== pk) return;
      this.lacksStrip = error.status === 404;
      if (!this.lacksStrip) this.stripProblem = error.message;
    }
  }

  /** What a time-lapse begins as: along the story's own move, where its camera has one. */
  firstLapse(): Lapse {
    const { move_right_m = 0, move_away_m = 0 } = this.bench.shot.draft;
    return {
      interval_s: 5,
      exposure_s: 0.5,
      path_right_m: move_right_m,
      path_ahead_m: move_away_m,
      aim_id: null,
      held: 'tripod',
      photo_mb: 25,
      card_gb: 64,
    };
  }

  /** Everything the answer depends on; reading it in an effect follows every draft. */
  question() {
    const { columns, worked, lapse, set_map } = $state.snapshot(this.record.draft) as Sheet;
    const sheet = { columns, worked, lapse, set_map };
    const plan = this.bench.plan();
    return { ...plan, plate_id: this.plateId, sheet, sat: this.sat, time_zone: this.#zone };
  }

  readonly compute = newest(async () => {
    try {
      const body = this.question();
      this.answer = (await ask(() => api.POST('/api/calc/sheet', { body }))) as SheetAnswer;
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = Object.values(error.fields)[0] ?? error.message;
      if (error.passing && !this.bench.left) return LATER;
    }
  });
}
