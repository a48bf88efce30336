/** Choosing how to build a shot: facts told, recipes ranked, one looked at and applied. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { SavedRecord } from '../../lib/edit/record.svelte';
import { Book } from '../recipes/book.svelte';

export type Facts = Schemas['FactsFields'];
type Shot = Schemas['ShotOut'];

export const FIRST_FACTS: Facts = {
  shows: ['performer'],
  camera: 'locked',
  people: 4,
  owned: ['screen', 'miniature', 'slider', 'rig', 'stills', 'fast rate', 'black', 'lamps'],
  realism: 3,
  screen_fits: true,
  night: false,
  seen_again: 1,
};

export class Method {
  about = $state.raw() as Schemas['ProductionOut'];
  shot = $state.raw() as SavedRecord<Shot>;
  plates = $state.raw<Schemas['PlateOut'][]>([]);
  uses = $state.raw<Schemas['UsedRecipe'][]>([]);
  advice = $state.raw<Schemas['AdviceOut'] | null>(null);
  outcome = $state.raw<Schemas['OutcomeOut'] | null>(null);
  /** Undo of what was applied last here. */
  applied = $state.raw<Schemas['Applied'] | null>(null);
  trouble = $state('');
  notice = $state('');
  looking = $state('');
  passes = $state<string[]>([]);
  things = $state(true);
  /** The view that a recipe builds; null: the first camera. */
  viewId = $state<string | null>(null);
  readonly book: Book;
  #asked = 0;

  constructor(
    readonly production: string,
    readonly shotId: string,
  ) {
    this.book = new Book(production);
  }

  get editable() {
    return this.about.role !== 'viewer';
  }
  get facts(): Facts {
    return { ...FIRST_FACTS, ...this.shot.draft.facts };
  }
  get recipe() {
    return this.book.of(this.looking);
  }
  get used() {
    return this.uses.some((use) => use.key === this.looking && use.view_id === this.viewId);
  }
  get #wanted() {
    return { passes: [...this.passes], things: this.things, view_id: this.viewId };
  }
  get #path() {
    return { production_id: this.production, shot_id: this.shotId };
  }

  async load() {
    const [about, whole] = await Promise.all([
      ask(() =>
        api.GET('/api/productions/{production_id}', {
          params: { path: { production_id: this.production } },
        }),
      ),
      this.#whole(),
      this.book.load(),
    ]);
    this.about = about;
    this.shot = new SavedRecord(whole.shot, (revision, changes) =>
      ask(() =>
        api.PATCH('/api/productions/{production_id}/shots/{pk}', {
          params: { path: { production_id: this.production, pk: this.shotId } },
          body: { revision, ...changes },
        }),
      ),
    );
    this.plates = whole.plates;
    this.uses = whole.recipes;
    await this.advise();
    this.look(this.uses[0]?.key ?? this.advice?.options[0]?.recipe ?? '');
  }

  #whole() {
    return ask(() =>
      api.GET('/api/productions/{production_id}/shots/{pk}', {
        params: { path: { production_id: this.production, pk: this.shotId } },
      }),
    );
  }

  /** Tell a fact: kept with the shot, and the ranking follows. */
  tell(change: Partial<Facts>) {
    this.shot.set('facts', { ...this.facts, ...change });
    if (this.editable) void this.shot.commit();
    void this.advise();
  }

  async advise() {
    const asked = ++this.#asked;
    try {
      const found = await ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/advice', {
          params: { path: this.#path },
          body: this.facts,
        }),
      );
      // Only the answer to the newest facts counts.
      if (asked !== this.#asked) return;
      this.advice = found;
      this.trouble = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (asked === this.#asked) this.trouble = error.message;
    }
  }

  look(key: string) {
    this.looking = key;
    this.passes = (this.recipe?.passes ?? []).filter((p) => p.required).map((p) => p.key);
    this.applied = null;
    void this.preview();
  }

  /** Build another view of the shot. */
  lookFrom(viewId: string | null) {
    this.viewId = viewId;
    this.applied = null;
    void this.preview();
  }

  choosePass(key: string, on: boolean) {
    this.passes = on ? [...this.passes, key] : this.passes.filter((k) => k !== key);
    void this.preview();
  }

  async preview() {
    this.outcome = null;
    const recipe = this.looking;
    if (!recipe) return;
    try {
      const found = await ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/recipes/preview', {
          params: { path: this.#path },
          body: { ...this.#wanted, recipe },
        }),
      );
      if (recipe === this.looking) this.outcome = found;
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.notice = error.message;
    }
  }

  async apply() {
    const done = await this.#attempt(() =>
      ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/recipes/apply', {
          params: { path: this.#path },
          body: { ...this.#wanted, recipe: this.looking },
        }),
      ),
    );
    if (done) this.applied = done;
  }

  async undo() {
    const step = this.applied?.step;
    if (!step) return;
    const done = await this.#attempt(() =>
      ask(() =>
        api.POST('/api/productions/{production_id}/steps/{pk}/undo', {
          params: { path: { production_id: this.production, pk: step.id } },
        }),
      ),
    );
    if (done) this.applied = null;
  }

  async save(name: string, effect: string) {
    const made = await this.#attempt(() =>
      ask(() =>
        api.POST('/api/productions/{production_id}/shots/{shot_id}/recipes/save', {
          params: { path: this.#path },
          body: { name, effect },
        }),
      ),
    );
    if (made) {
      await this.book.load();
      this.look(made.key);
    }
  }

  async #attempt<T>(work: () => Promise<T>): Promise<T | null> {
    this.notice = '';
    try {
      const done = await work();
      const whole = await this.#whole();
      this.plates = whole.plates;
      this.uses = whole.recipes;
      await this.preview();
      return done;
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.notice = error.message;
      return null;
    }
  }

  dispose() {
    this.shot?.dispose();
  }
}
