/** Who is signed in. */

import { api, ask, type Schemas } from './api/client';

let session = $state<Schemas['Session'] | null>(null);
/** Set while a sign-in over the page is wanted because the session ran out. */
let waiting = $state<(() => void)[]>([]);
/** Set while the password is wanted once more for what cannot be called back. */
let unsure = $state<((yes: boolean) => void)[]>([]);

function goOn() {
  if (session?.user == null) return;
  const resume = waiting;
  waiting = [];
  for (const go of resume) go();
}

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
    goOn();
  },
  /** After the right password: a passkey, or a spare code. */
  async secondStep(shown: { credential?: Record<string, unknown>; code?: string }) {
    session = await ask(() =>
      api.POST('/api/session/passkey', {
        body: { credential: shown.credential ?? null, code: shown.code ?? '' },
      }),
    );
    goOn();
  },
  /** Not the passkey now: the password is asked again. */
  leaveDoor() {
    if (session) session = { ...session, passkey: null };
  },
  get asksProof() {
    return unsure.length > 0;
  },
  /** Resolves to whether they showed who they are; the page asks over what is there. */
  stillThem(): Promise<boolean> {
    return new Promise((resolve) => unsure.push(resolve));
  },
  isSure(yes: boolean) {
    const resume = unsure;
    unsure = [];
    for (const go of resume) go(yes);
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
