/** Which rows of a long list have come near the part that is looked at: only those are made. */

import { SvelteSet } from 'svelte/reactivity';

/** Rows at the top are made at once; this far beyond what is looked at others are made too. */
const FIRST = 40;
const NEAR = '1200px';

export class SeenRows {
  readonly #seen = new SvelteSet<string>();
  #observer: IntersectionObserver | null = null;

  constructor() {
    if (typeof IntersectionObserver === 'undefined') return;
    this.#observer = new IntersectionObserver(
      (entries) => {
        for (const { isIntersecting, target } of entries) {
          const id = (target as HTMLElement).dataset['shot'];
          if (isIntersecting && id) this.#seen.add(id);
        }
      },
      { rootMargin: `${NEAR} 0px` },
    );
  }

  /** Whether a row is to be made in full. */
  has(id: string, place: number) {
    return place < FIRST || this.#observer === null || this.#seen.has(id);
  }

  /** Make a row that somebody goes to. */
  show(id: string) {
    this.#seen.add(id);
  }

  /** Attach to what stands in for a row until it comes near. */
  readonly watch = (element: HTMLElement) => {
    this.#observer?.observe(element);
    return () => this.#observer?.unobserve(element);
  };

  dispose() {
    this.#observer?.disconnect();
  }
}
