/** Pictures on their way to the server: several at once, paused, taken up again, given up. They go
 * on while their screen is left; a window that is closed is asked first. */

import { api, ask, csrfToken, Failure, type Schemas } from '../api/client';
import type { Group } from './groups';

export type Picture = Schemas['PictureOut'];
/** Where a picture can hang: on one of these at most. */
export const PLACES = ['take_id', 'plate_id', 'shot_id', 'lens_id'] as const;
/** Where a picture hangs, and what it is for. */
export type Place = Partial<Record<(typeof PLACES)[number], string>> & {
  role?: 'recorded' | 'reference';
};
/** A picture as it is named, where nothing else is said of it. */
export const FRESH = {
  role: 'recorded' as const,
  note: '',
  put_away: false,
  picked_in: 1,
  marks: [] as Schemas['MarkInPicture'][],
  edges: [] as Schemas['EdgeInPicture'][],
  uprights: [] as Schemas['UprightInPicture'][],
  balls: [] as Schemas['BallInPicture'][],
  board_way: '' as const,
  elsewhere: false,
};
export type SendState = 'waiting' | 'sending' | 'paused' | 'stopped' | 'done';

/** Bytes in a part, and how many pictures are sent at once. */
const PART = 8 << 20;
const AT_ONCE = 2;
/** How long it waits before it tries again, milliseconds; after the last it stops by itself. */
const RETRY_MS = [0, 1000, 3000, 5000, 10_000, 20_000, 30_000, 60_000];

/** The library that sends: fetched once somebody sends something. */
let fetched: Promise<typeof import('tus-js-client')> | null = null;
const library = () => (fetched ??= import('tus-js-client'));

type Part = { id: string; file: File; received: number };

/** One picture on its way. */
export class Sent {
  state = $state<SendState>('waiting');
  /** Bytes that the server has for sure, and that are on the way. */
  done = $state(0);
  /** Why it stopped. */
  problem = $state('');
  #upload: { abort: () => Promise<void> } | null = null;

  constructor(
    readonly production: string,
    readonly id: string,
    readonly name: string,
    readonly place: Place,
    private readonly parts: Part[],
  ) {
    this.done = parts.reduce((sum, part) => sum + part.received, 0);
  }

  get size() {
    return this.parts.reduce((sum, part) => sum + part.file.size, 0);
  }

  /** Send what is left; ends when all is there, it was paused, or it cannot go on. */
  async send() {
    this.state = 'sending';
    this.problem = '';
    try {
      for (const part of this.parts) {
        if (part.received < part.file.size) await this.#one(part);
        if (this.state !== 'sending') return;
      }
      this.state = 'done';
    } catch (error) {
      if (this.state !== 'sending') return;
      this.state = 'stopped';
      this.problem = (error as Error).message;
    }
  }

  async pause() {
    this.state = 'paused';
    await this.#upload?.abort();
  }

  async #one(part: Part) {
    const { Upload } = await library();
    const others = this.parts
      .filter((one) => one !== part)
      .reduce((sum, one) => sum + one.received, 0);
    await new Promise<void>((resolve, reject) => {
      const upload = new Upload(part.file, {
        uploadUrl: `/api/productions/${this.production}/uploads/${part.id}`,
        chunkSize: PART,
        retryDelays: RETRY_MS,
        storeFingerprintForResuming: false,
        onBeforeRequest: (request) => request.setHeader('X-CSRFToken', csrfToken()),
        onProgress: (sent) => (this.done = others + sent),
        onChunkComplete: (_, accepted) => (part.received = accepted),
        onSuccess: () => {
          part.received = part.file.size;
          this.done = others + part.file.size;
          resolve();
        },
        onError: (error) => reject(new Error(sentence(error))),
      });
      this.#upload = {
        abort: async () => {
          await upload.abort();
          resolve();
        },
      };
      upload.start();
    });
    this.#upload = null;
  }
}

/** What the server said of why, or that it said nothing. */
function sentence(error: unknown): string {
  const response = (error as { originalResponse?: { getBody(): string } | null }).originalResponse;
  if (!response)
    return 'The server cannot be reached. What has arrived is kept; go on when it can.';
  try {
    const told = JSON.parse(response.getBody()) as { message?: string };
    if (told.message) return told.message;
  } catch {
    // The head of an answer has no words.
  }
  return 'The server does not take it. What has arrived is kept; try to go on.';
}

/** Everything that is being sent to a production. */
export class Sendings {
  list = $state.raw<Sent[]>([]);
  problem = $state('');
  /** Told when a picture was named and when it has arrived. */
  #told: (() => void)[] = [];

  constructor(readonly production: string) {}

  /** What still goes on, or waits for somebody. */
  get open() {
    return this.list.filter((one) => one.state !== 'done');
  }
  of(place: Place) {
    return this.open.filter((one) =>
      PLACES.every((key) => (one.place[key] ?? null) === (place[key] ?? null)),
    );
  }

  /** Send groups of files to a place. Files of a picture that was begun before, in this window or
   * another, go on where they stopped: `begun` are the pictures that have not arrived yet. */
  async add(groups: Group[], place: Place, begun: Picture[] = []) {
    this.problem = '';
    for (const group of groups) {
      try {
        const before = begun.find(
          (picture) => sameFiles(picture, group) && !this.#busy(picture.id),
        );
        const picture = before ?? (await this.#named(group, place));
        const parts = group.files.map((file, n): Part => {
          const there = picture.coming.find((one) => one.position === n);
          return { id: there?.id ?? '', file, received: there?.received ?? file.size };
        });
        const old = this.list.find((one) => one.id === picture.id);
        const sent = new Sent(this.production, picture.id, picture.name, place, parts);
        this.list = [...this.list.filter((one) => one !== old), sent];
        this.#changed();
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        this.problem = `${group.name}: ${error.message}`;
      }
      this.#go();
    }
  }

  #busy(id: string) {
    return this.list.some(
      (one) => one.id === id && (one.state === 'sending' || one.state === 'waiting'),
    );
  }

  #named(group: Group, place: Place) {
    const files = group.files.map((file) => ({
      name: file.name.slice(-255),
      size: file.size,
      path: '',
      sha256: '',
    }));
    return ask(() =>
      api.POST('/api/productions/{production_id}/pictures', {
        params: { path: { production_id: this.production } },
        body: { ...FRESH, id: crypto.randomUUID(), name: group.name, files, ...place },
      }),
    );
  }

  /** Go on with one that was paused or stopped. */
  resume(one: Sent) {
    one.state = 'waiting';
    this.#go();
  }
  resumeAll() {
    for (const one of this.open) if (one.state !== 'sending') one.state = 'waiting';
    this.#go();
  }
  async pauseAll() {
    await Promise.all(this.open.map((one) => one.pause()));
  }

  /** Give it up: what has arrived of it is removed. */
  async cancel(one: Sent) {
    await one.pause();
    this.list = this.list.filter((other) => other !== one);
    try {
      await ask(() =>
        api.DELETE('/api/productions/{production_id}/pictures/{pk}', {
          params: { path: { production_id: this.production, pk: one.id } },
        }),
      );
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      this.problem = error.message;
    }
    this.#changed();
    this.#go();
  }

  #go() {
    const going = this.list.filter((one) => one.state === 'sending').length;
    for (const one of this.list.filter((o) => o.state === 'waiting').slice(0, AT_ONCE - going)) {
      void one.send().then(() => {
        this.#changed();
        this.#go();
      });
    }
  }
  #changed() {
    for (const told of this.#told) told();
  }
  /** Have somebody told; what is given back ends it. */
  watch(told: () => void): () => void {
    this.#told.push(told);
    return () => {
      this.#told = this.#told.filter((one) => one !== told);
    };
  }
}

function sameFiles(picture: Picture, group: Group): boolean {
  return (
    picture.state === 'coming' &&
    picture.file_count === group.files.length &&
    picture.coming.every((one) => {
      const file = group.files[one.position];
      return file !== undefined && file.name.slice(-255) === one.name && file.size === one.size;
    })
  );
}

const everywhere: Record<string, Sendings> = {};

/** What is being sent to a production, from whatever screen. */
export function sendingsOf(production: string): Sendings {
  return (everywhere[production] ??= new Sendings(production));
}

/** Whether closing the window would stop something that is being sent. */
export function sendingNow(): boolean {
  return Object.values(everywhere).some((one) => one.list.some((sent) => sent.state === 'sending'));
}
