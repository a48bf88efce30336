/** A browser's passkeys, as the server's JSON has them (W3C Web Authentication, level 3). */

export const mayUse = () =>
  globalThis.isSecureContext &&
  typeof globalThis.PublicKeyCredential?.parseRequestOptionsFromJSON === 'function';

export const NO_PASSKEYS =
  'This browser shows no passkeys here: it is too old, or the page was not fetched safely (https, or localhost).';

type Told = Record<string, unknown>;

function answered(credential: Credential | null): Told {
  if (!(credential instanceof PublicKeyCredential)) throw new Error('No passkey was shown.');
  return credential.toJSON() as unknown as Told;
}

/** What a person can act on: the browser tells of a refusal, a wait that ran out and a device that
 * is known already by the name of an error. */
function said(error: unknown): Error {
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError') return new Error('No passkey was shown, or it took too long.');
  if (name === 'InvalidStateError') return new Error('This device has a passkey here already.');
  return error instanceof Error ? error : new Error(String(error));
}

/** Make one; the answer for the server. Throws an Error with a sentence. */
export async function make(options: Told): Promise<Told> {
  if (!mayUse()) throw new Error(NO_PASSKEYS);
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(
    options as unknown as PublicKeyCredentialCreationOptionsJSON,
  );
  return navigator.credentials.create({ publicKey }).then(answered, (error: unknown) => {
    throw said(error);
  });
}

/** Show one; the answer for the server. Throws an Error with a sentence. */
export async function show(options: Told): Promise<Told> {
  if (!mayUse()) throw new Error(NO_PASSKEYS);
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(
    options as unknown as PublicKeyCredentialRequestOptionsJSON,
  );
  return navigator.credentials.get({ publicKey }).then(answered, (error: unknown) => {
    throw said(error);
  });
}
