/** One piece of work at a time; while it runs only the newest call waits behind it, so that a drag
 * is answered as fast as the server can and never by an old answer after a new one. */
export function newest(work: () => Promise<void>): () => Promise<void> {
  let running = false;
  let again = false;
  return async () => {
    if (running) {
      again = true;
      return;
    }
    running = true;
    try {
      do {
        again = false;
        await work();
      } while (again);
    } finally {
      running = false;
    }
  };
}
