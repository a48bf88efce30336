/** Long work of a component. */

import type { LongWork } from './long-work.svelte';

/** A piece of long work that is made anew, and the one before no longer watched, whenever what
 * `make` reads is other; asked for while a component is set up, read wherever it is used. */
export function watched(make: () => LongWork): () => LongWork {
  const work = $derived(make());
  $effect(() => {
    const mine = work;
    return () => mine.dispose();
  });
  return () => work;
}
