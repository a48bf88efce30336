import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Sketches, type Mark, type Sketch } from './sketches.svelte';

const json = (body: unknown, status = 200) =>
  new Response(status === 204 ? null : JSON.stringify(body), {
    status,
    headers: { 'Content-Type': 'application/json' },
  });

const sketch = (id: string): Sketch => ({
  id,
  revision: 1,
  title: id,
  note: '',
  kind: 'sketch',
  position: 1,
  planned: true,
  shot_id: 's',
  width_px: 1280,
  height_px: 536,
  drawn: true,
  stale: false,
  annotations: [
    {
      id: `${id}-line`,
      revision: 1,
      layer: 'matte',
      name: 'Line',
      note: '',
      points: [
        [0, 0.5],
        [1, 0.5],
      ],
      distance_m: null,
      height_m: null,
    },
  ],
});

/** A server small enough to read: keeps marks, counts questions. */
class SmallServer {
  marks: Record<string, Mark> = {};
  judged = 0;
  refuse = '';
  slow: (() => void) | null = null;

  handle = vi.fn(async (request: Request) => {
    const path = new URL(request.url).pathname.replace('/api/productions/p', '');
    if (path === '') return json({ id: 'p', name: 'Film', role: 'owner' });
    if (path.endsWith('/report')) {
      this.judged += 1;
      return json({ crossings: [], findings: [], camera_known: 'planned' });
    }
    if (request.method === 'GET') {
      return json({
        number: '13',
        title: 'Heron',
        delivery_width_px: 1920,
        layers: [],
        sketches: [sketch('one'), sketch('two')],
      });
    }
    if (this.refuse) return json({ message: this.refuse, fields: {} }, 422);
    const id = path.split('/').at(-1) ?? '';
    if (request.method === 'DELETE') {
      delete this.marks[id];
      return json(null, 204);
    }
    const body = JSON.parse(await request.clone().text()) as Mark;
    if (request.method === 'PATCH') {
      const before = this.marks[id] ?? sketch('one').annotations[0]!;
      this.marks[id] = { ...before, ...body, id, revision: body.revision + 1 };
      return json(this.marks[id]);
    }
    this.marks[body.id] = { distance_m: null, height_m: null, ...body, revision: 1 };
    return json(this.marks[body.id]);
  });
}

describe('the pictures of a shot', () => {
  let server: SmallServer;
  let room: Sketches;
  beforeEach(async () => {
    server = new SmallServer();
    vi.stubGlobal('fetch', server.handle);
    room = new Sketches('p', 's');
    await room.load();
  });

  it('opens the first picture with its marks, and asks what they say', async () => {
    expect(room.open?.id).toBe('one');
    expect(room.marks.map((m) => m.id)).toEqual(['one-line']);
    await vi.waitFor(() => expect(room.report?.camera_known).toBe('planned'));
  });

  it('draws a mark, takes it back, and draws it again with the same id', async () => {
    await room.add('split', [
      [0.5, 0],
      [0.5, 1],
    ]);
    const id = room.selected;
    expect(id && server.marks[id]?.layer).toBe('split');
    room.history.undo();
    await vi.waitFor(() => expect(Object.keys(server.marks)).toEqual([]));
    room.history.redo();
    await vi.waitFor(() => expect(Object.keys(server.marks)).toEqual([id]));
  });

  it('chooses nothing while a new mark is on its way', async () => {
    room.selected = 'one-line';
    const adding = room.add('tracking', [[0.5, 0.5]]);
    expect(room.selected).toBeNull();
    await adding;
    expect(room.selected).not.toBeNull();
  });

  it('moves a mark as one step, and asks again what crosses', async () => {
    await vi.waitFor(() => expect(server.judged).toBe(1));
    const line = room.marks[0]!;
    const from = line.draft.points;
    room.change(
      line,
      'points',
      [
        [0, 0.2],
        [1, 0.2],
      ],
      from,
    );
    await vi.waitFor(() => expect(server.marks['one-line']?.points[0]).toEqual([0, 0.2]));
    await vi.waitFor(() => expect(server.judged).toBe(2));
    room.history.undo();
    await vi.waitFor(() => expect(server.marks['one-line']?.points[0]).toEqual([0, 0.5]));
  });

  it('removes a mark and fetches it back whole', async () => {
    await room.remove(room.marks[0]!);
    expect(room.marks).toEqual([]);
    room.history.undo();
    await vi.waitFor(() => expect(server.marks['one-line']?.name).toBe('Line'));
  });

  it('says what is refused and keeps the picture', async () => {
    server.refuse = 'A picture holds 300 marks; remove one first.';
    await room.add('matte', [
      [0, 0],
      [1, 1],
    ]);
    expect(room.notice).toBe('A picture holds 300 marks; remove one first.');
    expect(room.marks).toHaveLength(1);
    expect(room.history.canUndo).toBe(false);
  });

  it('turns to another picture without its old marks', () => {
    room.show(room.page.sketches[1]!);
    expect(room.marks.map((m) => m.id)).toEqual(['two-line']);
    room.show(null);
    expect(room.marks).toEqual([]);
    expect(room.open).toBeNull();
  });
});
