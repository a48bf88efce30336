/** The set map of one plate as it is worked on, and what the core says of it. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { LATER, newest } from '../../lib/edit/newest';
import type { SavedRecord } from '../../lib/edit/record.svelte';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import { openSheet, type Sheet } from '../frames/record';
import { added, changed, dragged, EMPTY, without, type Piece, type SetMap } from './pieces';

export type SetMapAnswer = Schemas['SetMapAnswer'];
type Photo = { id: string; name: string; look: string };

export class SetDesk {
  record = $state.raw() as SavedRecord<Sheet>;
  answer = $state.raw<SetMapAnswer | null>(null);
  problem = $state('');
  /** The piece in hand. */
  chosen = $state<string | null>(null);
  photos = $state.raw<Photo[]>([]);
  /** Why two tapes say no place. */
  untaped = $state('');

  constructor(
    readonly bench: OpenShot,
    readonly plateId: string,
  ) {}

  get map(): SetMap {
    return this.record.draft.set_map ?? EMPTY;
  }
  get pieces(): Piece[] {
    return this.map.pieces;
  }
  get piece(): Piece | null {
    return this.pieces.find((piece) => piece.key === this.chosen) ?? null;
  }
  /** Whether the story says where a piece stands. */
  fromStory(key: string) {
    return this.answer?.laid.some((laid) => laid.key === key && laid.thing_id !== null) ?? false;
  }

  async load() {
    const { productionId, shotId } = this.bench;
    const params = { path: { production_id: productionId, shot_id: shotId } };
    const [record, page] = await Promise.all([
      openSheet(productionId, this.plateId),
      ask(() => api.GET('/api/productions/{production_id}/shots/{shot_id}/pictures', { params })),
    ]);
    this.photos = page.pictures
      .filter((picture) => picture.looks.length > 0)
      .map((picture) => ({
        id: picture.id,
        name: picture.name,
        look: `/api/productions/${productionId}/pictures/${picture.id}/look?frame=${picture.looks[0]}`,
      }));
    // Where the tapes begin is the plate's: one list of steps holds both.
    record.onchange = (before, after) =>
      this.bench.history.push({
        label: this.#label,
        undo: () => void record.restore(before),
        redo: () => void record.restore(after),
      });
    this.record = record;
    this.chosen = this.pieces[0]?.key ?? null;
  }

  #label = 'Change the set map';

  /** Another map: seen at once, and saved unless a hand is still on it. */
  set(map: SetMap, label: string, rests = true) {
    this.#label = label;
    this.record.set('set_map', map);
    if (rests) this.rest();
  }
  change(key: string, fields: Partial<Piece>, label: string, rests = true) {
    this.set(changed(this.map, key, fields), label, rests);
  }
  /** The hand is off: one step for undo, and save. */
  rest() {
    void this.record.commit();
  }
  add() {
    const edges = this.answer?.edges;
    const at = edges
      ? { x: (edges.left_m + edges.right_m) / 2, y: (edges.near_m + edges.far_m) / 2 }
      : { x: 0, y: 1 };
    const { map, key } = added(this.map, at);
    this.set(map, 'Add a piece');
    this.chosen = key;
  }
  /** A piece for everything built that the story has on this set. */
  begin() {
    this.set({ ...this.map, pieces: this.answer?.begin_with ?? [] }, 'Begin the set map');
    this.chosen = this.pieces[0]?.key ?? null;
  }
  remove(key: string) {
    this.set(without(this.map, key), 'Remove a piece');
    if (this.chosen === key) this.chosen = this.pieces[0]?.key ?? null;
  }
  move(key: string, right: number, away: number) {
    if (this.fromStory(key)) return;
    this.set(dragged(this.map, key, right, away), 'Move a piece', false);
  }

  /** A piece stands where two tapes meet. */
  async tape(key: string, from_left_m: number, from_right_m: number) {
    try {
      const body = { ...this.bench.plan(), plate_id: this.plateId, from_left_m, from_right_m };
      const place = await ask(() => api.POST('/api/calc/set-map/place', { body }));
      this.untaped = '';
      this.change(key, { x_m: place.x_m, y_m: place.y_m }, 'Two tapes');
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.untaped = Object.values(error.fields)[0] ?? error.message;
    }
  }

  /** Everything the answer depends on; reading it in an effect follows every draft. */
  question() {
    const { columns, worked, lapse, set_map } = $state.snapshot(this.record.draft) as Sheet;
    const sheet = { columns, worked, lapse, set_map };
    return { ...this.bench.plan(), plate_id: this.plateId, sheet, sat: [], time_zone: '' };
  }

  readonly compute = newest(async () => {
    try {
      const body = this.question();
      this.answer = (await ask(() => api.POST('/api/calc/set-map', { body }))) as SetMapAnswer;
      this.problem = '';
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = Object.values(error.fields)[0] ?? error.message;
      if (error.passing && !this.bench.left) return LATER;
    }
  });
}
