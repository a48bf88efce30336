import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, ask, Failure, onSessionEnd, onUnsure } from './client';

const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'Content-Type': 'application/json' },
  });

describe('asking the server', () => {
  const fetched = vi.fn<(request: Request) => Promise<Response>>();
  beforeEach(() => {
    fetched.mockReset();
    vi.stubGlobal('fetch', fetched);
    onSessionEnd(() => Promise.reject(new Error('nobody signs in')));
  });

  it('hands back the data', async () => {
    fetched.mockResolvedValue(answer(200, { user: 'ansa', may_sign_up: true }));
    const session = await ask(() => api.GET('/api/session'));
    expect(session.user).toBe('ansa');
  });

  it('sends the token with every edit and with no reading', async () => {
    document.cookie = 'csrftoken=tide';
    fetched.mockImplementation(async () => answer(200, {}));
    await ask(() => api.GET('/api/session'));
    await ask(() => api.DELETE('/api/session'));
    const [reading, edit] = fetched.mock.calls.map(([request]) => request);
    expect(reading?.headers.get('X-CSRFToken')).toBeNull();
    expect(edit?.headers.get('X-CSRFToken')).toBe('tide');
  });

  it('turns a refusal into a failure that names its fields', async () => {
    fetched.mockResolvedValue(answer(422, { message: 'scale must', fields: { scale: 'must' } }));
    const failure = await ask(() => api.GET('/api/session')).catch((error: unknown) => error);
    expect(failure).toBeInstanceOf(Failure);
    expect(failure).toMatchObject({
      status: 422,
      message: 'scale must',
      fields: { scale: 'must' },
    });
  });

  it('says that the network is not there', async () => {
    fetched.mockRejectedValue(new TypeError('Failed to fetch'));
    const failure = await ask(() => api.GET('/api/session')).catch((error: unknown) => error);
    expect(failure).toMatchObject({ status: 0 });
    expect((failure as Failure).message).toContain('cannot be reached');
  });

  it('never hides a mistake of its own behind the network', async () => {
    await expect(ask(() => Promise.reject(new RangeError('ours')))).rejects.toThrow('ours');
  });

  it('has words for an answer without any', async () => {
    fetched.mockResolvedValue(new Response('<h1>Bad gateway</h1>', { status: 502 }));
    const failure = await ask(() => api.GET('/api/session')).catch((error: unknown) => error);
    expect((failure as Failure).message).toContain('The server stumbled');
  });

  it('asks again after a new sign-in, so that nothing typed is lost', async () => {
    const again = vi.fn().mockResolvedValue(true);
    onSessionEnd(again);
    fetched
      .mockResolvedValueOnce(answer(401, { message: 'Sign in' }))
      .mockResolvedValueOnce(answer(200, { user: 'ansa', may_sign_up: true }));
    const session = await ask(() => api.GET('/api/session'));
    expect(session.user).toBe('ansa');
    expect(again).toHaveBeenCalledOnce();
  });

  it('asks nobody to sign in who came without an account', async () => {
    onSessionEnd(() => Promise.resolve(false));
    fetched.mockResolvedValue(answer(401, { message: 'Sign in' }));
    const failure = await ask(() => api.GET('/api/session')).catch((error: unknown) => error);
    expect(failure).toMatchObject({ status: 401 });
    expect(fetched).toHaveBeenCalledOnce();
  });

  it('asks for the password once more and goes on, or tells why it does not', async () => {
    const said = { message: 'give it once more', fields: { proof: 'give it once more' } };
    const shown = vi.fn().mockResolvedValueOnce(true).mockResolvedValueOnce(false);
    onUnsure(shown);
    fetched
      .mockResolvedValueOnce(answer(403, said))
      .mockResolvedValueOnce(answer(200, { user: 'ansa', may_sign_up: true }))
      .mockResolvedValue(answer(403, said));
    const session = await ask(() => api.GET('/api/session'));
    expect(session.user).toBe('ansa');
    const failure = await ask(() => api.GET('/api/session')).catch((error: unknown) => error);
    expect(failure).toMatchObject({ status: 403, message: 'give it once more' });
    expect(shown).toHaveBeenCalledTimes(2);
  });
});
