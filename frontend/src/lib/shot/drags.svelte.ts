/**
 * What is dragged in the drawings: the numbers follow live while the finger is on it, and when it
 * lets go they are rounded as a tape reads, kept as one step for undo, and saved.
 */

import type { Schemas } from '../api/client';
import type { SavedRecord } from '../edit/record.svelte';
import type { OpenShot } from './open-shot.svelte';
import type { Plate, StandIn } from './plan';
import { ahead, inWorld } from './views';

export class Drags {
  constructor(readonly shot: OpenShot) {}

  /** Nothing is dragged through the lens of the camera in hand, metres. */
  #most(record: SavedRecord<StandIn>, away: number) {
    const { x_m = 0, y_m = 5 } = record.draft;
    return Math.max(away, 0.05 - ahead(this.shot.view, x_m, y_m));
  }

  #shove(record: SavedRecord<StandIn>, right: number, away: number) {
    const [dx, dy] = inWorld(this.shot.view, right, away);
    const { x_m = 0, y_m = 5 } = record.draft;
    this.shot.live(record, 'x_m', Math.round((x_m + dx) * 1e4) / 1e4);
    this.shot.live(record, 'y_m', Math.round((y_m + dy) * 1e4) / 1e4);
  }

  /** To the centimetre. */
  #settle(record: SavedRecord<StandIn>) {
    const { x_m = 0, y_m = 5 } = record.draft;
    this.shot.live(record, 'x_m', Math.round(x_m * 100) / 100);
    this.shot.live(record, 'y_m', Math.round(y_m * 100) / 100);
  }

  /** Move a stand-in on the ground, to the right of the camera in hand and away from it. */
  move(id: string, right: number, away: number) {
    const record = this.shot.standIns.find((s) => s.id === id);
    if (!record) return;
    this.shot.dragging = true;
    this.#shove(record, right, this.#most(record, away));
  }

  /** A drag of a stand-in has ended: to the centimetre, and saved. */
  drop(id: string) {
    const record = this.shot.standIns.find((s) => s.id === id);
    this.shot.dragging = false;
    if (!record) return;
    this.#settle(record);
    this.shot.commit(record, `Move ${record.draft.name}`);
  }

  #ownOf(plate: string) {
    return this.shot.standIns.filter((s) => s.draft.plate_id === plate);
  }

  /** Move all things of a plate nearer or farther in the world. */
  shift(plate: string, away: number) {
    this.shot.dragging = true;
    const own = this.#ownOf(plate);
    // Together or not at all: none may pass the camera.
    const step = Math.max(...own.map((record) => this.#most(record, away)));
    for (const record of own) this.#shove(record, 0, step);
  }

  shifted(plate: string) {
    this.shot.dragging = false;
    const own = this.#ownOf(plate);
    for (const record of own) this.#settle(record);
    const name = this.shot.plates.find((p) => p.id === plate)?.draft.name ?? 'a plate';
    this.shot.commitAll(own, `Move ${name}`);
  }

  /** Focus at a distance in the world. */
  focus(plate: SavedRecord<Plate>, metres: number) {
    this.shot.dragging = true;
    this.shot.live(plate, 'focus_world_m', Math.max(0.01, Number(metres.toPrecision(6))));
  }

  focused(plate: SavedRecord<Plate>) {
    this.shot.dragging = false;
    this.shot.commit(plate, 'Focus');
  }

  /** Move a lamp of a plate by stage metres. */
  moveLamp(plate: SavedRecord<Plate>, index: number, right: number, away: number, up: number) {
    this.shot.dragging = true;
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
    this.shot.live(plate, 'lamps', lamps);
  }

  lampMoved(plate: SavedRecord<Plate>) {
    this.shot.dragging = false;
    this.shot.commit(plate, 'Move a lamp');
  }

  /** Raise or lower the world camera so that this stage's axis moves by `dv` metres. */
  raise(dv: number) {
    this.shot.dragging = true;
    const scale = this.shot.plate?.draft.scale ?? 1;
    const now = this.shot.shot.draft.camera_height_m ?? 1.5;
    this.shot.live(
      this.shot.shot,
      'camera_height_m',
      Math.max(0, Math.round((now + dv * scale) * 1e4) / 1e4),
    );
  }

  raised() {
    this.shot.dragging = false;
    const now = this.shot.shot.draft.camera_height_m ?? 1.5;
    this.shot.live(this.shot.shot, 'camera_height_m', Math.round(now * 100) / 100);
    this.shot.commit(this.shot.shot, 'Camera height');
  }
}
