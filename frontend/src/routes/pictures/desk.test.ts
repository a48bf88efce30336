import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Picture } from '../../lib/pictures/sending.svelte';
import { PictureDesk } from './desk.svelte';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

/** A picture that is being measured, as the server has it; findings follow from its board. */
let stored: Picture;
/** So many times it is measured just before an edit comes. */
let faster = 0;
beforeEach(() => {
  const measuring = { job_id: 'job', part: 0, note: '' };
  stored = { id: 'clip', name: 'C0042', revision: 3, state: 'read', measuring } as never;
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname.replace('/api/productions/film', '');
    if (path === '') return json({ role: 'owner' });
    if (request.method === 'PATCH') {
      const sent = (await request.json()) as Picture;
      if (faster > 0) {
        faster -= 1;
        stored = { ...stored, revision: stored.revision + 1 };
      }
      if (sent.revision !== stored.revision) return json({ message: 'Changed.' }, 409);
      Object.assign(stored, sent, { revision: stored.revision + 1 });
      return json(stored);
    }
    if (path === '/pictures/clip') {
      const sentence = `Taken to stand ${stored.board_up_m ?? 0.65} m above the floor.`;
      return json({ ...stored, findings: [{ sentence }] });
    }
    return json({ pictures: [stored], more: false, quota: { used: 0, most: 1 } });
  });
});

describe('a picture in hand', () => {
  it('is told anew once it was edited, though its measuring goes on', async () => {
    const desk = new PictureDesk('film');
    await desk.load();
    await vi.waitFor(() => expect(desk.whole?.findings[0]?.sentence).toContain('0.65 m'));
    await desk.edit(stored, { board_up_m: 0.6 }, 'the board');
    await vi.waitFor(() => expect(desk.whole?.findings[0]?.sentence).toContain('0.6 m'));
    expect(desk.whole?.measuring).not.toBeNull();
    desk.dispose();
  });

  it('is saved though measurings change it again and again, not over what somebody decided', async () => {
    const desk = new PictureDesk('film');
    await desk.load();
    faster = 3;
    await desk.edit(stored, { note: 'ours' }, 'the note');
    expect([stored.note, desk.notice]).toEqual(['ours', '']);
    stored = { ...stored, note: 'theirs', revision: stored.revision + 1 };
    await desk.edit(stored, { note: 'ours again' }, 'the note');
    expect([stored.note, desk.notice]).toEqual(['theirs', 'Changed.']);
    desk.dispose();
  });
});
