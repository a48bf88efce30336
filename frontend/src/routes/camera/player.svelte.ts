/** The film so far, played at the rate of the delivery with its holds. */

import { ahead, Decoded, framesOf, shownAt } from './timing';
import type { Shown } from './table.svelte';

/** Pictures that are ready before they are shown. */
const AHEAD = 12;

export class Player {
  playing = $state(false);
  /** The frame shown, from 1. */
  frame = $state(1);
  picture = $state.raw<ImageBitmap | null>(null);
  /** Frames that came too late to be shown. */
  late = $state(0);
  readonly #decoded = new Decoded();
  #going = 0;

  constructor(readonly url: (shown: Shown) => string) {}

  async play(film: Shown[], taken: readonly number[], frames: number, fps: number) {
    const all = framesOf(film.length, taken, frames);
    if (!all) return;
    const going = ++this.#going;
    this.playing = true;
    this.late = 0;
    const urls = film.map((shown) => this.url(shown));
    const urlAt = (frame: number) =>
      urls[
        Math.min(
          frame > frames ? taken.length + frame - frames - 1 : shownAt(frame, taken),
          urls.length - 1,
        )
      ] ?? '';
    const soon = (frame: number) => ahead(frame, all, AHEAD, urlAt);
    await Promise.allSettled(soon(1).map((url) => this.#decoded.bitmap(url)));
    if (going !== this.#going) return;
    const start = performance.now();
    let last = 0;
    const step = async (now: number): Promise<void> => {
      if (going !== this.#going) return;
      const count = Math.max(Math.floor(((now - start) / 1000) * fps), 0);
      const at = 1 + count;
      if (at !== last) {
        if (last > 0) this.late += Math.max(at - last - 1, 0);
        last = at;
        const frame = ((at - 1) % all) + 1;
        const wanted = soon(frame);
        for (const url of wanted) void this.#decoded.bitmap(url).catch(() => undefined);
        const bitmap = await this.#decoded.bitmap(urlAt(frame)).catch(() => null);
        if (going !== this.#going) return;
        if (bitmap) this.picture = bitmap;
        this.frame = frame;
        this.#decoded.keep(wanted, this.picture);
      }
      requestAnimationFrame((time) => void step(time));
    };
    requestAnimationFrame((time) => void step(time));
  }

  hold() {
    this.#going += 1;
    this.playing = false;
  }

  dispose() {
    this.hold();
    this.picture = null;
    this.#decoded.clear();
  }
}
