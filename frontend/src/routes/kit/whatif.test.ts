import { beforeEach, describe, expect, it, vi } from 'vitest';
import { WhatIf } from './whatif.svelte';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
const shots = Array.from({ length: 23 }, (_, i) => ({ id: `s${i}` }));
let parts: string[][];
let during: () => void;
beforeEach(() => {
  parts = [];
  during = () => {};
  vi.stubGlobal('fetch', async (request: Request) => {
    if (request.method === 'GET') return json({ items: shots, count: shots.length });
    const body = (await request.json()) as { shots: string[] };
    parts.push(body.shots);
    during();
    return json({
      shots: body.shots.length,
      changes: body.shots.map((id) => ({ shot_id: id, plate_id: id, changed: true })),
    });
  });
});

describe('what if', () => {
  it('asks in parts, tells how far it is, and gathers everything in order', async () => {
    const what = new WhatIf('film');
    what.toggle('lens');
    const seen: number[] = [];
    during = () => seen.push(what.done);
    await what.run();
    expect(parts.map((p) => p.length)).toEqual([10, 10, 3]);
    expect(seen).toEqual([0, 10, 20]);
    expect(what.changes.map((c) => c.shot_id)).toEqual(shots.map((s) => s.id));
    expect([what.done, what.all, what.running]).toEqual([23, 23, false]);
  });

  it('stops when it is told to', async () => {
    const what = new WhatIf('film');
    during = () => what.stop();
    await what.run();
    expect(parts).toHaveLength(1);
    expect(what.running).toBe(false);
    expect(what.changes).toEqual([]);
  });

  it('says what went wrong', async () => {
    vi.stubGlobal('fetch', async () => json({ message: 'Gone.', fields: {} }, 404));
    const what = new WhatIf('film');
    await what.run();
    expect(what.problem).toBe('Gone.');
    expect(what.running).toBe(false);
  });
});
