/**
 * The state of one open shot: its records, its kit, what is selected, and the computed report,
 * which follows every change of a draft.
 */

import { Failure, type Schemas } from '../api/client';
import { History } from '../edit/history.svelte';
import { same } from '../edit/merge';
import { LATER, newest } from '../edit/newest';
import { SavedRecord, type Editing, type Revisioned } from '../edit/record.svelte';
import { units } from '../units.svelte';
import { Asking, joined } from './asking';
import { Drags } from './drags.svelte';
import { LockOffs } from './lockoffs.svelte';
import { Making } from './making.svelte';
import {
  NO_KIT,
  planOf,
  question,
  WORLD,
  type Kit,
  type Plate,
  type Shot,
  type StandIn,
} from './plan';
import { StoredShot } from './stored';
import { ViewRecord } from './view-record.svelte';

/** Whether a plate has all that a picture is taken with. */
const hasGlass = ({ body_id, mode_id, lens_id }: Plate) => Boolean(body_id && mode_id && lens_id);

/** What can be saved, whatever is in it. */
type Committed = { readonly id: string; readonly draft: object; commit(): unknown };

export class OpenShot {
  /** The shot itself; `shot` is what the view in hand makes of it. */
  whole = $state.raw() as SavedRecord<Shot>;
  /** Plates and stand-ins of every view; `plates` and `standIns` are those of the view in hand. */
  allPlates = $state.raw<SavedRecord<Plate>[]>([]);
  allStandIns = $state.raw<SavedRecord<StandIn>[]>([]);
  /** The further view in hand; null: the first camera. */
  viewId = $state<string | null>(null);
  kit = $state.raw<Kit>(NO_KIT);
  /** What its lock-offs have in other shots, and in other views of this one. */
  beside = $state.raw<Schemas['PlanBeside'][]>([]);
  production = $state.raw() as Schemas['ProductionOut'];
  report = $state.raw<Schemas['ShotAnswer'] | null>(null);
  /** The plan that the report tells of, as text: another tab asks for more of the same plan. */
  told = $state.raw('');
  /** Why the present numbers cannot be computed; the last good report stays. */
  trouble = $state('');
  /** Why the last thing tried did not work. */
  notice = $state('');
  selected = $state<string>(WORLD);
  standIn = $state<string | null>(null);
  /** Whether the report is asked for a map of the light, for drawings of the stage, and for the
   * tables beside them: for what is on the screen. */
  mapped = $state(false);
  drawn = $state(true);
  studied = $state(false);
  /** Whether the Frame shows tones. */
  toned = $state(false);
  dragging = $state(false);
  /** The part (0..1) of the screen time that the pictures show. */
  at = $state(0);
  readonly history = new History();
  readonly stored: StoredShot;
  readonly drags = new Drags(this);
  readonly making = new Making(this);
  readonly lockoffs = new LockOffs(this);
  /** Where each unsaved field began, by `id.field`; nothing on the screen reads it. */
  #before: Record<string, unknown> = {};

  constructor(
    readonly productionId: string,
    readonly shotId: string,
  ) {
    this.stored = new StoredShot(productionId, shotId, () => void this.lockoffs.renew());
  }

  get editable() {
    return this.production.role !== 'viewer';
  }
  /** The further cameras of the shot. */
  get views() {
    return this.whole.draft.views ?? [];
  }
  /** The further view in hand; null for the first camera, and when it is gone. */
  get view() {
    return this.views.find((view) => view.id === this.viewId) ?? null;
  }
  /** The shot as the view in hand has it: its camera, its time, its picture. */
  get shot(): Editing<Shot> {
    return this.view ? new ViewRecord(this.whole, this.view.id) : this.whole;
  }
  readonly plates = $derived.by(() => {
    const known = this.views.map((view) => view.id);
    const own = this.view?.id ?? null;
    return this.allPlates.filter(({ draft }) => {
      const id = draft.view_id ?? null;
      return (id !== null && known.includes(id) ? id : null) === own;
    });
  });
  /** What stands before the camera in hand: what its plates film, and scenery. */
  readonly standIns = $derived.by(() => {
    const here = this.plates.map((plate) => plate.id);
    const filmed = this.allPlates.map((plate) => plate.id);
    return this.allStandIns.filter(({ draft }) => {
      const id = draft.plate_id ?? null;
      return id === null || here.includes(id) || !filmed.includes(id);
    });
  });
  /** Take another view in hand. */
  look(viewId: string | null) {
    this.viewId = viewId;
    this.at = 0;
    this.standIn = null;
    this.selected = WORLD;
  }
  /** Whether the story's camera pans or tilts. */
  get turns() {
    const { move_pan_deg, move_tilt_deg } = this.shot.draft;
    return Boolean(move_pan_deg || move_tilt_deg);
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
  /** The frame that the pictures show, from 1. */
  get frame() {
    return 1 + Math.round(this.at * (this.frames - 1));
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
      (this.shot.draft.move_zoom ?? 1) !== 1 ||
      this.standIns.some((s) => s.draft.speed_m_s)
    );
  }
  get names(): Record<string, string> {
    return Object.fromEntries(this.standIns.map((s) => [s.id, s.draft.name]));
  }

  async load() {
    const [production, whole, kit] = await this.stored.everything();
    this.production = production;
    this.kit = kit;
    this.beside = whole.beside;
    this.whole = this.stored.shot(whole.shot);
    this.allPlates = whole.plates.map((p) => this.stored.plate(p));
    this.allStandIns = whole.stand_ins.map((s) => this.stored.standIn(s));
    this.selected = this.plates[0]?.id ?? WORLD;
  }

  // --- computing -------------------------------------------------------------------------

  /** Everything the report depends on; reading it in an effect follows every draft. */
  question() {
    return question(
      // Of the other views nothing is asked.
      { ...($state.snapshot(this.whole.draft) as Shot), views: this.view ? [this.view] : [] },
      this.plates.map((p) => $state.snapshot(p.draft) as Plate),
      this.standIns.map((s) => $state.snapshot(s.draft) as StandIn),
      this.kit,
      this.#besideView(),
      {
        remedies: false,
        study: this.studied && !this.dragging,
        drawings: this.drawn,
        // While something is dragged only the plate in hand follows; the others when it rests.
        others: !this.dragging || this.plate === null,
        workings: this.dragging ? 'none' : 'selected',
        at: this.moving ? this.at : 0,
        selected: this.plate?.id ?? null,
        view_id: this.view?.id ?? null,
        light_map: this.mapped,
        tone: this.toned,
        notation: units.asked,
      },
    );
  }

  /** What is beside the view in hand: its own plates are not. */
  #besideView() {
    const own = this.view?.id ?? null;
    return this.beside.filter((one) => !one.here || (one.plate.view_id ?? null) !== own);
  }

  /** The plan alone, as the calculators of one plate take it. */
  plan() {
    return planOf(this.question());
  }

  readonly #asking = new Asking();
  /** Ask for the report. */
  readonly compute = newest(async () => {
    try {
      const asked = this.question();
      const found = await this.#asking.ask(asked);
      this.report = joined(this.report, found, asked.others);
      this.told = JSON.stringify(planOf(asked));
      this.trouble = '';
      this.#house(found);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.trouble = error.message;
      if (error.passing && !this.left) return LATER;
    }
  });

  // --- editing ---------------------------------------------------------------------------

  /** Live change of one field; remembers where it began for undo. */
  live<T extends Revisioned, K extends keyof T & string>(
    record: Editing<T>,
    field: K,
    value: T[K],
  ) {
    for (const one of this.#together(record, field)) this.alone(one, field, value);
  }

  /** What changes with a record: plates of one lock-off share every locked decision. */
  #together<T extends Revisioned>(record: Editing<T>, field?: string): Editing<T>[] {
    const plate = this.plates.find((p) => p.id === record.id);
    const group = plate?.draft.lock_group;
    if (!group || (field !== undefined && !(this.report?.locked ?? []).includes(field))) {
      return [record];
    }
    const others = this.plates.filter(
      (p) =>
        p !== plate &&
        p.draft.lock_group === group &&
        // What a pass is for may keep a decision to itself: its focus, say.
        (field === undefined ||
          ![plate, p].some((one) =>
            this.report?.unshared[one.draft.pass_for ?? '']?.includes(field),
          )),
    );
    return [record, ...(others as unknown as Editing<T>[])];
  }

  /** The change is complete: one step for undo, and save. */
  commit<T extends Revisioned>(record: Editing<T>, label: string) {
    this.commitAll(this.#together(record), label);
  }

  /** Changes of several records are complete: one step for undo, and save each. */
  commitAll(records: readonly Committed[], label: string) {
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
          const now = this.#find(id) as Editing<Revisioned> | undefined;
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
    const view = this.views.find((one) => one.id === id);
    if (view) return new ViewRecord(this.whole, id);
    return [this.whole, ...this.allPlates, ...this.allStandIns].find((record) => record.id === id);
  }

  /** Change one field and save at once. */
  change<T extends Revisioned, K extends keyof T & string>(
    record: Editing<T>,
    field: K,
    value: T[K],
    label: string,
  ) {
    this.live(record, field, value);
    this.commit(record, label);
  }

  /** Apply a remedy: decisions of the plate, the shot and its things in one step. */
  apply(plate: SavedRecord<Plate>, remedy: Schemas['Remedy']) {
    const put = <T extends Revisioned>(record: Editing<T>, changes: object, alone = false) => {
      for (const [field, value] of Object.entries(changes)) {
        const name = field as keyof T & string;
        if (alone) this.alone(record, name, value);
        else this.live(record, name, value);
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
    this.commitAll(all, 'Remedy');
  }

  /** Live change of one field of one record, whatever it shares. */
  alone<T extends Revisioned, K extends keyof T & string>(
    record: Editing<T>,
    field: K,
    value: T[K],
  ) {
    const key = `${record.id}.${field}`;
    if (!(key in this.#before)) this.#before[key] = record.draft[field];
    record.set(field, value);
  }

  /** Choose body, mode or lens of a plate by hand. With the last of them it can be told where there
   * is room for its stage: the place is chosen too where only one will do. */
  chooseGlass(plate: SavedRecord<Plate>, changes: Partial<Plate>, label: string) {
    const before = hasGlass(plate.draft);
    this.decide(plate, changes, label);
    const { room_id, lock_group } = plate.draft;
    // A lock-off has one place for all its plates, which one of them does not choose by the way.
    const asks = !before && hasGlass(plate.draft) && !room_id && !lock_group;
    this.#unhoused = asks ? plate.id : null;
  }
  /** The plate whose glass was chosen last and which has no place yet. */
  #unhoused: string | null = null;

  #house(found: Schemas['ShotAnswer']) {
    const plate = this.plates.find((one) => one.id === this.#unhoused);
    const answer = found.plates.find((one) => one.plate_id === this.#unhoused);
    // An answer to what was asked before the last of the glass knows of no stage yet.
    if (!answer?.stage) return;
    this.#unhoused = null;
    const only = answer.unasked.find((one) => one.key === 'room')?.only_place;
    if (plate && only && !plate.draft.room_id) {
      this.change(plate, 'room_id', only, 'Room, the only one that fits');
    }
  }

  /** Take several decisions of a plate in one step. */
  decide(plate: SavedRecord<Plate>, changes: Record<string, unknown>, label: string) {
    for (const [field, value] of Object.entries(changes)) {
      this.live(plate, field as keyof Plate & string, value as never);
    }
    this.commit(plate, label);
  }

  dispose() {
    this.left = true;
    for (const record of [this.whole, ...this.allPlates, ...this.allStandIns]) record?.dispose();
  }
}
