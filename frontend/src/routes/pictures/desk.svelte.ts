/** The pictures of a shot, or of a production's library: listed, followed while they arrive and are
 * read, looked at, moved, and put away. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { same } from '../../lib/edit/merge';
import { History } from '../../lib/edit/history.svelte';
import { status } from '../../lib/edit/status.svelte';
import { bare, type Group } from '../../lib/pictures/groups';
import {
  FRESH,
  PLACES,
  sendingsOf,
  type Picture,
  type Place,
} from '../../lib/pictures/sending.svelte';

export type Whole = Schemas['PictureWhole'];
export type Page = Omit<Schemas['PicturesPage'], 'plates'> & { plates: PlateRow[] };
export type PlateRow = Schemas['PlateRow'];
export type TakeRow = Schemas['TakeRow'];
export type Edit = Partial<
  Pick<
    Picture,
    | 'name'
    | 'role'
    | 'note'
    | 'put_away'
    | 'board_way'
    | 'board_up_m'
    | 'begins'
    | 'picked_in'
    | 'marks'
    | 'edges'
    | 'uprights'
    | 'balls'
    | 'take_id'
    | 'plate_id'
    | 'shot_id'
    | 'lens_id'
  >
>;

const NO_SHOT = { number: '', title: '', plates: [] };
/** How often is looked while something arrives or is read, milliseconds. */
const LOOK_MS = 900;
/** So often is something saved anew that only measurings were faster than. */
const TRIES = 6;

/** Where a picture hangs, all four said. */
export function placeOf(picture: Edit): Required<Pick<Edit, (typeof PLACES)[number]>> {
  const [take_id, plate_id, shot_id, lens_id] = PLACES.map((key) => picture[key] ?? null);
  return { take_id, plate_id, shot_id, lens_id } as ReturnType<typeof placeOf>;
}

export class PictureDesk {
  page = $state.raw<Page | null>(null);
  about = $state.raw<Schemas['ProductionOut'] | null>(null);
  chosenId = $state<string | null>(null);
  whole = $state.raw<Whole | null>(null);
  /** What the one in hand is compared with. */
  beside = $state.raw<Picture | null>(null);
  notice = $state('');
  readonly history = new History();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #left = false;
  #asked = 0;
  readonly #unwatch: () => void;

  constructor(
    readonly production: string,
    /** Those of a shot, with its plates and takes; of one take; of a lens; one alone; else the
     * library's. */
    private readonly where: {
      shot?: string;
      take?: string;
      lens?: string;
      picture?: string;
    } = {},
  ) {
    this.#unwatch = this.sendings.watch(() => void this.refresh());
  }

  get shot() {
    return this.where.shot ?? null;
  }
  get sendings() {
    return sendingsOf(this.production);
  }
  get editable() {
    return this.about !== null && this.about.role !== 'viewer';
  }
  /** Those that are not in the bin. */
  get shown() {
    return (this.page?.pictures ?? []).filter((one) => !one.put_away);
  }
  get bin() {
    return (this.page?.pictures ?? []).filter((one) => one.put_away);
  }
  get chosen() {
    return this.page?.pictures.find((one) => one.id === this.chosenId) ?? null;
  }
  /** Those in hand in the order of the page: what the keys go through. */
  get order(): Picture[] {
    const takes = (this.page?.plates ?? []).flatMap((plate) => [
      ...plate.takes.flatMap((take) => this.on({ take_id: take.id })),
      ...this.on({ plate_id: plate.id }),
    ]);
    const rest = this.shown.filter((one) => !takes.includes(one));
    return [...takes, ...rest];
  }
  on(place: Place): Picture[] {
    const [key] = PLACES.filter((name) => place[name]);
    return key ? this.shown.filter((one) => one[key] === place[key]) : [];
  }

  async load() {
    const about = ask(() =>
      api.GET('/api/productions/{production_id}', {
        params: { path: { production_id: this.production } },
      }),
    );
    const read = this.#read();
    // Why the production cannot be seen says more than why its pictures cannot.
    read.catch(() => undefined);
    this.about = await about;
    await read;
    this.#follow();
  }

  async #read() {
    const asked = ++this.#asked;
    const found = await this.#listed();
    // A later question was answered already, or is being asked.
    if (asked !== this.#asked || this.#left) return;
    this.page = found;
    if (this.chosenId === null) return this.choose(this.order[0]?.id ?? null);
    // Of one alone the list is all there is to read.
    const now = this.where.picture ? null : this.chosen;
    if (now && this.#outdated(now)) void this.#open(now.id);
  }

  /** Whether what is told of the one in hand is of before: an edit of ours, or a measurement. */
  #outdated(now: Picture) {
    const told = this.whole;
    return told?.id !== now.id || told.revision < now.revision || told.state !== now.state;
  }

  async #listed(): Promise<Page> {
    const { shot, take, lens, picture } = this.where;
    const path = { production_id: this.production };
    if (picture) {
      const whole = await this.#wholeOf(picture);
      this.chosenId = picture;
      this.#keep(whole as Whole);
      return { pictures: [whole], more: false, quota: { used: 0, most: 0 }, ...NO_SHOT };
    }
    if (shot) {
      return await ask(() =>
        api.GET('/api/productions/{production_id}/shots/{shot_id}/pictures', {
          params: { path: { ...path, shot_id: shot } },
        }),
      );
    }
    const query = take ? { take_id: take } : lens ? { lens_id: lens } : {};
    const list = await ask(() =>
      api.GET('/api/productions/{production_id}/pictures', { params: { path, query } }),
    );
    return { ...list, ...NO_SHOT };
  }
  /** One with everything that is found of it. */
  #wholeOf(id: string) {
    return ask(() =>
      api.GET('/api/productions/{production_id}/pictures/{pk}', {
        params: { path: { production_id: this.production, pk: id } },
      }),
    );
  }

  async refresh() {
    if (this.#left) return;
    await this.#attempt(() => this.#read());
    this.#follow();
  }

  /** Look again while something is on its way or being read. */
  #follow() {
    clearTimeout(this.#timer);
    const waits = this.page?.pictures.some((one) => one.reading || one.measuring);
    if (waits && !this.#left) this.#timer = setTimeout(() => void this.refresh(), LOOK_MS);
  }

  dispose() {
    this.#left = true;
    clearTimeout(this.#timer);
    this.#unwatch();
  }

  choose(id: string | null) {
    if (id === this.chosenId) return;
    this.chosenId = id;
    this.whole = null;
    if (id) void this.#open(id);
  }
  /** The next or the one before, in the order of the page. */
  step(by: number) {
    const order = this.order;
    const at = order.findIndex((one) => one.id === this.chosenId);
    const next = order[at < 0 ? 0 : Math.min(Math.max(at + by, 0), order.length - 1)];
    if (next) this.choose(next.id);
  }

  async #open(id: string) {
    await this.#attempt(async () => {
      // The client widens pairs to lists.
      this.#keep((await this.#wholeOf(id)) as Whole);
    });
  }
  /** What is told of the one in hand; two answers may come in the other order than they were asked
   * for. */
  #keep(found: Whole) {
    const newer = this.whole?.id === found.id && this.whole.revision > found.revision;
    if (this.chosenId === found.id && !newer) this.whole = found;
  }

  send(groups: Group[], place: Place) {
    const begun = (this.page?.pictures ?? []).filter((one) => one.state === 'coming');
    return this.sendings.add(groups, place, begun);
  }

  /** Name a file that lies on the crew's own disk: only its path and checksum are kept. */
  async name(file: { path: string; sha256: string; size: number }, place: Place) {
    const name = file.path.split(/[\\/]/).at(-1) ?? file.path;
    const made = await this.#attempt(async () => {
      await ask(() =>
        api.POST('/api/productions/{production_id}/pictures', {
          params: { path: { production_id: this.production } },
          body: {
            ...FRESH,
            id: crypto.randomUUID(),
            name: bare(name),
            elsewhere: true,
            files: [{ name: name.slice(-255), ...file }],
            ...place,
          },
        }),
      );
    });
    await this.refresh();
    return made;
  }

  /** Change a picture; `label` is what undo calls it. */
  async edit(picture: Picture, changes: Edit, label: string) {
    const before = Object.fromEntries(
      Object.keys(changes).map((key) => [key, picture[key as keyof Edit]]),
    ) as Edit;
    const back = PLACES.some((key) => key in changes) ? { ...before, ...placeOf(picture) } : before;
    if (await this.#save(picture.id, changes)) {
      this.history.push({
        label,
        undo: () => void this.#save(picture.id, back),
        redo: () => void this.#save(picture.id, changes),
      });
    }
  }

  /** Save against what is stored now: the page may be older than the last edit. */
  async #save(id: string, changes: Edit): Promise<boolean> {
    const now = this.page?.pictures.find((one) => one.id === id);
    const path = { production_id: this.production, pk: id };
    const put = async (revision: number) => {
      const found = await ask(() =>
        api.PATCH('/api/productions/{production_id}/pictures/{pk}', {
          params: { path },
          body: { revision, ...changes },
        }),
      );
      this.#show(found);
    };
    const saved = await this.saving(async () => {
      const whole = now ?? (await this.#wholeOf(id));
      let revision = whole.revision;
      for (let tries = 1; ; tries += 1) {
        try {
          return await put(revision);
        } catch (error) {
          if (!(error instanceof Failure) || error.status !== 409 || tries === TRIES) throw error;
          // It was measured meanwhile, say: only what somebody else decided is in the way.
          const fresh = await this.#wholeOf(id);
          const decided = Object.keys(changes) as (keyof Edit)[];
          if (!decided.every((key) => same(fresh[key], whole[key]))) throw error;
          revision = fresh.revision;
        }
      }
    });
    await this.refresh();
    return saved;
  }

  /** A picture as it is now; a list that was asked for before is older. */
  #show(fresh: Picture) {
    this.#asked += 1;
    if (!this.page) return;
    const pictures = this.page.pictures.map((one) => (one.id === fresh.id ? fresh : one));
    this.page = { ...this.page, pictures };
  }

  /** Hang it on a take of the card whose board was held up in it. */
  async fileByBoard(picture: Picture) {
    const back = placeOf(picture);
    const path = { production_id: this.production, pk: picture.id };
    const label = `${picture.name} filed by its board`;
    const file = async () => {
      const saved = await this.saving(async () => {
        await ask(() =>
          api.POST('/api/productions/{production_id}/pictures/{pk}/by-board', { params: { path } }),
        );
      });
      await this.refresh();
      return saved;
    };
    if (await file()) {
      this.history.push({
        label,
        undo: () => void this.#save(picture.id, back),
        redo: () => void file(),
      });
    }
  }

  async remove(picture: Picture) {
    await this.#attempt(async () => {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/pictures/{pk}', {
          params: { path: { production_id: this.production, pk: picture.id } },
        }),
      );
      if (this.chosenId === picture.id) this.choose(null);
    });
    await this.refresh();
  }

  /** Have it read once more. */
  readAgain(picture: Picture) {
    return this.#have('look-at', picture);
  }
  /** Have it measured frame by frame. */
  measure(picture: Picture) {
    return this.#have('measure', picture);
  }
  async stopMeasuring(picture: Picture) {
    const pk = picture.measuring?.job_id;
    if (!pk) return;
    await this.#attempt(async () => {
      await ask(() =>
        api.POST('/api/productions/{production_id}/jobs/{pk}/cancel', {
          params: { path: { production_id: this.production, pk } },
        }),
      );
    });
    await this.refresh();
  }
  async #have(kind: string, picture: Picture) {
    await this.#attempt(async () => {
      await ask(() =>
        api.POST('/api/productions/{production_id}/jobs', {
          params: { path: { production_id: this.production } },
          body: { id: crypto.randomUUID(), kind, params: { picture_id: picture.id } },
        }),
      );
    });
    await this.refresh();
  }

  /** Circle a take, or take the circle off. */
  async circle(take: TakeRow) {
    const path = { production_id: this.production, pk: take.id };
    const set = async (circled: boolean) => {
      const saved = await this.#attempt(async () => {
        const page = await ask(() =>
          api.GET('/api/productions/{production_id}/takes/{pk}', { params: { path } }),
        );
        await ask(() =>
          api.PATCH('/api/productions/{production_id}/takes/{pk}', {
            params: { path },
            body: { revision: page.take.revision, circled },
          }),
        );
      });
      await this.refresh();
      return saved;
    };
    const wanted = !take.circled;
    if (await set(wanted)) {
      this.history.push({
        label: wanted ? `circle of take ${take.number}` : `no circle on take ${take.number}`,
        undo: () => void set(!wanted),
        redo: () => void set(wanted),
      });
    }
  }

  look(picture: Picture, frame: number) {
    const base = `/api/productions/${this.production}/pictures/${picture.id}/look`;
    // Read once more, the same frame may look better: the address says which reading.
    return `${base}?frame=${frame}&v=${picture.revision}`;
  }
  file(picture: Picture, file: string) {
    return `/api/productions/${this.production}/pictures/${picture.id}/files/${file}`;
  }

  /** An edit of anything that is decided here, told by the mark of what is saved; whether it was. */
  async saving(work: () => Promise<void>): Promise<boolean> {
    status.begin();
    const saved = await this.#attempt(work);
    status.end(saved);
    return saved;
  }

  async #attempt(work: () => Promise<void>): Promise<boolean> {
    try {
      await work();
      return true;
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.notice = error.message;
      return false;
    }
  }
}
