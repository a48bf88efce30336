/** Plates and stand-ins made and removed, each a step that undo takes back. */

import { Failure } from '../api/client';
import type { SavedRecord } from '../edit/record.svelte';
import type { OpenShot } from './open-shot.svelte';
import {
  bare,
  NEW_PLATE,
  NEW_STAND_IN,
  newScreen,
  WORLD,
  type Plate,
  type Shot,
  type StandIn,
} from './plan';
import { inWorld, newView, type View } from './views';

export class Making {
  #queue: Promise<void> = Promise.resolve();

  constructor(readonly shot: OpenShot) {}

  /**
   * Making and removing happen one after the other: a stand-in added right after a plate belongs
   * to that plate, however slow the first answer is.
   */
  #attempt(work: () => Promise<void>): Promise<void> {
    this.#queue = this.#queue.then(async () => {
      this.shot.notice = '';
      try {
        await work();
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        this.shot.notice = error.message;
      }
    });
    return this.#queue;
  }

  async #postPlate(whole: Omit<Plate, 'revision'>) {
    const made = await this.shot.stored.makePlate(whole);
    const rest = this.shot.allPlates.filter((p) => p.id !== made.id);
    this.shot.allPlates = [...rest, made].sort(
      (a, b) => (a.draft.position ?? 0) - (b.draft.position ?? 0),
    );
    this.shot.selected = made.id;
    this.shot.standIn = null;
  }

  async #deletePlate(id: string) {
    await this.shot.stored.removePlate(id);
    this.shot.allPlates.find((p) => p.id === id)?.dispose();
    this.shot.allPlates = this.shot.allPlates.filter((p) => p.id !== id);
    if (this.shot.selected === id) this.shot.selected = WORLD;
  }

  addPlate(kind: Plate['kind']) {
    const position = Math.max(0, ...this.shot.allPlates.map((p) => p.draft.position ?? 0)) + 1;
    const plate = {
      id: crypto.randomUUID(),
      kind,
      ...NEW_PLATE[kind],
      ...(kind === 'screen' ? newScreen(this.shot.kit) : {}),
      position,
      view_id: this.shot.view?.id ?? null,
    } as Omit<Plate, 'revision'>;
    return this.#attempt(async () => {
      await this.#postPlate(plate);
      this.shot.history.push({
        label: `Add ${plate.name}`,
        undo: () => void this.#attempt(() => this.#deletePlate(plate.id)),
        redo: () => void this.#attempt(() => this.#postPlate(plate)),
      });
    });
  }

  /** A plate goes with what it films, and comes back with it. */
  removePlate(record: SavedRecord<Plate>) {
    const plate = $state.snapshot(record.draft) as Plate;
    const things = this.shot.allStandIns.map((s) => $state.snapshot(s.draft) as StandIn);
    const own = things.filter((s) => s.plate_id === plate.id);
    const ids = own.map((s) => s.id);
    const watching = things.filter((s) => ids.includes(s.looks_at_id ?? ''));
    const restore = async () => {
      await this.#postPlate(bare(plate));
      for (const thing of own) {
        // What one of them looks at may come back after it.
        await this.#postStandIn({ ...bare(thing), looks_at_id: null });
      }
      for (const { id, looks_at_id } of watching) {
        const thing = this.shot.allStandIns.find((s) => s.id === id);
        thing?.set('looks_at_id', looks_at_id);
        await thing?.commit();
      }
      this.shot.standIn = null;
    };
    const remove = async () => {
      await this.#deletePlate(plate.id);
      for (const thing of this.shot.allStandIns) if (ids.includes(thing.id)) thing.dispose();
      const rest = this.shot.allStandIns.filter((s) => !ids.includes(s.id));
      if (ids.includes(this.shot.standIn ?? '')) this.shot.standIn = null;
      this.shot.allStandIns = rest;
      if (watching.length > 0) await this.#reloadStandIns();
    };
    return this.#attempt(async () => {
      await remove();
      this.shot.history.push({
        label: `Remove ${plate.name}`,
        undo: () => void this.#attempt(restore),
        redo: () => void this.#attempt(remove),
      });
    });
  }

  /** Who looked at something that went looks nowhere on the server; follow it. */
  async #reloadStandIns() {
    const whole = await this.shot.stored.whole();
    this.shot.allStandIns = whole.stand_ins.map((s) => this.shot.stored.standIn(s));
  }

  async #postStandIn(standIn: Omit<StandIn, 'revision'>) {
    const made = await this.shot.stored.makeStandIn(standIn);
    this.shot.allStandIns = [...this.shot.allStandIns.filter((s) => s.id !== made.id), made];
    this.shot.standIn = made.id;
  }

  async #deleteStandIn(id: string) {
    await this.shot.stored.removeStandIn(id);
    this.shot.allStandIns.find((s) => s.id === id)?.dispose();
    this.shot.allStandIns = this.shot.allStandIns.filter((s) => s.id !== id);
    if (this.shot.standIn === id) this.shot.standIn = null;
  }

  addStandIn(kind: StandIn['kind']) {
    return this.#attempt(async () => {
      const view = this.shot.view;
      const [right, away] = inWorld(view, 0, 6);
      const standIn = {
        id: crypto.randomUUID(),
        kind,
        x_m: (view?.stands_right_m ?? 0) + right,
        y_m: (view?.stands_ahead_m ?? 0) + away,
        plate_id: this.shot.plate?.id ?? null,
        ...NEW_STAND_IN[kind],
      } as Omit<StandIn, 'revision'>;
      await this.#postStandIn(standIn);
      this.shot.history.push({
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
      this.shot.history.push({
        label: `Remove ${values.name}`,
        undo: () => void this.#attempt(() => this.#postStandIn(values)),
        redo: () => void this.#attempt(() => this.#deleteStandIn(values.id)),
      });
    });
  }

  /** One more camera, beginning as the one in hand. */
  addView() {
    const { whole } = this.shot;
    const now = $state.snapshot(whole.draft) as Shot;
    const made = newView(now, now.views?.find((view) => view.id === this.shot.viewId) ?? null);
    this.shot.change(whole, 'views', [...(now.views ?? []), made], `Add ${made.name}`);
    this.shot.look(made.id);
  }

  /** Take a camera away that no plate is a piece of. */
  removeView(id: string) {
    const { whole } = this.shot;
    const views = $state.snapshot(whole.draft.views ?? []) as View[];
    const name = views.find((view) => view.id === id)?.name ?? 'a view';
    this.shot.look(null);
    this.shot.change(
      whole,
      'views',
      views.filter((view) => view.id !== id),
      `Remove ${name}`,
    );
  }
}
