import { beforeEach, describe, expect, it, vi } from 'vitest';
import { OpenShot } from './open-shot.svelte';
import { NO_KIT, WORLD, type Plate, type Shot, type StandIn } from './plan';

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
  /** What the calculator says of plates. */
  told: object[] = [];
  release: (() => void) | null = null;
  slow = false;

  handle = vi.fn(async (request: Request) => {
    const path = new URL(request.url).pathname;
    const body = request.method === 'GET' ? null : await request.clone().text();
    const sent = body ? (JSON.parse(body) as Record<string, unknown>) : {};
    if (path === '/api/calc/kept') {
      this.calculations += 1;
      if (this.slow) await new Promise<void>((resolve) => (this.release = resolve));
      return json({ world: { outlines: [], horizon: null }, grips: [], plates: this.told });
    }
    if (path.endsWith('/kit')) return json(NO_KIT);
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
      beside: [],
      plates: all.filter((row) => 'scale' in row),
      stand_ins: all.filter((row) => !('scale' in row)),
    });
  });
}

let server: SmallServer;
let bench: OpenShot;
beforeEach(async () => {
  server = new SmallServer();
  vi.stubGlobal('fetch', server.handle);
  bench = new OpenShot('prod', 'shot');
  await bench.load();
});
const settled = () => new Promise((resolve) => setTimeout(resolve, 20));
const plate = () => bench.plates.find((p) => p.id === 'mill')!;

describe('an open shot', () => {
  it('opens on the first plate, with its things', () => {
    expect(bench.selected).toBe('mill');
    expect(bench.names).toEqual({ gate: 'Gate' });
    expect(bench.editable).toBe(true);
  });

  it('makes one undo step of a drag, to the centimetre, and saves it', async () => {
    for (let i = 0; i < 5; i += 1) bench.drags.move('gate', 0.1234, 0);
    expect(bench.dragging).toBe(true);
    bench.drags.drop('gate');
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
      alone: false,
    });
    await settled();
    expect((server.rows['mill'] as Plate).drop_m).toBe(0.015);
    bench.history.undo();
    await settled();
    expect((server.rows['mill'] as Plate).drop_m).toBe(0);
  });

  it('raises the world by the scale when a stage axis is dragged', async () => {
    bench.drags.raise(0.01);
    bench.drags.raised();
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

  it('asks again by itself after the server was away', async () => {
    vi.useFakeTimers();
    server.handle.mockImplementationOnce(async () => json({ message: 'Away' }, 503));
    await bench.compute();
    expect(bench.trouble).toBe('Away');
    expect(server.calculations).toBe(0);
    await vi.advanceTimersByTimeAsync(2500);
    expect(server.calculations).toBe(1);
    expect(bench.trouble).toBe('');
    // Somebody who has left is asked nothing any more.
    bench.dispose();
    server.handle.mockImplementationOnce(async () => json({ message: 'Away' }, 503));
    await bench.compute();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(server.calculations).toBe(1);
    vi.useRealTimers();
  });

  it('gives a stand-in to the plate that was added just before', async () => {
    void bench.making.addPlate('screen');
    await bench.making.addStandIn('figure');
    const added = bench.plates.find((p) => p.draft.kind === 'screen');
    expect(bench.chosenStandIn?.draft.plate_id).toBe(added?.id);
  });

  it('brings a removed stand-in back with the same id', async () => {
    const gate = bench.standIns[0]!;
    await bench.making.removeStandIn(gate);
    expect(bench.standIns).toHaveLength(0);
    bench.history.undo();
    await settled();
    expect(bench.standIns[0]?.id).toBe('gate');
    expect((server.rows['gate'] as StandIn).y_m).toBe(18);
  });

  it('removes a plate with what it films, and brings both back', async () => {
    server.rows['watcher'] = {
      id: 'watcher',
      revision: 1,
      name: 'Watcher',
      kind: 'figure',
      plate_id: null,
      looks_at_id: 'gate',
    } as StandIn;
    bench = new OpenShot('prod', 'shot');
    await bench.load();
    delete server.rows['gate'];
    Object.assign(server.rows['watcher']!, { looks_at_id: null });
    await bench.making.removePlate(bench.plates[0]!);
    expect(bench.plates).toHaveLength(0);
    expect(bench.standIns.map((s) => s.id)).toEqual(['watcher']);
    bench.history.undo();
    await settled();
    await settled();
    expect(bench.plates.map((p) => p.id)).toEqual(['mill']);
    expect((server.rows['gate'] as StandIn).plate_id).toBe('mill');
    expect((server.rows['watcher'] as StandIn).looks_at_id).toBe('gate');
  });

  it('says why something was refused and goes on', async () => {
    server.handle.mockImplementationOnce(async () =>
      json({ message: 'Mill has issued set cards', fields: {} }, 422),
    );
    await bench.making.removePlate(plate());
    expect(bench.notice).toContain('set cards');
    expect(bench.plates).toHaveLength(1);
    bench.selected = WORLD;
    expect(bench.plate).toBeNull();
  });
});

describe('glass chosen by hand', () => {
  beforeEach(async () => {
    Object.assign(server.rows['mill']!, { body_id: null, lens_id: null, room_id: null });
    bench = new OpenShot('prod', 'shot');
    await bench.load();
  });
  const asked = (only_place: string | null) => [
    {
      plate_id: 'mill',
      stage: {},
      findings: [],
      workings: {},
      unasked: [{ key: 'room', only_place }],
    },
  ];
  const room = () => (server.rows['mill'] as Plate).room_id ?? null;
  async function choose() {
    for (const [field, label] of Object.entries({ body_id: 'Body', lens_id: 'Lens' })) {
      const mode_id = field === 'body_id' ? { mode_id: 'mode' } : {};
      bench.chooseGlass(plate(), { [field]: 'one', ...mode_id }, label);
      await bench.compute();
      await settled();
    }
  }

  it('is followed by the only place that fits, as a step of its own', async () => {
    server.told = asked('garage');
    await choose();
    expect(room()).toBe('garage');
    bench.history.undo();
    await settled();
    expect(room()).toBe(null);
    expect(plate().draft.lens_id).toBe('one');
    // Taken back, it stays so: only the last of the glass brings it along.
    bench.chooseGlass(plate(), { lens_id: 'two' }, 'Lens');
    await bench.compute();
    expect(plate().draft.room_id ?? null).toBe(null);
  });

  it('waits for an answer that knows of the glass', async () => {
    // Asked before the lens was chosen, and told after.
    server.told = [{ ...asked(null)[0], stage: null, unasked: [] }];
    await choose();
    expect(room()).toBe(null);
    server.told = asked('garage');
    await bench.compute();
    await settled();
    expect(room()).toBe('garage');
  });

  it('is not where there is a choice, where one was made, or in a lock-off', async () => {
    server.told = asked(null);
    await choose();
    expect(room()).toBe(null);
    server.told = asked('garage');
    for (const own of [{ room_id: 'shed' }, { lock_group: 'A' }]) {
      bench.decide(plate(), { body_id: null, lens_id: null, room_id: null, ...own }, 'Begin anew');
      await settled();
      await choose();
      expect(room()).toBe(own.room_id ?? null);
    }
  });
});

describe('what moves together', () => {
  beforeEach(async () => {
    server.rows['wheel'] = {
      id: 'wheel',
      revision: 1,
      name: 'Wheel',
      kind: 'box',
      plate_id: 'mill',
      x_m: -1,
      y_m: 25,
    } as StandIn;
    bench = new OpenShot('prod', 'shot');
    await bench.load();
  });

  it('shifts all things of a plate in one step, none of them past the camera', async () => {
    bench.drags.shift('mill', 2.5);
    bench.drags.shift('mill', 1.5);
    bench.drags.shifted('mill');
    await settled();
    const at = (id: string) => (server.rows[id] as StandIn).y_m;
    expect([at('gate'), at('wheel')]).toEqual([22, 29]);
    bench.history.undo();
    await settled();
    expect([at('gate'), at('wheel')]).toEqual([18, 25]);
    expect(bench.history.canUndo).toBe(false);
    bench.history.redo();
    await settled();
    expect(at('wheel')).toBe(29);
    bench.drags.shift('mill', -1000);
    bench.drags.shifted('mill');
    await settled();
    expect([at('gate'), at('wheel')]).toEqual([0.05, 7.05]);
  });

  it('moves the focus while it is dragged and saves once at the end', async () => {
    bench.drags.focus(plate(), 17.123456789);
    bench.drags.focus(plate(), 21);
    expect(bench.dragging).toBe(true);
    expect((server.rows['mill'] as Plate).focus_world_m).toBeUndefined();
    bench.drags.focused(plate());
    await settled();
    expect((server.rows['mill'] as Plate).focus_world_m).toBe(21);
  });

  it('moves one lamp of several, to a tenth of a millimetre', async () => {
    const lamp = (x: number) => ({
      lamp_id: 'l',
      x_m: x,
      y_m: 1,
      z_m: 1,
      level: 1,
      gel: '' as const,
      upright: true,
      role: '' as const,
      key: '',
    });
    bench.change(plate(), 'lamps', [lamp(0), lamp(2)], 'Place lamps');
    bench.drags.moveLamp(plate(), 1, 0.12345678, 0.5, -0.25);
    bench.drags.lampMoved(plate());
    await settled();
    const kept = (server.rows['mill'] as Plate).lamps!;
    expect(kept[0]).toEqual(lamp(0));
    expect(kept[1]).toMatchObject({ x_m: 2.1235, y_m: 1.5, z_m: 0.75 });
    bench.history.undo();
    await settled();
    expect((server.rows['mill'] as Plate).lamps![1]).toEqual(lamp(2));
  });

  it('takes several decisions of the planner as one', async () => {
    bench.decide(plate(), { scale: 8, f_number: 11 }, 'Planner');
    await settled();
    expect(server.rows['mill']).toMatchObject({ scale: 8, f_number: 11 });
    bench.history.undo();
    await settled();
    expect((server.rows['mill'] as Plate).scale).toBe(12);
  });

  it('asks for the moment that is shown, but only where something moves', () => {
    bench.at = 0.5;
    expect(bench.moving).toBeFalsy();
    expect(bench.question()).toMatchObject({ at: 0, selected: 'mill', study: false });
    bench.live(bench.shot, 'move_right_m', 2);
    expect(bench.moving).toBe(true);
    expect(bench.question().at).toBe(0.5);
    expect(bench.frames).toBe(96);
    bench.selected = WORLD;
    expect(bench.question().selected).toBeNull();
  });
});

describe('a lock-off', () => {
  const LOCKED = {
    locked: ['f_number', 'focus_world_m'],
    unshared: { focus: ['focus_world_m'] },
    locks: [{ plate_ids: ['mill', 'twin'] }],
    plates: [],
  };
  beforeEach(async () => {
    const shared = { lock_group: 'A', f_number: 5.6, note: '' };
    Object.assign(server.rows['mill']!, shared);
    server.rows['twin'] = { ...(server.rows['mill'] as Plate), id: 'twin', name: 'Twin' };
    server.rows['other'] = {
      ...(server.rows['mill'] as Plate),
      id: 'other',
      lock_group: '',
    } as Plate;
    bench = new OpenShot('prod', 'shot');
    await bench.load();
    bench.report = LOCKED as never;
  });
  const stop = (id: string) => (server.rows[id] as Plate).f_number;

  it('changes what it shares on all of its plates, in one step', async () => {
    bench.change(plate(), 'f_number', 8, 'Stop');
    await settled();
    expect([stop('mill'), stop('twin'), stop('other')]).toEqual([8, 8, 5.6]);
    bench.history.undo();
    await settled();
    expect([stop('mill'), stop('twin')]).toEqual([5.6, 5.6]);
    expect(bench.history.canUndo).toBe(false);
    expect(bench.lockOf('twin')).toBe(LOCKED.locks[0]);
    expect(bench.lockOf('other')).toBeNull();
  });

  it('leaves its focus to a pass that is there for it', async () => {
    Object.assign(server.rows['twin']!, { pass_for: 'focus' });
    bench = new OpenShot('prod', 'shot');
    await bench.load();
    bench.report = LOCKED as never;
    bench.change(plate(), 'focus_world_m', 3, 'Focus');
    bench.change(plate(), 'f_number', 11, 'Stop');
    await settled();
    expect((server.rows['mill'] as Plate).focus_world_m).toBe(3);
    expect((server.rows['twin'] as Plate).focus_world_m).toBeUndefined();
    expect([stop('mill'), stop('twin')]).toEqual([11, 11]);
  });

  it('leaves what is a plate’s own to it', async () => {
    bench.change(plate(), 'note', 'the red coat', 'Note');
    await settled();
    expect((server.rows['mill'] as Plate).note).toBe('the red coat');
    expect((server.rows['twin'] as Plate).note).toBe('');
  });

  it('is joined again by one plate alone', async () => {
    const remedy = { sentence: '', effect: '', verdict: 'holds' as const };
    bench.apply(plate(), { ...remedy, changes: { f_number: 4 }, alone: true });
    await settled();
    expect([stop('mill'), stop('twin')]).toEqual([4, 5.6]);
  });

  it('and the shot, and its things, change by one remedy', async () => {
    bench.apply(plate(), {
      sentence: '',
      effect: '',
      verdict: 'holds',
      shot: { camera_height_m: 2.5 },
      things: { gate: { x_m: 7 } },
      alone: false,
    });
    await settled();
    expect(server.shot.camera_height_m).toBe(2.5);
    expect((server.rows['gate'] as StandIn).x_m).toBe(7);
    bench.history.undo();
    await settled();
    expect(server.shot.camera_height_m).toBe(1.1);
    expect((server.rows['gate'] as StandIn).x_m).toBe(6.4);
  });
});
