/** Which picture is shown when, and pictures that are ready in time. */

/** Which picture (from 0) is shown at a frame (from 1) of the sheet, by the frames that pictures are
 * taken for. */
export function shownAt(frame: number, taken: readonly number[]): number {
  let low = 0;
  let high = taken.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((taken[middle] ?? 0) <= frame) low = middle + 1;
    else high = middle;
  }
  return Math.max(low - 1, 0);
}

/** The frames that so many pictures fill. */
export function framesOf(pictures: number, taken: readonly number[], frames: number): number {
  if (pictures <= 0) return 0;
  if (pictures < taken.length) return (taken[pictures] ?? 1) - 1;
  return frames + Math.max(pictures - taken.length, 0);
}

/** So many frames on it is looked for pictures that come. */
const LOOKED = 240;

/** The pictures (by what `of` says of a frame) that come next, from a frame on, at most so many;
 * after the last frame the first comes again. */
export function ahead(
  frame: number,
  frames: number,
  most: number,
  of: (frame: number) => string,
): string[] {
  const found: string[] = [];
  for (let n = frame; n < frame + Math.min(LOOKED, frames) && found.length < most; n += 1) {
    const one = of(((n - 1) % frames) + 1);
    if (!found.includes(one)) found.push(one);
  }
  return found;
}

/** A picture, decoded beside what goes on; whoever asked for it closes it. */
export const decoded = (url: string): Promise<ImageBitmap> =>
  fetch(url)
    .then((answer) => answer.blob())
    .then((blob) => createImageBitmap(blob));

/** Pictures fetched once and decoded ahead of their use. */
export class Decoded {
  #blobs = new Map<string, Promise<Blob>>();
  #ready = new Map<string, Promise<ImageBitmap>>();

  #blob(url: string): Promise<Blob> {
    let blob = this.#blobs.get(url);
    if (!blob) {
      blob = fetch(url).then((answer) => answer.blob());
      this.#blobs.set(url, blob);
    }
    return blob;
  }

  /** A picture, decoded beside what goes on. */
  bitmap(url: string): Promise<ImageBitmap> {
    let ready = this.#ready.get(url);
    if (!ready) {
      ready = this.#blob(url).then((blob) => createImageBitmap(blob));
      ready.catch(() => this.#ready.delete(url));
      this.#ready.set(url, ready);
    }
    return ready;
  }

  /** Let pictures go that are not shown soon. */
  keep(urls: readonly string[], shown: ImageBitmap | null) {
    for (const [url, ready] of this.#ready) {
      if (urls.includes(url)) continue;
      this.#ready.delete(url);
      void ready.then((bitmap) => bitmap !== shown && bitmap.close()).catch(() => undefined);
    }
  }

  clear() {
    this.keep([], null);
    this.#blobs.clear();
  }
}
