/** One shot as the server keeps it: asking for it, and for its plates and stand-ins to be made. */

import { api, ask, type Schemas } from '../api/client';
import { SavedRecord } from '../edit/record.svelte';
import type { Plate, Shot, StandIn } from './plan';

export class StoredShot {
  constructor(
    readonly productionId: string,
    readonly shotId: string,
    /** Told when a plate has gone into another lock-off. */
    private readonly onlock: () => void = () => {},
  ) {}

  #at(pk: string) {
    return { path: { production_id: this.productionId, pk } };
  }
  #inShot() {
    return { path: { production_id: this.productionId, shot_id: this.shotId } };
  }

  /** The production, the shot with all that belongs to it, and the kit. */
  everything() {
    const path = { production_id: this.productionId };
    return Promise.all([
      ask(() => api.GET('/api/productions/{production_id}', { params: { path } })),
      this.whole(),
      ask(() => api.GET('/api/productions/{production_id}/kit', { params: { path } })),
    ]);
  }

  /** The shot with its plates and stand-ins, as they are now. */
  whole() {
    return ask(() =>
      api.GET('/api/productions/{production_id}/shots/{pk}', { params: this.#at(this.shotId) }),
    );
  }

  shot(shot: Shot) {
    return new SavedRecord<Shot>(shot, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/shots/{pk}', {
          params: this.#at(this.shotId),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  plate(plate: Plate) {
    return new SavedRecord<Plate>(plate, async (revision, changes) => {
      const saved = await ask(() =>
        api.PATCH('/api/productions/{production_id}/plates/{pk}', {
          params: this.#at(plate.id),
          body: { revision, ...changes },
        }),
      );
      if ('lock_group' in changes) this.onlock();
      return saved;
    });
  }

  standIn(standIn: StandIn) {
    return new SavedRecord<StandIn>(standIn, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/stand-ins/{pk}', {
          params: this.#at(standIn.id),
          body: { revision, ...changes },
        }),
      ),
    );
  }

  async makePlate(whole: Omit<Plate, 'revision'>) {
    // What the recipe and the takes bring is the server's to say.
    const plate: Partial<Plate> & Pick<Plate, 'name' | 'kind'> = { ...whole };
    delete plate.recipe_hazards;
    delete plate.recipe_right;
    delete plate.filmed;
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/shots/{shot_id}/plates', {
        params: this.#inShot(),
        body: plate as Schemas['PlateIn'],
      }),
    );
    return this.plate(made);
  }

  removePlate(id: string) {
    return ask(() =>
      api.DELETE('/api/productions/{production_id}/plates/{pk}', { params: this.#at(id) }),
    );
  }

  async makeStandIn(standIn: Omit<StandIn, 'revision'>) {
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/shots/{shot_id}/stand-ins', {
        params: this.#inShot(),
        body: standIn,
      }),
    );
    return this.standIn(made);
  }

  removeStandIn(id: string) {
    return ask(() =>
      api.DELETE('/api/productions/{production_id}/stand-ins/{pk}', { params: this.#at(id) }),
    );
  }
}
