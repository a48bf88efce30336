/** The API, typed from its own description, with CSRF and one shape of failure. */

import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Verdict = Schemas['Verdict'];

export function csrfToken(): string {
  return /(?:^|; )(?:__Host-)?csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? '';
}

const withCsrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken());
    return request;
  },
};

export const api = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? 'http://127.0.0.1',
  // Looked up at each call, so that tests can stand in for the network.
  fetch: (request: Request) => globalThis.fetch(request),
});
api.use(withCsrf);

/** Why something did not work: a sentence, sentences per field, and the status (0: no network). */
export class Failure extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string> = {},
    readonly body: unknown = null,
  ) {
    super(message);
  }

  /** The network, the server or its database is away for a while: asking again will do. A mistake
   * of the server's own (500) would only be made again. */
  get passing() {
    return this.status === 0 || (this.status >= 502 && this.status <= 504);
  }
}

export type Answer<T> = { data?: T; error?: unknown; response: Response };

function failureOf(status: number, body: unknown): Failure {
  const told = (typeof body === 'object' && body !== null ? body : {}) as {
    message?: string;
    fields?: Record<string, string>;
  };
  const fallback =
    status >= 500
      ? 'The server stumbled; nothing was changed. Try again in a moment.'
      : `The server answered ${status}.`;
  return new Failure(status, told.message ?? fallback, told.fields ?? {}, body);
}

/** Called when the session has run out; resolves to true once somebody has signed in again, to false
 * where nobody is asked to. */
let signInAgain: (() => Promise<boolean>) | null = null;
export function onSessionEnd(handler: () => Promise<boolean>) {
  signInAgain = handler;
}

/** Called when something wants the password once more; resolves to whether it was given. */
let showAgain: (() => Promise<boolean>) | null = null;
export function onUnsure(handler: () => Promise<boolean>) {
  showAgain = handler;
}

/**
 * Run a call and hand back its data; throw `Failure` otherwise. A session that has run out asks
 * for a new sign-in and then runs the call again, so that nothing typed is lost; so does what wants
 * the password once more.
 */
export async function ask<T>(call: () => Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call();
  } catch (error) {
    // `fetch` reports a network that is not there as a TypeError; anything else is our mistake.
    if (!(error instanceof TypeError)) throw error;
    throw new Failure(0, 'The server cannot be reached; what you typed is kept here.');
  }
  if (answer.response.status === 401 && signInAgain && (await signInAgain())) return ask(call);
  if (answer.response.ok) return answer.data as T;
  const failure = failureOf(answer.response.status, answer.error);
  if (failure.status === 403 && failure.fields.proof && showAgain && (await showAgain())) {
    return ask(call);
  }
  throw failure;
}
