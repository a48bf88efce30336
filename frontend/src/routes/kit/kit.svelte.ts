/** The kit of a production as it is edited. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { History } from '../../lib/edit/history.svelte';
import type { SavedRecord } from '../../lib/edit/record.svelte';
import { FORMATS, NEW_LAMP, NEW_ROOM, RIGS, ROOMS } from './fields';
import type { CLOTHS, CORDS, SUPPORTS } from './grip';
import { Shelf, undoable, type Book } from './shelf.svelte';

export type Body = Schemas['BodyOut'];
export type Mode = Schemas['ModeOut'];
export type Lens = Schemas['LensOut'];
export type Lamp = Schemas['LampOut'];
export type Room = Schemas['RoomOut'];
export type Rig = Schemas['RigOut'];
export type Support = Schemas['SupportOut'];
export type Cloth = Schemas['ClothOut'];
export type Cord = Schemas['CordOut'];
export type Person = Schemas['PersonOut'];
export type Role = NonNullable<Person['roles']>[number];
export type BodyEntry = { record: SavedRecord<Body>; modes: SavedRecord<Mode>[] };

export class KitBook implements Book {
  production = $state.raw<Schemas['ProductionOut'] | null>(null);
  bodies = $state.raw<BodyEntry[]>([]);
  problem = $state('');
  /** Changes of numbers and words; what is removed asks first and does not come back. */
  readonly history = new History();

  readonly lenses = new Shelf<Lens, void>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/lenses/{pk}', { params: this.#path(pk), body }),
    make: () =>
      api.POST('/api/productions/{production_id}/lenses', {
        params: this.#all,
        body: {
          id: crypto.randomUUID(),
          name: '35 mm prime',
          focal_min_mm: 35,
          focal_max_mm: 35,
          widest_stop: 2,
          smallest_stop: 22,
          close_focus_m: 0.35,
          t_over_f: 1,
          pupil_ratio: 1,
          borrowed: false,
          measured: [],
        },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/lenses/{pk}', { params: this.#path(pk) }),
  });
  readonly lamps = new Shelf<Lamp, void>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/lamps/{pk}', { params: this.#path(pk), body }),
    make: () =>
      api.POST('/api/productions/{production_id}/lamps', {
        params: this.#all,
        body: { id: crypto.randomUUID(), name: 'LED panel', ...NEW_LAMP },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/lamps/{pk}', { params: this.#path(pk) }),
  });
  readonly rooms = new Shelf<Room, (typeof ROOMS)[number]>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/rooms/{pk}', { params: this.#path(pk), body }),
    make: (of) =>
      api.POST('/api/productions/{production_id}/rooms', {
        params: this.#all,
        body: { id: crypto.randomUUID(), ...NEW_ROOM, ...this.#place, ...of },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/rooms/{pk}', { params: this.#path(pk) }),
  });
  readonly rigs = new Shelf<Rig, (typeof RIGS)[number]>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/rigs/{pk}', { params: this.#path(pk), body }),
    make: (of) =>
      api.POST('/api/productions/{production_id}/rigs', {
        params: this.#all,
        body: { id: crypto.randomUUID(), borrowed: false, backlash: 0, ...of },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/rigs/{pk}', { params: this.#path(pk) }),
  });
  readonly supports = new Shelf<Support, (typeof SUPPORTS)[number]>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/supports/{pk}', { params: this.#path(pk), body }),
    make: (of) =>
      api.POST('/api/productions/{production_id}/supports', {
        params: this.#all,
        body: { id: crypto.randomUUID(), borrowed: false, slide_mm: 0, lifts: false, ...of },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/supports/{pk}', { params: this.#path(pk) }),
  });
  readonly cloths = new Shelf<Cloth, (typeof CLOTHS)[number]>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/cloths/{pk}', { params: this.#path(pk), body }),
    make: (of) =>
      api.POST('/api/productions/{production_id}/cloths', {
        params: this.#all,
        body: { id: crypto.randomUUID(), borrowed: false, stiff: false, ...of },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/cloths/{pk}', { params: this.#path(pk) }),
  });
  readonly cords = new Shelf<Cord, (typeof CORDS)[number]>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/cords/{pk}', { params: this.#path(pk), body }),
    make: (of) =>
      api.POST('/api/productions/{production_id}/cords', {
        params: this.#all,
        body: { id: crypto.randomUUID(), borrowed: false, ...of },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/cords/{pk}', { params: this.#path(pk) }),
  });
  readonly people = new Shelf<Person, { name: Role }>(this, {
    save: (pk, body) =>
      api.PATCH('/api/productions/{production_id}/persons/{pk}', { params: this.#path(pk), body }),
    make: (of) =>
      api.POST('/api/productions/{production_id}/persons', {
        params: this.#all,
        body: {
          id: crypto.randomUUID(),
          name: `New ${of.name}`,
          borrowed: false,
          height_m: 1.7,
          roles: [of.name],
        },
      }),
    remove: (pk) =>
      api.DELETE('/api/productions/{production_id}/persons/{pk}', { params: this.#path(pk) }),
  });

  constructor(readonly productionId: string) {}

  get editable() {
    return this.production !== null && this.production.role !== 'viewer';
  }

  get #all() {
    return { path: { production_id: this.productionId } };
  }

  #path(pk: string) {
    return { path: { production_id: this.productionId, pk } };
  }

  /** Where the production is filmed, for a new room that stands there. */
  get #place() {
    const about = this.production;
    return {
      latitude_deg: about?.latitude_deg ?? null,
      longitude_deg: about?.longitude_deg ?? null,
      time_zone: about?.time_zone || NEW_ROOM.time_zone,
    };
  }

  attempt(work: () => Promise<void>) {
    this.problem = '';
    return work().catch((error: unknown) => {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
    });
  }

  load() {
    const params = this.#all;
    return this.attempt(async () => {
      const [production, kit] = await Promise.all([
        ask(() => api.GET('/api/productions/{production_id}', { params })),
        ask(() => api.GET('/api/productions/{production_id}/kit', { params })),
      ]);
      this.production = production;
      this.bodies = kit.bodies.map((body) => this.#body(body));
      this.lenses.fill(kit.lenses);
      this.lamps.fill(kit.lamps);
      this.rooms.fill(kit.rooms);
      this.rigs.fill(kit.rigs);
      this.supports.fill(kit.supports);
      this.cloths.fill(kit.cloths);
      this.cords.fill(kit.cords);
      this.people.fill(kit.people);
    });
  }

  #body(body: Body): BodyEntry {
    const record = undoable<Body>(this, body, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/bodies/{pk}', {
          params: this.#path(body.id),
          // Modes are records of their own and never travel with their body.
          body: { ...changes, revision, modes: undefined },
        }),
      ),
    );
    return { record, modes: body.modes.map((mode) => this.#mode(mode)) };
  }

  #mode(mode: Mode) {
    return undoable<Mode>(this, mode, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/modes/{pk}', {
          params: this.#path(mode.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  addBody() {
    return this.attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/bodies', {
          params: this.#all,
          body: {
            id: crypto.randomUUID(),
            name: 'New body',
            axis_height_mm: 80,
            flange_mm: 20,
            stabiliser: true,
            remote: true,
            note: '',
            borrowed: false,
          },
        }),
      );
      this.bodies = [...this.bodies, this.#body(made)];
    });
  }

  addMode(owner: BodyEntry, format: (typeof FORMATS)[number]) {
    return this.attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/bodies/{body_id}/modes', {
          params: { path: { production_id: this.productionId, body_id: owner.record.id } },
          body: {
            ...format,
            id: crypto.randomUUID(),
            name: `${format.name}, ${format.width_px} × ${format.height_px}`,
            min_fps: 24,
            max_fps: 60,
            long_gop: false,
            codec: '',
            bit_depth: 8,
            subsampling: '4:2:0',
            base_iso: 400,
            min_iso: 100,
            max_iso: 6400,
          },
        }),
      );
      const modes = [...owner.modes, this.#mode(made)];
      this.bodies = this.bodies.map((b) => (b === owner ? { ...b, modes } : b));
    });
  }

  removeBody(entry: BodyEntry) {
    return this.attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/bodies/{pk}', {
          params: this.#path(entry.record.id),
        }),
      );
      this.bodies = this.bodies.filter((b) => b !== entry);
      for (const gone of [entry.record, ...entry.modes]) this.history.forget(gone.id);
    });
  }

  removeMode(owner: BodyEntry, mode: SavedRecord<Mode>) {
    return this.attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/modes/{pk}', { params: this.#path(mode.id) }),
      );
      const modes = owner.modes.filter((m) => m !== mode);
      this.history.forget(mode.id);
      this.bodies = this.bodies.map((b) => (b === owner ? { ...b, modes } : b));
    });
  }
}
