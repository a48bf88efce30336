/** What was filmed of one shot, roughly put together: chosen, asked for, watched, looked at. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { History } from '../../lib/edit/history.svelte';
import { status } from '../../lib/edit/status.svelte';
import { LongWork } from '../../lib/jobs/long-work.svelte';

export type Page = Schemas['RoughPage'];
export type Rough = Schemas['RoughOut'];
export type Plate = Schemas['RoughPlate'];
type DryRun = Schemas['DryRunOut'];

/** How a plate goes in, where that is not as it counts. `low` and `high` in percent. */
export type Pick = { picture: string | null; leftOut: boolean; low: number; high: number };
const PLAIN: Pick = { picture: null, leftOut: false, low: 0, high: 100 };

/** What the composite is held against. */
export type Against = 'planned' | 'dry-run' | 'story';
export const AGAINST: Record<Against, string> = {
  planned: 'The plan, in tone',
  'dry-run': 'The dry run',
  story: 'The story, were it real',
};

/** How a plate is laid in, said. */
export function howSaid(plate: Said): string {
  switch (plate.how) {
    case 'whole':
      return 'the picture behind all else';
    case 'side':
      return 'its side of the divider';
    case 'adds':
      return 'its light added';
    case 'outline':
      return 'cut along its planned outline, which is rough';
    case 'key':
      return plate.colour === 'sky' || plate.colour === 'white'
        ? `keyed from a bright ${plate.colour === 'sky' ? 'sky' : 'wall'}`
        : `keyed from ${plate.colour}`;
  }
}
type Said = { how: Plate['how']; colour: string };

export class Together {
  page = $state.raw<Page | null>(null);
  view = $state<string | null>(null);
  frame = $state(1);
  against = $state<Against>('planned');
  notice = $state('');
  editable = $state(false);
  readonly history = new History();
  readonly still: LongWork;
  readonly clip: LongWork;
  #picks = $state<Record<string, Pick>>({});
  #dry = $state.raw<DryRun[]>([]);

  constructor(
    readonly productionId: string,
    readonly shotId: string,
  ) {
    this.still = new LongWork(productionId, 'rough', () => void this.load());
    this.clip = new LongWork(productionId, 'rough-clip', () => void this.load());
  }

  get frames() {
    return this.page?.views.find((v) => v.id === this.view)?.frames ?? 1;
  }
  /** The plates of the view in hand, nearest first. */
  get plates(): Plate[] {
    return (this.page?.plates ?? []).filter((p) => p.view_id === this.view).toReversed();
  }
  /** Whether anything can be put together. */
  get any() {
    return this.plates.some((plate) => plate.pictures.length > 0);
  }
  get #own(): Rough[] {
    return (this.page?.roughs ?? []).filter((one) => one.view_id === this.view);
  }
  /** The newest of the camera and frame in hand; of another frame where there is none. */
  get rough(): Rough | null {
    const stills = this.#own.filter((one) => one.frame !== null);
    return stills.find((one) => one.frame === this.frame) ?? stills[0] ?? null;
  }
  get reel(): Rough | null {
    return this.#own.find((one) => one.frame === null) ?? null;
  }
  /** Whether what is shown was made with other choices than those in hand. */
  get stale(): boolean {
    const rough = this.rough;
    return (
      rough !== null &&
      rough.layers.some((layer) => {
        const pick = this.pick(layer.plate_id);
        return (
          layer.left_out !== pick.leftOut ||
          (layer.counted ? null : layer.picture_id) !== pick.picture ||
          Math.round(layer.low * 100) !== pick.low ||
          Math.round(layer.high * 100) !== pick.high
        );
      })
    );
  }
  /** The dry run of the frame that is shown, if it was filmed. */
  get dry(): DryRun | null {
    const rough = this.rough;
    return this.#dry.find((one) => one.view_id === this.view && one.frame === rough?.frame) ?? null;
  }

  pick(plate: string): Pick {
    return this.#picks[plate] ?? PLAIN;
  }
  set(plate: string, changes: Partial<Pick>) {
    this.#picks = { ...this.#picks, [plate]: { ...this.pick(plate), ...changes } };
  }

  async load() {
    const path = { production_id: this.productionId, shot_id: this.shotId };
    const [page, dry, about] = await Promise.all([
      ask(() =>
        api.GET('/api/productions/{production_id}/shots/{shot_id}/rough', { params: { path } }),
      ),
      ask(() =>
        api.GET('/api/productions/{production_id}/shots/{shot_id}/dry-runs', { params: { path } }),
      ),
      ask(() => api.GET('/api/productions/{production_id}', { params: { path } })),
    ]);
    const first = this.page === null;
    this.page = page;
    this.#dry = dry.runs;
    this.editable = about.role !== 'viewer';
    if (first) this.#takeUp();
  }

  /** Go on where the newest left off: its frame and its choices. */
  #takeUp() {
    const rough = this.#own.find((one) => one.frame !== null);
    if (!rough) return;
    this.frame = rough.frame ?? 1;
    this.#picks = Object.fromEntries(
      rough.layers.map((layer) => [
        layer.plate_id,
        {
          picture: layer.counted ? null : layer.picture_id,
          leftOut: layer.left_out,
          low: Math.round(layer.low * 100),
          high: Math.round(layer.high * 100),
        },
      ]),
    );
  }

  get #asked() {
    return {
      shot_id: this.shotId,
      view_id: this.view,
      picks: this.plates.map((plate) => {
        const { picture, leftOut, low, high } = this.pick(plate.id);
        return {
          plate_id: plate.id,
          picture_id: picture,
          left_out: leftOut,
          low: low / 100,
          high: high / 100,
        };
      }),
    };
  }
  /** Put the frame in hand together, `width` pixels wide. */
  put(width: 960 | 1920) {
    return this.still.ask({ ...this.#asked, frame: this.frame, width });
  }
  /** Put all of it together, as a clip. */
  film() {
    return this.clip.ask(this.#asked);
  }

  /** Say in which frame of a picture the shot begins. */
  async begin(picture: Plate['pictures'][number], begins: number) {
    const before = picture.told ? picture.begins : null;
    if (begins === picture.begins || !(await this.#begins(picture.id, begins))) return;
    this.history.push({
      label: `where the shot begins in ${picture.name}`,
      undo: () => void this.#begins(picture.id, before),
      redo: () => void this.#begins(picture.id, begins),
    });
  }
  async #begins(pk: string, begins: number | null): Promise<boolean> {
    const path = { production_id: this.productionId, pk };
    const now = this.page?.plates.flatMap((p) => p.pictures).find((one) => one.id === pk);
    status.begin();
    let saved = true;
    try {
      await ask(() =>
        api.PATCH('/api/productions/{production_id}/pictures/{pk}', {
          params: { path },
          body: { revision: now?.revision ?? 0, begins },
        }),
      );
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.notice = error.message;
      saved = false;
    }
    status.end(saved);
    await this.load();
    return saved;
  }

  file(rough: Rough, which: 'composite' | 'planned') {
    return `/api/productions/${this.productionId}/rough/${rough.id}/file?which=${which}`;
  }
  /** Where the picture lies that the composite is held against. */
  get other(): { src: string; name: string } | null {
    const [rough, dry] = [this.rough, this.dry];
    if (!rough) return null;
    if (this.against === 'planned' || !dry) {
      return { src: this.file(rough, 'planned'), name: AGAINST.planned };
    }
    const which = this.against === 'story' ? 'story' : 'composite';
    const base = `/api/productions/${this.productionId}/dry-runs/${dry.id}/picture`;
    return { src: `${base}?which=${which}`, name: AGAINST[this.against] };
  }

  dispose() {
    this.still.dispose();
    this.clip.dispose();
  }
}
