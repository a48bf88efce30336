/** The kit of a production as it is edited. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { History } from '../../lib/edit/history.svelte';
import { SavedRecord, type Revisioned, type Save } from '../../lib/edit/record.svelte';
import { CLOTHS, CORDS, FORMATS, NEW_LAMP, NEW_ROOM, RIGS, ROOMS, SUPPORTS } from './fields';

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

export class KitBook {
  production = $state.raw<Schemas['ProductionOut'] | null>(null);
  bodies = $state.raw<BodyEntry[]>([]);
  lenses = $state.raw<SavedRecord<Lens>[]>([]);
  lamps = $state.raw<SavedRecord<Lamp>[]>([]);
  rooms = $state.raw<SavedRecord<Room>[]>([]);
  rigs = $state.raw<SavedRecord<Rig>[]>([]);
  supports = $state.raw<SavedRecord<Support>[]>([]);
  cloths = $state.raw<SavedRecord<Cloth>[]>([]);
  cords = $state.raw<SavedRecord<Cord>[]>([]);
  people = $state.raw<SavedRecord<Person>[]>([]);
  problem = $state('');
  /** Changes of numbers and words; what is removed asks first and does not come back. */
  readonly history = new History();

  constructor(readonly productionId: string) {}

  get editable() {
    return this.production !== null && this.production.role !== 'viewer';
  }

  #path(pk: string) {
    return { path: { production_id: this.productionId, pk } };
  }

  #attempt(work: () => Promise<void>) {
    this.problem = '';
    return work().catch((error: unknown) => {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
    });
  }

  /** A record whose changes can be undone. */
  #record<T extends Revisioned & { name: string }>(stored: T, save: Save<T>) {
    const record = new SavedRecord<T>(stored, save);
    record.onchange = (before, after) =>
      this.history.push({
        label: `Change ${record.draft.name}`,
        undo: () => void record.restore(before),
        redo: () => void record.restore(after),
        of: record.id,
      });
    return record;
  }

  load() {
    const params = { path: { production_id: this.productionId } };
    return this.#attempt(async () => {
      const [production, kit] = await Promise.all([
        ask(() => api.GET('/api/productions/{production_id}', { params })),
        ask(() => api.GET('/api/productions/{production_id}/kit', { params })),
      ]);
      this.production = production;
      this.bodies = kit.bodies.map((body) => this.#body(body));
      this.lenses = kit.lenses.map((lens) => this.#lens(lens));
      this.lamps = kit.lamps.map((lamp) => this.#lamp(lamp));
      this.rooms = kit.rooms.map((room) => this.#room(room));
      this.rigs = kit.rigs.map((rig) => this.#rig(rig));
      this.supports = kit.supports.map((one) => this.#support(one));
      this.cloths = kit.cloths.map((one) => this.#cloth(one));
      this.cords = kit.cords.map((one) => this.#cord(one));
      this.people = kit.people.map((one) => this.#person(one));
    });
  }

  #body(body: Body): BodyEntry {
    const record = this.#record<Body>(body, (revision, changes) =>
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
    return this.#record<Mode>(mode, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/modes/{pk}', {
          params: this.#path(mode.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  #lens(lens: Lens) {
    return this.#record<Lens>(lens, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/lenses/{pk}', {
          params: this.#path(lens.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  #lamp(lamp: Lamp) {
    return this.#record<Lamp>(lamp, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/lamps/{pk}', {
          params: this.#path(lamp.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  #room(room: Room) {
    return this.#record<Room>(room, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/rooms/{pk}', {
          params: this.#path(room.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  #rig(rig: Rig) {
    return this.#record<Rig>(rig, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/rigs/{pk}', {
          params: this.#path(rig.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  addRig(of: (typeof RIGS)[number]) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/rigs', {
          params: { path: { production_id: this.productionId } },
          body: { id: crypto.randomUUID(), borrowed: false, backlash: 0, ...of },
        }),
      );
      this.rigs = [...this.rigs, this.#rig(made)];
    });
  }

  removeRig(rig: SavedRecord<Rig>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/rigs/{pk}', { params: this.#path(rig.id) }),
      );
      this.rigs = this.rigs.filter((x) => x !== rig);
      this.history.forget(rig.id);
    });
  }

  #support(support: Support) {
    return this.#record<Support>(support, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/supports/{pk}', {
          params: this.#path(support.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  addSupport(of: (typeof SUPPORTS)[number]) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/supports', {
          params: { path: { production_id: this.productionId } },
          body: { id: crypto.randomUUID(), borrowed: false, slide_mm: 0, lifts: false, ...of },
        }),
      );
      this.supports = [...this.supports, this.#support(made)];
    });
  }

  removeSupport(support: SavedRecord<Support>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/supports/{pk}', {
          params: this.#path(support.id),
        }),
      );
      this.supports = this.supports.filter((x) => x !== support);
      this.history.forget(support.id);
    });
  }

  #cloth(cloth: Cloth) {
    return this.#record<Cloth>(cloth, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/cloths/{pk}', {
          params: this.#path(cloth.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  addCloth(of: (typeof CLOTHS)[number]) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/cloths', {
          params: { path: { production_id: this.productionId } },
          body: { id: crypto.randomUUID(), borrowed: false, stiff: false, ...of },
        }),
      );
      this.cloths = [...this.cloths, this.#cloth(made)];
    });
  }

  removeCloth(cloth: SavedRecord<Cloth>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/cloths/{pk}', {
          params: this.#path(cloth.id),
        }),
      );
      this.cloths = this.cloths.filter((x) => x !== cloth);
      this.history.forget(cloth.id);
    });
  }

  #cord(cord: Cord) {
    return this.#record<Cord>(cord, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/cords/{pk}', {
          params: this.#path(cord.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  addCord(of: (typeof CORDS)[number]) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/cords', {
          params: { path: { production_id: this.productionId } },
          body: { id: crypto.randomUUID(), borrowed: false, ...of },
        }),
      );
      this.cords = [...this.cords, this.#cord(made)];
    });
  }

  removeCord(cord: SavedRecord<Cord>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/cords/{pk}', {
          params: this.#path(cord.id),
        }),
      );
      this.cords = this.cords.filter((x) => x !== cord);
      this.history.forget(cord.id);
    });
  }

  #person(person: Person) {
    return this.#record<Person>(person, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/persons/{pk}', {
          params: this.#path(person.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  addPerson(role: Role) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/persons', {
          params: { path: { production_id: this.productionId } },
          body: {
            id: crypto.randomUUID(),
            name: `New ${role}`,
            borrowed: false,
            height_m: 1.7,
            roles: [role],
          },
        }),
      );
      this.people = [...this.people, this.#person(made)];
    });
  }

  removePerson(person: SavedRecord<Person>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/persons/{pk}', {
          params: this.#path(person.id),
        }),
      );
      this.people = this.people.filter((x) => x !== person);
      this.history.forget(person.id);
    });
  }

  addLamp() {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/lamps', {
          params: { path: { production_id: this.productionId } },
          body: { id: crypto.randomUUID(), name: 'LED panel', ...NEW_LAMP },
        }),
      );
      this.lamps = [...this.lamps, this.#lamp(made)];
    });
  }

  addRoom(of: (typeof ROOMS)[number]) {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/rooms', {
          params: { path: { production_id: this.productionId } },
          body: { id: crypto.randomUUID(), ...NEW_ROOM, ...of },
        }),
      );
      this.rooms = [...this.rooms, this.#room(made)];
    });
  }

  removeLamp(lamp: SavedRecord<Lamp>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/lamps/{pk}', { params: this.#path(lamp.id) }),
      );
      this.lamps = this.lamps.filter((x) => x !== lamp);
      this.history.forget(lamp.id);
    });
  }

  removeRoom(room: SavedRecord<Room>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/rooms/{pk}', { params: this.#path(room.id) }),
      );
      this.rooms = this.rooms.filter((x) => x !== room);
      this.history.forget(room.id);
    });
  }

  addBody() {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/bodies', {
          params: { path: { production_id: this.productionId } },
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
    return this.#attempt(async () => {
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

  addLens() {
    return this.#attempt(async () => {
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/lenses', {
          params: { path: { production_id: this.productionId } },
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
      );
      this.lenses = [...this.lenses, this.#lens(made)];
    });
  }

  removeBody(entry: BodyEntry) {
    return this.#attempt(async () => {
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
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/modes/{pk}', { params: this.#path(mode.id) }),
      );
      const modes = owner.modes.filter((m) => m !== mode);
      this.history.forget(mode.id);
      this.bodies = this.bodies.map((b) => (b === owner ? { ...b, modes } : b));
    });
  }

  removeLens(lens: SavedRecord<Lens>) {
    return this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/lenses/{pk}', { params: this.#path(lens.id) }),
      );
      this.lenses = this.lenses.filter((x) => x !== lens);
      this.history.forget(lens.id);
    });
  }
}
