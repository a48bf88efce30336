/**
 * The state of one open shot: its records, its kit, what is selected, and the computed report,
 * which follows every change of a draft.
 */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { History } from '../../lib/edit/history.svelte';
import { same } from '../../lib/edit/merge';
import { LATER, newest } from '../../lib/edit/newest';
import { SavedRecord, type Revisioned } from '../../lib/edit/record.svelte';
import { units } from '../../lib/units.svelte';
import {
  NEW_PLATE,
  bare,
  NEW_STAND_IN,
  planOf,
  question,
  type Kit,
  type Plate,
  type Shot,
  type StandIn,
} from './plan';

export const WORLD = 'world';

export class Bench {
  shot = $state.raw() as SavedRecord<Shot>;
  plates = $state.raw<SavedRecord<Plate>[]>([]);
  standIns = $state.raw<SavedRecord<StandIn>[]>([]);
  kit = $state.raw<Kit>({ bodies: [], lenses: [], lamps: [], rooms: [] });
  production = $state.raw() as Schemas['ProductionOut'];
  report = $state.raw<Schemas['ShotAnswer'] | null>(null);
  /** Why the present numbers cannot be computed; the last good report stays. */
  trouble = $state('');
  /** Why the last thing tried did not work. */
  notice = $state('');
  selected = $state<string>(WORLD);
  standIn = $state<string | null>(null);
  /** Whether the report is asked for a map of the light. */
  mapped = $state(false);
  dragging = $state(false);
  /** The part (0..1) of the screen time that the pictures show. */
  at = $state(0);
  readonly history = new History();
  #queue: Promise<void> = Promise.resolve();
  /** Where each unsaved field began, by `id.field`; nothing on the screen reads it. */
  #before: Record<string, unknown> = {};

  constructor(
    readonly productionId: string,
    readonly shotId: string,
  ) {}

  get editable() {
    return this.production.role !== 'viewer';
  }
  get plate() {
    return this.plates.find((p) => p.id === this.selected) ?? null;
  }
  /** Whether somebody went on to another screen; nothing is asked any more. */
  left = false;

  get answer() {
    return this.report?.plates.find((p) => p.plate_id === this.selected) ?? null;
  }
  get chosenStandIn() {
    return this.standIns.find((s) => s.id === this.standIn) ?? null;
  }
  /** How many frames the shot has, as the core counts them. */
  get frames() {
    const { screen_time_s = 4, playback_fps = 24 } = this.shot.draft;
    return Math.max(1, Math.round(screen_time_s * playback_fps));
  }
  /** Show a frame; one after the end shows the last. */
  show(frame: number) {
    this.at = Math.min((frame - 1) / Math.max(this.frames - 1, 1), 1);
  }
  /** Whether the camera, a divider, the cut of the picture or anything else moves. */
  get moving() {
    const { move_right_m, move_away_m, move_up_m, move_pan_deg, move_tilt_deg } = this.shot.draft;
    const { splits = [], reframe = null } = this.shot.draft;
    return (
      splits.some((s) => s.throw || (s.keys?.length ?? 0) > 1) ||
      (reframe?.keys?.length ?? 0) > 1 ||
      [move_right_m, move_away_m, move_up_m, move_pan_deg, move_tilt_deg].some((v) => v) ||
      this.standIns.some((s) => s.draft.speed_m_s)
    );
  }
  get names(): Record<string, string> {
    return Object.fromEntries(this.standIns.map((s) => [s.id, s.draft.name]));
  }

  async load() {
    const production_id = this.productionId;
    const [production, whole, kit] = await Promise.all([
      ask(() =>
        api.GET('/api/productions/{production_id}', { params: { path: { production_id } } }),
      ),
      ask(() =>
        api.GET('/api/productions/{production_id}/shots/{pk}', {
          params: { path: { production_id, pk: this.shotId } },
        }),
      ),
      ask(() =>
        api.GET('/api/productions/{production_id}/kit', { params: { path: { production_id } } }),
      ),
    ]);
    this.production = production;
    this.kit = kit;
    this.shot = new SavedRecord(whole.shot, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/shots/{pk}', {
          params: { path: { production_id, pk: this.shotId } },
          body: { revision, ...changes },
        }),
      ),
    );
    this.plates = whole.plates.map((p) => this.#plateRecord(p));
    this.standIns = whole.stand_ins.map((s) => this.#standInRecord(s));
    this.selected = this.plates[0]?.id ?? WORLD;
  }

  #plateRecord(plate: Plate) {
    return new SavedRecord<Plate>(plate, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/plates/{pk}', {
          params: { path: { production_id: this.productionId, pk: plate.id } },
          body: { revision, ...changes },
        }),
      ),
    );
  }

  #standInRecord(standIn: StandIn) {
    return new SavedRecord<StandIn>(standIn, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/stand-ins/{pk}', {
          params: { path: { production_id: this.productionId, pk: standIn.id } },
          body: { revision, ...changes },
        }),
      ),
    );
  }

  // --- computing -------------------------------------------------------------------------

  /** Everything the report depends on; reading it in an effect follows every draft. */
  question() {
    return question(
      $state.snapshot(this.shot.draft) as Shot,
      this.plates.map((p) => $state.snapshot(p.draft) as Plate),
      this.standIns.map((s) => $state.snapshot(s.draft) as StandIn),
      this.kit,
      {
        remedies: !this.dragging,
        at: this.moving ? this.at : 0,
        selected: this.plate?.id ?? null,
        light_map: this.mapped,
        notation: units.asked,
      },
    );
  }

  /** The plan alone, as the calculators of one plate take it. */
  plan() {
    return planOf(this.question());
  }

  /** Ask for the report. */
  readonly compute = newest(async () => {
    const body = this.question();
    try {
      const found = await ask(() => api.POST('/api/calc/shot', { body }));
      // The client's types widen pairs of numbers to lists; they are pairs.
      this.report = found as Schemas['ShotAnswer'];
      this.trouble = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.trouble = error.message;
      if (error.passing && !this.left) return LATER;
    }
  });

  // --- editing ---------------------------------------------------------------------------

  /** Live change of one field; remembers where it began for undo. */
  live<T extends Revisioned, K extends keyof T & string>(
    record: SavedRecord<T>,
    field: K,
    value: T[K],
  ) {
    for (const one of this.#together(record, field)) this.alone(one, field, value);
  }

  /** What changes with a record: plates of one lock-off share every locked decision. */
  #together<T extends Revisioned>(record: SavedRecord<T>, field?: string): SavedRecord<T>[] {
    const plate = this.plates.find((p) => p.id === record.id);
    const group = plate?.draft.lock_group;
    if (!group || (field !== undefined && !(this.report?.locked ?? []).includes(field))) {
      return [record];
    }
    const others = this.plates.filter((p) => p !== plate && p.draft.lock_group === group);
    return [record, ...(others as unknown as SavedRecord<T>[])];
  }

  /** The change is complete: one step for undo, and save. */
  commit<T extends Revisioned>(record: SavedRecord<T>, label: string) {
    this.commitAll(this.#together(record) as unknown as SavedRecord<Revisioned>[], label);
  }

  /** Changes of several records are complete: one step for undo, and save each. */
  commitAll(records: SavedRecord<Revisioned>[], label: string) {
    const edits: { id: string; field: string; from: unknown; to: unknown }[] = [];
    for (const [key, from] of Object.entries(this.#before)) {
      const [id = '', field = ''] = key.split('.');
      const record = records.find((one) => one.id === id);
      if (!record) continue;
      delete this.#before[key];
      const to = $state.snapshot((record.draft as Record<string, unknown>)[field]);
      if (!same(from, to)) edits.push({ id, field, from, to });
    }
    if (edits.length > 0) {
      const put = (which: 'from' | 'to') => {
        for (const { id } of records) {
          // Looked up again: undoing a removal makes a new record with the same id.
          const now = this.#find(id) as SavedRecord<Revisioned> | undefined;
          if (!now) continue;
          for (const edit of edits.filter((one) => one.id === id)) {
            now.set(edit.field as never, edit[which] as never);
          }
          void now.commit();
        }
      };
      this.history.push({ label, undo: () => put('from'), redo: () => put('to') });
    }
    for (const record of records) void record.commit();
  }

  /** The plates that share the lock-off of one, and which of them are filmed. */
  lockOf(id: string) {
    return this.report?.locks.find((lock) => lock.plate_ids.includes(id)) ?? null;
  }

  #find(id: string) {
    return [this.shot, ...this.plates, ...this.standIns].find((record) => record.id === id);
  }

  /** Change one field and save at once. */
  change<T extends Revisioned, K extends keyof T & string>(
    record: SavedRecord<T>,
    field: K,
    value: T[K],
    label: string,
  ) {
    this.live(record, field, value);
    this.commit(record, label);
  }

  /** Apply a remedy: decisions of the plate, the shot and its things in one step. */
  apply(plate: SavedRecord<Plate>, remedy: Schemas['Remedy']) {
    const put = <T extends Revisioned>(record: SavedRecord<T>, changes: object, alone = false) => {
      for (const [field, value] of Object.entries(changes)) {
        const name = field as keyof T & string;
        if (alone) this.alone(record, name, value as never);
        else this.live(record, name, value as never);
      }
    };
    // What takes a plate back into its lock-off is its own: the others stay.
    put(plate, remedy.changes ?? {}, remedy.alone);
    put(this.shot, remedy.shot ?? {});
    for (const [id, changes] of Object.entries(remedy.things ?? {})) {
      const thing = this.standIns.find((s) => s.id === id);
      if (thing) put(thing, changes);
    }
    const all = [this.shot, ...this.plates, ...this.standIns];
    this.commitAll(all as unknown as SavedRecord<Revisioned>[], 'Remedy');
  }

  /** Live change of one field of one record, whatever it shares. */
  alone<T extends Revisioned, K extends keyof T & string>(
    record: SavedRecord<T>,
    field: K,
    value: T[K],
  ) {
    const key = `${record.id}.${field}`;
    if (!(key in this.#before)) this.#before[key] = record.draft[field];
    record.set(field, value);
  }

  /** Take several decisions of a plate in one step. */
  decide(plate: SavedRecord<Plate>, changes: Record<string, unknown>, label: string) {
    for (const [field, value] of Object.entries(changes)) {
      this.live(plate, field as keyof Plate & string, value as never);
    }
    this.commit(plate, label);
  }

  /** Move a stand-in on the ground of the world. */
  move(id: string, right: number, away: number) {
    const record = this.standIns.find((s) => s.id === id);
    if (!record) return;
    this.dragging = true;
    const { x_m = 0, y_m = 5 } = record.draft;
    this.live(record, 'x_m', Math.round((x_m + right) * 1e4) / 1e4);
    this.live(record, 'y_m', Math.max(0.05, Math.round((y_m + away) * 1e4) / 1e4));
  }

  /** A drag of a stand-in has ended: to the centimetre, and saved. */
  drop(id: string) {
    const record = this.standIns.find((s) => s.id === id);
    this.dragging = false;
    if (!record) return;
    this.live(record, 'x_m', Math.round((record.draft.x_m ?? 0) * 100) / 100);
    this.live(record, 'y_m', Math.max(0.05, Math.round((record.draft.y_m ?? 5) * 100) / 100));
    this.commit(record, `Move ${record.draft.name}`);
  }

  #ownOf(plate: string) {
    return this.standIns.filter((s) => s.draft.plate_id === plate);
  }

  /** Move all things of a plate nearer or farther in the world. */
  shift(plate: string, away: number) {
    this.dragging = true;
    const own = this.#ownOf(plate);
    // Together or not at all: none may pass the camera.
    const nearest = Math.min(...own.map((s) => s.draft.y_m ?? 5));
    const step = Math.max(away, 0.05 - nearest);
    for (const record of own) {
      this.live(record, 'y_m', Math.round(((record.draft.y_m ?? 5) + step) * 1e4) / 1e4);
    }
  }

  shifted(plate: string) {
    this.dragging = false;
    const own = this.#ownOf(plate);
    for (const record of own) {
      this.live(record, 'y_m', Math.max(0.05, Math.round((record.draft.y_m ?? 5) * 100) / 100));
    }
    const name = this.plates.find((p) => p.id === plate)?.draft.name ?? 'a plate';
    this.commitAll(own as unknown as SavedRecord<Revisioned>[], `Move ${name}`);
  }

  /** Focus at a distance in the world. */
  focus(plate: SavedRecord<Plate>, metres: number) {
    this.dragging = true;
    this.live(plate, 'focus_world_m', Math.max(0.01, Number(metres.toPrecision(6))));
  }

  focused(plate: SavedRecord<Plate>) {
    this.dragging = false;
    this.commit(plate, 'Focus');
  }

  /** Move a lamp of a plate by stage metres. */
  moveLamp(plate: SavedRecord<Plate>, index: number, right: number, away: number, up: number) {
    this.dragging = true;
    const fine = (v: number) => Math.round(v * 1e4) / 1e4;
    const lamps = ($state.snapshot(plate.draft.lamps ?? []) as Schemas['LampPlace'][]).map(
      (lamp, i) =>
        i === index
          ? {
              ...lamp,
              x_m: fine(lamp.x_m + right),
              y_m: fine(lamp.y_m + away),
              z_m: fine(lamp.z_m + up),
            }
          : lamp,
    );
    this.live(plate, 'lamps', lamps);
  }

  lampMoved(plate: SavedRecord<Plate>) {
    this.dragging = false;
    this.commit(plate, 'Move a lamp');
  }

  /** Raise or lower the world camera so that this stage's axis moves by `dv` metres. */
  raise(dv: number) {
    this.dragging = true;
    const scale = this.plate?.draft.scale ?? 1;
    const now = this.shot.draft.camera_height_m ?? 1.5;
    this.live(
      this.shot,
      'camera_height_m',
      Math.max(0, Math.round((now + dv * scale) * 1e4) / 1e4),
    );
  }

  raised() {
    this.dragging = false;
    const now = this.shot.draft.camera_height_m ?? 1.5;
    this.live(this.shot, 'camera_height_m', Math.round(now * 100) / 100);
    this.commit(this.shot, 'Camera height');
  }

  // --- making and removing -----------------------------------------------------------------

  /**
   * Making and removing happen one after the other: a stand-in added right after a plate belongs
   * to that plate, however slow the first answer is.
   */
  #attempt(work: () => Promise<void>): Promise<void> {
    this.#queue = this.#queue.then(async () => {
      this.notice = '';
      try {
        await work();
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        this.notice = error.message;
      }
    });
    return this.#queue;
  }

  async #postPlate(whole: Omit<Plate, 'revision'>) {
    // What the recipe and the takes bring is the server's to say.
    const plate: Partial<Plate> & Pick<Plate, 'name' | 'kind'> = { ...whole };
    delete plate.recipe_hazards;
    delete plate.recipe_right;
    delete plate.filmed;
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/shots/{shot_id}/plates', {
        params: { path: { production_id: this.productionId, shot_id: this.shotId } },
        body: plate as never,
      }),
    );
    const rest = this.plates.filter((p) => p.id !== made.id);
    this.plates = [...rest, this.#plateRecord(made)].sort(
      (a, b) => (a.draft.position ?? 0) - (b.draft.position ?? 0),
    );
    this.selected = made.id;
    this.standIn = null;
  }

  async #deletePlate(id: string) {
    await ask(() =>
      api.DELETE('/api/productions/{production_id}/plates/{pk}', {
        params: { path: { production_id: this.productionId, pk: id } },
      }),
    );
    this.plates.find((p) => p.id === id)?.dispose();
    this.plates = this.plates.filter((p) => p.id !== id);
    if (this.selected === id) this.selected = WORLD;
  }

  addPlate(kind: Plate['kind']) {
    const position = Math.max(0, ...this.plates.map((p) => p.draft.position ?? 0)) + 1;
    const plate = {
      id: crypto.randomUUID(),
      kind,
      ...NEW_PLATE[kind],
      position,
    } as Omit<Plate, 'revision'>;
    return this.#attempt(async () => {
      await this.#postPlate(plate);
      this.history.push({
        label: `Add ${plate.name}`,
        undo: () => void this.#attempt(() => this.#deletePlate(plate.id)),
        redo: () => void this.#attempt(() => this.#postPlate(plate)),
      });
    });
  }

  removePlate(record: SavedRecord<Plate>) {
    const plate = $state.snapshot(record.draft) as Plate;
    const own = this.standIns.filter((s) => s.draft.plate_id === plate.id).map((s) => s.id);
    const restore = async () => {
      await this.#postPlate(bare(plate));
      for (const standIn of this.standIns.filter((s) => own.includes(s.id))) {
        standIn.set('plate_id', plate.id);
        void standIn.commit();
      }
    };
    const remove = async () => {
      await this.#deletePlate(plate.id);
      await this.#reloadStandIns();
    };
    return this.#attempt(async () => {
      await remove();
      this.history.push({
        label: `Remove ${plate.name}`,
        undo: () => void this.#attempt(restore),
        redo: () => void this.#attempt(remove),
      });
    });
  }

  /** Removing a plate turns its stand-ins into scenery on the server; follow it. */
  async #reloadStandIns() {
    const whole = await ask(() =>
      api.GET('/api/productions/{production_id}/shots/{pk}', {
        params: { path: { production_id: this.productionId, pk: this.shotId } },
      }),
    );
    this.standIns = whole.stand_ins.map((s) => this.#standInRecord(s));
  }

  async #postStandIn(standIn: Omit<StandIn, 'revision'>) {
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/shots/{shot_id}/stand-ins', {
        params: { path: { production_id: this.productionId, shot_id: this.shotId } },
        body: standIn,
      }),
    );
    this.standIns = [...this.standIns.filter((s) => s.id !== made.id), this.#standInRecord(made)];
    this.standIn = made.id;
  }

  async #deleteStandIn(id: string) {
    await ask(() =>
      api.DELETE('/api/productions/{production_id}/stand-ins/{pk}', {
        params: { path: { production_id: this.productionId, pk: id } },
      }),
    );
    this.standIns.find((s) => s.id === id)?.dispose();
    this.standIns = this.standIns.filter((s) => s.id !== id);
    if (this.standIn === id) this.standIn = null;
  }

  addStandIn(kind: StandIn['kind']) {
    return this.#attempt(async () => {
      const standIn = {
        id: crypto.randomUUID(),
        kind,
        x_m: 0,
        y_m: 6,
        plate_id: this.plate?.id ?? null,
        ...NEW_STAND_IN[kind],
      } as Omit<StandIn, 'revision'>;
      await this.#postStandIn(standIn);
      this.history.push({
        label: `Add ${standIn.name}`,
        undo: () => void this.#attempt(() => this.#deleteStandIn(standIn.id)),
        redo: () => void this.#attempt(() => this.#postStandIn(standIn)),
      });
    });
  }

  removeStandIn(record: SavedRecord<StandIn>) {
    const values = bare($state.snapshot(record.draft) as StandIn);
    return this.#attempt(async () => {
      await this.#deleteStandIn(values.id);
      this.history.push({
        label: `Remove ${values.name}`,
        undo: () => void this.#attempt(() => this.#postStandIn(values)),
        redo: () => void this.#attempt(() => this.#deleteStandIn(values.id)),
      });
    });
  }

  dispose() {
    this.left = true;
    for (const record of [this.shot, ...this.plates, ...this.standIns]) record?.dispose();
  }
}
