/** What work answers when it could not be done now and is worth trying again by itself. */
export const LATER = Symbol('later');
const RETRY_MS = 2000;

/** One piece of work at a time; while it runs only the newest call waits behind it, so that a drag
 * is answered as fast as the server can and never by an old answer after a new one. */
export function newest(work: () => Promise<unknown>): () => Promise<void> {
  let running = false;
  let again = false;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  return async function call() {
    clearTimeout(waiting);
    if (running) {
      again = true;
      return;
    }
    running = true;
    let later: boolean;
    try {
      do {
        again = false;
        later = (await work()) === LATER;
      } while (again);
    } finally {
      running = false;
    }
    if (later) waiting = setTimeout(() => void call(), RETRY_MS);
  };
}
