/** The table as it is worked at: the blocks of a plate, the picture in hand, and taking the next. */

import { api, ask, Failure, type Schemas } from '../../lib/api/client';
import { whole } from '../../lib/api/upload';
import { History } from '../../lib/edit/history.svelte';
import { inOrder, missing } from './card';
import { before, behind, instead, without, type Change } from './order';
import type { Source } from './sources';

export type Block = Schemas['BlockOut'];
export type Blocks = Schemas['BlocksOut'];
export type Exposure = Schemas['ExposureOut'];
export type Row = Schemas['ExposureRow'];
/** Where the next picture goes: to the end, in the place of one, or behind one. */
export type Aim = { kind: 'end' } | { kind: 'instead' | 'after'; number: number };
/** One picture of the film: its block, its number there, and which of the film it is. */
export type Shown = { block: Block; row: Row; picture: number };

export type Rebuilt = Schemas['RebuiltOut'];

/** A set that is moved is looked at again after so many milliseconds. */
const PAUSE_MS = 400;
const orderOf = (block: Block) => block.exposures.map((row) => row.number);
const END: Aim = { kind: 'end' };

/** A picture that is not safe on the server's disk yet. */
export class Waiting {
  readonly id = crypto.randomUUID();
  constructor(
    readonly data: Blob,
    readonly from: Row['source'],
    readonly name = '',
  ) {}
}

export class Table {
  all = $state.raw<Blocks | null>(null);
  /** The block that pictures go into. */
  blockId = $state<string | null>(null);
  /** The picture in hand, as [block, number]; null: what the camera sees. */
  chosen = $state.raw<[string, number] | null>(null);
  /** What the picture in hand, or the last one taken, says. */
  told = $state.raw<Exposure | null>(null);
  asked = $state.raw<Schemas['Asked'] | null>(null);
  aim = $state.raw<Aim>(END);
  busy = $state(false);
  problem = $state('');
  notice = $state('');
  /** Files of a card on their way: how many are in, of how many. */
  card = $state.raw<{ done: number; of: number } | null>(null);
  /** Pictures that are not safe yet: they wait here. */
  unsent = $state.raw<readonly Waiting[]>([]);
  readonly history = new History();
  #stop = false;

  constructor(
    readonly production: string,
    readonly plateId: string,
  ) {}

  get path() {
    return `/api/productions/${this.production}`;
  }
  get blocks(): Block[] {
    return this.all?.blocks ?? [];
  }
  get block(): Block | null {
    return this.blocks.find((block) => block.id === this.blockId) ?? null;
  }
  /** Every picture of the film, in its order. */
  readonly film = $derived.by<Shown[]>(() =>
    this.blocks.flatMap((block) =>
      block.exposures.map((row, i) => ({ block, row, picture: block.first + i })),
    ),
  );
  get inHand(): Shown | null {
    const chosen = this.chosen;
    if (!chosen) return null;
    return (
      this.film.find(({ block, row }) => block.id === chosen[0] && row.number === chosen[1]) ?? null
    );
  }
  /** Which picture of the film is taken next. */
  readonly next = $derived.by(() => {
    const block = this.block;
    if (!block) return this.film.length + 1;
    const aim = this.aim;
    if (aim.kind === 'end') return block.first + block.exposures.length;
    const at = block.exposures.findIndex((row) => row.number === aim.number);
    return block.first + at + (aim.kind === 'after' ? 1 : 0);
  });
  /** The pictures around the next one, nearest first: what is laid over the live one. */
  around(before: number, after: number): Shown[] {
    const at = this.next;
    const skip = this.aim.kind === 'instead' ? 1 : 0;
    return [
      ...this.film.filter(({ picture }) => picture < at).slice(-before || this.film.length),
      ...(after ? this.film.filter(({ picture }) => picture >= at + skip).slice(0, after) : []),
    ];
  }

  look(block: string, number: number) {
    return `${this.path}/blocks/${block}/exposures/${number}/look`;
  }

  async load() {
    const params = { path: { production_id: this.production, pk: this.plateId } };
    this.all = await ask(() =>
      api.GET('/api/productions/{production_id}/plates/{pk}/blocks', { params }),
    );
    if (!this.block) this.blockId = this.blocks.at(-1)?.id ?? null;
  }

  /** What the sheet asks before the next picture. */
  async ask() {
    const params = {
      path: { production_id: this.production, pk: this.plateId, picture: this.next },
    };
    this.asked = await ask(() =>
      api.GET('/api/productions/{production_id}/plates/{pk}/asked/{picture}', { params }),
    );
  }

  /** Run something that may be refused; why it was. */
  async #failure(what: () => Promise<void>): Promise<Failure | null> {
    try {
      await what();
      this.problem = '';
      return null;
    } catch (error) {
      this.problem = (error as Error).message;
      return error instanceof Failure ? error : new Failure(422, this.problem);
    }
  }

  /** The same; whether it went. */
  async #try(what: () => Promise<void>): Promise<boolean> {
    return (await this.#failure(what)) === null;
  }

  begin(name = '') {
    return this.#try(async () => {
      const params = { path: { production_id: this.production, pk: this.plateId } };
      const made = await ask(() =>
        api.POST('/api/productions/{production_id}/plates/{pk}/blocks', {
          params,
          body: { id: crypto.randomUUID(), name },
        }),
      );
      await this.load();
      this.blockId = made.id;
      this.aim = END;
      this.chosen = null;
    });
  }

  /** Take what the source shows: it is told of once it is safe. */
  async take(source: Source, simulated: boolean) {
    if (this.busy) return;
    let still: Blob | null = null;
    this.busy = true;
    const went = await this.#try(async () => {
      still = await source.still();
    });
    this.busy = false;
    if (!went || !still) return;
    // What waits from before comes first.
    await this.#keep([...this.unsent, new Waiting(still, simulated ? 'simulated' : 'camera')]);
  }

  async #taken({ data, from, id: key }: Waiting) {
    const block = this.block;
    if (!block) return;
    const aim = this.aim;
    const query = {
      id: key,
      source: from,
      revision: block.revision,
      ...(aim.kind === 'instead' ? { instead: aim.number } : {}),
      ...(aim.kind === 'after' ? { after: aim.number } : {}),
    };
    const made = await ask(() =>
      api.POST('/api/productions/{production_id}/blocks/{pk}/exposures', {
        params: { path: { production_id: this.production, pk: block.id }, query },
        ...whole(data),
      }),
    );
    this.#stands(made.block);
    this.told = made.exposure as Exposure;
    this.chosen = null;
    const number = made.exposure.number;
    if (made.elsewhere) {
      this.notice = `Another window has changed this block meanwhile; yours is picture ${made.exposure.picture}.`;
    } else {
      const { id } = block;
      const put = behind(number, before(orderOf(made.block), number));
      if (aim.kind === 'instead')
        this.#remember('Take again', id, instead(aim.number, number), instead(number, aim.number));
      else this.#remember('Take', id, without(number), put);
    }
    // What is put in goes on behind itself; what is taken again is done.
    if (aim.kind === 'instead') this.aim = END;
    if (aim.kind === 'after') this.aim = { kind: 'after', number };
  }

  /** A block as it stands now; what follows it in the film moves along. */
  #stands(block: Block) {
    if (!this.all) return;
    let first = 1;
    const blocks = this.all.blocks.map((one) => {
      const kept = { ...(one.id === block.id ? block : one), first };
      first += kept.exposures.length;
      return kept;
    });
    this.all = { ...this.all, blocks };
  }

  #remember(label: string, id: string, undo: Change, redo: Change) {
    this.history.push({
      label,
      undo: () => void this.#order(id, undo),
      redo: () => void this.#order(id, redo),
    });
  }

  async #order(id: string, change: Change) {
    const block = this.blocks.find((one) => one.id === id);
    if (!block) return false;
    return this.#change(block, { order: change(orderOf(block)) });
  }

  #change(block: Block, changes: { order?: number[]; name?: string; reference?: number | null }) {
    return this.#try(async () => {
      try {
        const kept = await ask(() =>
          api.PATCH('/api/productions/{production_id}/blocks/{pk}', {
            params: { path: { production_id: this.production, pk: block.id } },
            body: { revision: block.revision, ...changes },
          }),
        );
        this.#stands(kept);
        if (this.chosen && !this.inHand) this.chosen = null;
        if (this.aim.kind !== 'end' && !this.#holds(kept, this.aim.number)) this.aim = END;
      } catch (error) {
        if (error instanceof Failure && error.status === 409) {
          this.#stands((error.body as { current: Block }).current);
          this.notice =
            'Another window has changed this block meanwhile; here is what stands now. Do it again if you still want it.';
          return;
        }
        throw error;
      }
    });
  }

  #holds(block: Block, number: number) {
    return block.exposures.some((row) => row.number === number);
  }

  async drop(shown: Shown) {
    const { id } = shown.block;
    const { number } = shown.row;
    const back = behind(number, before(orderOf(shown.block), number));
    if (await this.#order(id, without(number)))
      this.#remember('Drop a picture', id, back, without(number));
  }

  /** Take a dropped picture in again, where it was taken: behind those that were taken before. */
  async fetch(block: Block, number: number) {
    const earlier = orderOf(block).filter((one) => one < number);
    const back = behind(number, earlier.length ? Math.max(...earlier) : null);
    if (await this.#order(block.id, back))
      this.#remember('Fetch a picture back', block.id, without(number), back);
  }

  rename(block: Block, name: string) {
    return this.#change(block, { name });
  }
  compare(block: Block, number: number) {
    return this.#change(block, { reference: number });
  }

  /** The picture that a set which is built again has to continue: the last one before the block. */
  readonly continues = $derived.by<Shown | null>(() => {
    const block = this.block;
    if (!block || block.exposures.length) return null;
    return this.film.filter(({ picture }) => picture < block.first).at(-1) ?? null;
  });
  rebuilt = $state.raw<Rebuilt | null>(null);
  /** Whether the set is compared again and again, while hands move it. */
  comparing = $state(false);

  async compareSet(source: Source) {
    const then = this.continues;
    if (!then || this.comparing) return;
    this.comparing = true;
    this.rebuilt = null;
    // What stands in between is read anew meanwhile: the same picture is another object then.
    const same = (one: Shown | null) =>
      one?.block.id === then.block.id && one.row.number === then.row.number;
    while (this.comparing && same(this.continues)) {
      const went = await this.#try(async () => {
        const data = await source.still();
        this.rebuilt = await ask(() =>
          api.POST('/api/productions/{production_id}/blocks/{pk}/exposures/{number}/rebuilt', {
            params: {
              path: { production_id: this.production, pk: then.block.id, number: then.row.number },
            },
            ...whole(data),
          }),
        );
      });
      if (!went) break;
      await new Promise((done) => setTimeout(done, PAUSE_MS));
    }
    this.comparing = false;
  }

  async choose(shown: Shown | null) {
    this.chosen = shown ? [shown.block.id, shown.row.number] : null;
    if (!shown) return;
    const { block, row } = shown;
    await this.#try(async () => {
      const told = await ask(() =>
        api.GET('/api/productions/{production_id}/blocks/{pk}/exposures/{number}', {
          params: { path: { production_id: this.production, pk: block.id, number: row.number } },
        }),
      );
      // Another one is in hand by now.
      if (this.chosen?.[0] === block.id && this.chosen[1] === row.number)
        this.told = told as Exposure;
    });
  }

  /** One picture further in the film, or back; behind the last is what the camera sees. */
  step(by: number) {
    const film = this.film;
    const at = this.inHand ? film.indexOf(this.inHand) : film.length;
    const to = Math.min(Math.max(at + by, 0), film.length);
    return this.choose(film[to] ?? null);
  }

  /** Files of a camera's card, in the order of their numbers, one after another. */
  async files(files: File[]) {
    const sorted = inOrder(files);
    const waiting = sorted.map((file) => new Waiting(file, 'card', file.name));
    if (!(await this.#keep(waiting))) return;
    const gaps = missing(sorted.map((file) => file.name));
    if (gaps) this.notice = `All ${sorted.length} files are in, but ${gaps}.`;
  }

  /** Go on with what could not be kept: a second try makes no second picture. */
  goOn() {
    return this.#keep(this.unsent);
  }

  /** Keep pictures one after another; whether all are. What is left waits for a person. */
  async #keep(waiting: readonly Waiting[]): Promise<boolean> {
    if (this.busy || !waiting.length) return false;
    this.busy = true;
    this.#stop = false;
    this.unsent = waiting;
    const of = waiting.length;
    try {
      if (!this.block && !(await this.begin())) return false;
      for (const [i, one] of waiting.entries()) {
        if (of > 1) this.card = { done: i, of };
        if (this.#stop) {
          this.notice = `Stopped: ${i} of ${of} files are in.`;
          return false;
        }
        const failed = await this.#failure(() => this.#taken(one));
        if (failed && !failed.passing) {
          // What is no picture will be none the next time.
          this.unsent = waiting.slice(i + 1);
          const named = one.name ? `${one.name}: ` : '';
          this.problem = `${named}${failed.message}${of > 1 || one.name ? ` ${i} of ${of} files are in.` : ''}`;
          return false;
        }
        if (failed) {
          this.problem = `${failed.message} ${of - i === 1 ? 'The picture waits' : `${of - i} pictures wait`} here.`;
          return false;
        }
        this.unsent = waiting.slice(i + 1);
      }
      return true;
    } finally {
      this.card = null;
      this.busy = false;
    }
  }
  stop() {
    this.#stop = true;
  }
}
