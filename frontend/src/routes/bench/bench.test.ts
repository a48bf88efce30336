import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Bench, WORLD } from './bench.svelte';
import type { Plate, Shot, StandIn } from './plan';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'Content-Type': 'application/json' },
  });

/** A server small enough to read, with the real one's addresses and revisions. */
class SmallServer {
  production = { id: 'prod', revision: 1, name: 'Heron', role: 'owner' };
  shot = { id: 'shot', revision: 1, number: '2', title: 'Mill', camera_height_m: 1.1 } as Shot;
  rows: Record<string, Plate | StandIn> = {
    mill: {
      id: 'mill',
      revision: 1,
      name: 'Mill',
      kind: 'miniature',
      scale: 12,
      drop_m: 0,
    } as Plate,
    gate: {
      id: 'gate',
      revision: 1,
      name: 'Gate',
      kind: 'box',
      plate_id: 'mill',
      x_m: 6.4,
      y_m: 18,
    } as StandIn,
  };
  calculations = 0;
  release: (() => void) | null = null;
  slow = false;

  handle = vi.fn(async (request: Request) => {
    const path = new URL(request.url).pathname;
    const body = request.method === 'GET' ? null : await request.clone().text();
    const sent = body ? (JSON.parse(body) as Record<string, unknown>) : {};
    if (path === '/api/calc/shot') {
      this.calculations += 1;
      if (this.slow) await new Promise<void>((resolve) => (this.release = resolve));
      return json({ world: { outlines: [], horizon: null }, grips: [], plates: [] });
    }
    if (path.endsWith('/kit')) return json({ bodies: [], lenses: [], lamps: [], rooms: [] });
    if (path.endsWith('/prod')) return json(this.production);
    const id = path.split('/').at(-1) ?? '';
    if (request.method === 'PATCH') {
      const row = id === 'shot' ? this.shot : this.rows[id];
      if (!row) return json({ message: 'gone', fields: {} }, 404);
      Object.assign(row, sent, { revision: row.revision + 1 });
      return json(row);
    }
    if (request.method === 'POST') {
      const made = { revision: 1, ...sent } as Plate;
      this.rows[made.id] = made;
      return json(made);
    }
    if (request.method === 'DELETE') {
      delete this.rows[id];
      return new Response(null, { status: 204 });
    }
    const all = Object.values(this.rows);
    return json({
      shot: this.shot,
      plates: all.filter((row) => 'scale' in row),
      stand_ins: all.filter((row) => !('scale' in row)),
    });
  });
}

let server: SmallServer;
let bench: Bench;
beforeEach(async () => {
  server = new SmallServer();
  vi.stubGlobal('fetch', server.handle);
  bench = new Bench('prod', 'shot');
  await bench.load();
});
const settled = () => new Promise((resolve) => setTimeout(resolve, 20));
const plate = () => bench.plates.find((p) => p.id === 'mill')!;

describe('the Bench', () => {
  it('opens on the first plate, with its things', () => {
    expect(bench.selected).toBe('mill');
    expect(bench.names).toEqual({ gate: 'Gate' });
    expect(bench.editable).toBe(true);
  });

  it('makes one undo step of a drag, to the centimetre, and saves it', async () => {
    for (let i = 0; i < 5; i += 1) bench.move('gate', 0.1234, 0);
    expect(bench.dragging).toBe(true);
    bench.drop('gate');
    await settled();
    expect((server.rows['gate'] as StandIn).x_m).toBe(7.02);
    bench.history.undo();
    await settled();
    expect((server.rows['gate'] as StandIn).x_m).toBe(6.4);
    expect(bench.history.canUndo).toBe(false);
  });

  it('applies all of a remedy at once and takes all of it back', async () => {
    bench.apply(plate(), {
      sentence: 'Let the base sit lower',
      effect: '',
      verdict: 'holds',
      changes: { drop_m: 0.015, axis_height_m: null },
    });
    await settled();
    expect((server.rows['mill'] as Plate).drop_m).toBe(0.015);
    bench.history.undo();
    await settled();
    expect((server.rows['mill'] as Plate).drop_m).toBe(0);
  });

  it('raises the world by the scale when a stage axis is dragged', async () => {
    bench.raise(0.01);
    bench.raised();
    await settled();
    expect(server.shot.camera_height_m).toBe(1.22);
  });

  it('computes the newest question only, however fast they come', async () => {
    server.slow = true;
    const first = bench.compute();
    for (let i = 0; i < 10; i += 1) void bench.compute();
    await settled();
    expect(server.calculations).toBe(1);
    server.slow = false;
    server.release?.();
    await first;
    expect(server.calculations).toBe(2);
  });

  it('gives a stand-in to the plate that was added just before', async () => {
    void bench.addPlate('screen');
    await bench.addStandIn('figure');
    const added = bench.plates.find((p) => p.draft.kind === 'screen');
    expect(bench.chosenStandIn?.draft.plate_id).toBe(added?.id);
  });

  it('brings a removed stand-in back with the same id', async () => {
    const gate = bench.standIns[0]!;
    await bench.removeStandIn(gate);
    expect(bench.standIns).toHaveLength(0);
    bench.history.undo();
    await settled();
    expect(bench.standIns[0]?.id).toBe('gate');
    expect((server.rows['gate'] as StandIn).y_m).toBe(18);
  });

  it('says why something was refused and goes on', async () => {
    server.handle.mockImplementationOnce(async () =>
      json({ message: 'Mill has issued set cards', fields: {} }, 422),
    );
    await bench.removePlate(plate());
    expect(bench.notice).toContain('set cards');
    expect(bench.plates).toHaveLength(1);
    bench.selected = WORLD;
    expect(bench.plate).toBeNull();
  });
});
