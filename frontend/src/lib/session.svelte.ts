/** Who is signed in. */

import { api, ask, type Schemas } from './api/client';

let session = $state<Schemas['Session'] | null>(null);
/** Set while a sign-in over the page is wanted because the session ran out. */
let waiting = $state<(() => void)[]>([]);

export const who = {
  get session() {
    return session;
  },
  get signedIn() {
    return session?.user != null;
  },
  get asksAgain() {
    return waiting.length > 0;
  },
  async load() {
    session = await ask(() => api.GET('/api/session'));
  },
  async signIn(username: string, password: string) {
    session = await ask(() => api.POST('/api/session', { body: { username, password } }));
    const resume = waiting;
    waiting = [];
    for (const go of resume) go();
  },
  /** An account of one's own; `invitation`: the key of the one that lets it be made. */
  async signUp(username: string, password: string, invitation = '') {
    session = await ask(() =>
      api.POST('/api/accounts', { body: { username, password, invitation } }),
    );
  },
  async signOut() {
    session = await ask(() => api.DELETE('/api/session'));
  },
  async changePassword(old: string, next: string) {
    session = await ask(() => api.POST('/api/password', { body: { old, new: next } }));
  },
  /** Set a new password by a one-time link, and be signed in. */
  async newPassword(key: string, password: string) {
    session = await ask(() => api.POST('/api/password/by-link', { body: { key, new: password } }));
  },
  /** Resolves after the next sign-in; the page shows a sign-in over what is there. */
  again(): Promise<void> {
    return new Promise((resolve) => waiting.push(resolve));
  },
};
