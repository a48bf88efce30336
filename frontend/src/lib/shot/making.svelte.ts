/** Plates and stand-ins made and removed, each a step that undo takes back. */

import { Failure } from '../api/client';
import type { SavedRecord } from '../edit/record.svelte';
import type { OpenShot } from './open-shot.svelte';
import { bare, NEW_PLATE, NEW_STAND_IN, WORLD, type Plate, type StandIn } from './plan';

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
    const rest = this.shot.plates.filter((p) => p.id !== made.id);
    this.shot.plates = [...rest, made].sort(
      (a, b) => (a.draft.position ?? 0) - (b.draft.position ?? 0),
    );
    this.shot.selected = made.id;
    this.shot.standIn = null;
  }

  async #deletePlate(id: string) {
    await this.shot.stored.removePlate(id);
    this.shot.plates.find((p) => p.id === id)?.dispose();
    this.shot.plates = this.shot.plates.filter((p) => p.id !== id);
    if (this.shot.selected === id) this.shot.selected = WORLD;
  }

  addPlate(kind: Plate['kind']) {
    const position = Math.max(0, ...this.shot.plates.map((p) => p.draft.position ?? 0)) + 1;
    const plate = {
      id: crypto.randomUUID(),
      kind,
      ...NEW_PLATE[kind],
      position,
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

  removePlate(record: SavedRecord<Plate>) {
    const plate = $state.snapshot(record.draft) as Plate;
    const own = this.shot.standIns.filter((s) => s.draft.plate_id === plate.id).map((s) => s.id);
    const restore = async () => {
      await this.#postPlate(bare(plate));
      for (const standIn of this.shot.standIns.filter((s) => own.includes(s.id))) {
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
      this.shot.history.push({
        label: `Remove ${plate.name}`,
        undo: () => void this.#attempt(restore),
        redo: () => void this.#attempt(remove),
      });
    });
  }

  /** Removing a plate turns its stand-ins into scenery on the server; follow it. */
  async #reloadStandIns() {
    const whole = await this.shot.stored.whole();
    this.shot.standIns = whole.stand_ins.map((s) => this.shot.stored.standIn(s));
  }

  async #postStandIn(standIn: Omit<StandIn, 'revision'>) {
    const made = await this.shot.stored.makeStandIn(standIn);
    this.shot.standIns = [...this.shot.standIns.filter((s) => s.id !== made.id), made];
    this.shot.standIn = made.id;
  }

  async #deleteStandIn(id: string) {
    await this.shot.stored.removeStandIn(id);
    this.shot.standIns.find((s) => s.id === id)?.dispose();
    this.shot.standIns = this.shot.standIns.filter((s) => s.id !== id);
    if (this.shot.standIn === id) this.shot.standIn = null;
  }

  addStandIn(kind: StandIn['kind']) {
    return this.#attempt(async () => {
      const standIn = {
        id: crypto.randomUUID(),
        kind,
        x_m: 0,
        y_m: 6,
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
}
