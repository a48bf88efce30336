import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Sendings, type Picture } from './sending.svelte';

/** What stands in for the library that sends: each upload is driven by the test. */
type Options = {
  uploadUrl: string;
  onProgress: (sent: number) => void;
  onChunkComplete: (size: number, accepted: number) => void;
  onSuccess: () => void;
  onError: (error: unknown) => void;
};
const uploads: { file: File; options: Options; aborted: boolean; started: number }[] = [];
vi.mock('tus-js-client', () => ({
  Upload: class {
    #mine;
    constructor(file: File, options: Options) {
      this.#mine = { file, options, aborted: false, started: 0 };
      uploads.push(this.#mine);
    }
    start() {
      this.#mine.started += 1;
    }
    async abort() {
      this.#mine.aborted = true;
    }
  },
}));

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
let asked: { method: string; path: string; body: Record<string, unknown> | null }[];
let refuse = '';

beforeEach(() => {
  uploads.length = 0;
  asked = [];
  refuse = '';
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname.replace('/api/productions/film', '');
    const text = await request.clone().text();
    const body = text ? JSON.parse(text) : null;
    asked.push({ method: request.method, path, body });
    if (refuse) return json({ message: refuse, fields: {} }, 422);
    if (request.method === 'DELETE') return new Response(null, { status: 204 });
    const files = body.files as { name: string; size: number }[];
    return json({
      id: body.id,
      name: body.name,
      coming: files.map((f, n) => ({ ...f, id: `${body.name}-${n}`, position: n, received: 0 })),
    });
  });
});

const group = (name: string, size = 100, count = 1) => ({
  name,
  files: Array.from(
    { length: count },
    (_, n) => new File([new Uint8Array(size)], `${name}${n}.mov`),
  ),
});
const begun = async (count: number) => {
  await vi.waitFor(() => expect(uploads.filter((u) => u.started)).toHaveLength(count));
};

describe('sending', () => {
  it('names a picture, sends it, and tells once it is there', async () => {
    const sendings = new Sendings('film');
    const told = vi.fn();
    sendings.watch(told);
    await sendings.add([group('A')], { take_id: 't' });
    await begun(1);
    expect(asked[0]?.body).toMatchObject({ name: 'A', take_id: 't', role: 'recorded' });
    expect(uploads[0]?.options.uploadUrl).toBe('/api/productions/film/uploads/A-0');
    uploads[0]?.options.onProgress(40);
    expect(sendings.list[0]?.done).toBe(40);
    expect(sendings.of({ take_id: 't' })).toHaveLength(1);
    expect(sendings.of({ shot_id: 's' })).toHaveLength(0);
    told.mockClear();
    uploads[0]?.options.onSuccess();
    await vi.waitFor(() => expect(sendings.list[0]?.state).toBe('done'));
    await vi.waitFor(() => expect(told).toHaveBeenCalled());
    expect(sendings.open).toHaveLength(0);
  });

  it('sends two at once, and the files of one picture one after the other', async () => {
    const sendings = new Sendings('film');
    await sendings.add([group('A', 10, 2), group('B'), group('C')], {});
    await begun(2);
    expect(sendings.list.map((one) => one.state)).toEqual(['sending', 'sending', 'waiting']);
    uploads[0]?.options.onSuccess();
    await begun(3);
    expect(uploads[2]?.options.uploadUrl).toContain('A-1');
    expect(sendings.list[0]?.done).toBe(10);
    uploads[2]?.options.onSuccess();
    await begun(4);
    expect(uploads[3]?.options.uploadUrl).toContain('C-0');
  });

  it('pauses and goes on, and lets the next one go meanwhile', async () => {
    const sendings = new Sendings('film');
    await sendings.add([group('A'), group('B'), group('C')], {});
    await begun(2);
    const [first] = sendings.list;
    if (!first) throw new Error('nothing is being sent');
    await first.pause();
    expect(uploads[0]?.aborted).toBe(true);
    expect(first.state).toBe('paused');
    await begun(3);
    uploads[1]?.options.onSuccess();
    uploads[2]?.options.onSuccess();
    sendings.resume(first);
    await begun(4);
    expect(first.state).toBe('sending');
  });

  it('says why it stopped, in the words of the server or its own', async () => {
    const sendings = new Sendings('film');
    await sendings.add([group('A'), group('B')], {});
    await begun(2);
    uploads[0]?.options.onError({ originalResponse: null });
    const body = JSON.stringify({ message: 'These are more.' });
    uploads[1]?.options.onError({ originalResponse: { getBody: () => body } });
    await vi.waitFor(() =>
      expect(sendings.list.map((one) => one.state)).toEqual(['stopped', 'stopped']),
    );
    expect(sendings.list[0]?.problem).toMatch(/cannot be reached/);
    expect(sendings.list[1]?.problem).toBe('These are more.');
    sendings.resumeAll();
    await begun(4);
  });

  it('takes up a picture that was begun before, by its files', async () => {
    const sendings = new Sendings('film');
    const half = {
      id: 'p',
      name: 'A',
      state: 'coming',
      file_count: 2,
      // The first of the two has arrived.
      coming: [{ id: 'f1', position: 1, name: 'A1.mov', size: 100, received: 60 }],
    } as unknown as Picture;
    await sendings.add([group('A', 100, 2)], {}, [half]);
    await begun(1);
    expect(asked).toHaveLength(0);
    expect(uploads[0]?.options.uploadUrl).toContain('uploads/f1');
    expect(sendings.list[0]?.done).toBe(160);
    // Another file of that name is another picture.
    await sendings.add([group('A', 99, 2)], {}, [half]);
    expect(asked).toHaveLength(1);
  });

  it('gives one up, and says what cannot be named at all', async () => {
    const sendings = new Sendings('film');
    await sendings.add([group('A')], {});
    await begun(1);
    const [first] = sendings.list;
    if (!first) throw new Error('nothing is being sent');
    await sendings.cancel(first);
    expect(asked.at(-1)).toMatchObject({ method: 'DELETE', path: `/pictures/${first.id}` });
    expect(sendings.list).toEqual([]);
    refuse = '200 more GB do not fit.';
    await sendings.add([group('B')], {});
    expect(sendings.problem).toBe('B: 200 more GB do not fit.');
    expect(sendings.list).toEqual([]);
  });
});
