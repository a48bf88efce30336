import { beforeEach, describe, expect, it, vi } from 'vitest';
import { OpenShot } from './open-shot.svelte';
import { NO_KIT, WORLD, type Plate, type Shot, type StandIn } from './plan';
import { ahead, inWorld, newView, overlaid, type View } from './views';

const wide = { id: 'shot', revision: 1, number: '3', title: 'Kitchen', focal_mm: 30 } as Shot;
const close = {
  ...newView(wide, null),
  id: 'close',
  focal_mm: 80,
  stands_right_m: 1,
  stands_ahead_m: 2,
  turned_deg: 90,
} as View;

describe('a further camera', () => {
  it('has its own camera, and the rest of the shot', () => {
    const seen = overlaid(wide, close);
    expect([seen.focal_mm, seen.title, seen.id]).toEqual([80, 'Kitchen', 'shot']);
    expect(overlaid(wide, null)).toBe(wide);
    const lit = overlaid({ ...wide, key_from_deg: -120, camera_bearing_deg: 60 } as Shot, close);
    // Turned by a right angle to the right.
    expect([lit.key_from_deg, lit.camera_bearing_deg]).toEqual([150, 150]);
    expect([seen.key_from_deg, seen.camera_bearing_deg]).toEqual([null, null]);
  });

  it('begins as the one in hand, standing still, under a name that is free', () => {
    const first = newView({ ...wide, move_right_m: 2 } as Shot, null);
    expect([first.name, first.focal_mm, first.move_right_m]).toEqual(['Close-up', 30, 0]);
    const second = newView({ ...wide, views: [first] } as Shot, close);
    expect([second.name, second.turned_deg]).toEqual(['Insert', 90]);
    expect(second.id).not.toBe(close.id);
  });

  it('turned to the right sees to its right what is nearer to us', () => {
    const [x, y] = inWorld(close, 1, 0);
    expect([x, y]).toEqual([expect.closeTo(0), expect.closeTo(-1)]);
    expect(inWorld(close, 0, 2)).toEqual([expect.closeTo(2), expect.closeTo(0)]);
    expect(inWorld(null, 3, 4)).toEqual([3, 4]);
    // Three metres to its place's right is ahead of it.
    expect(ahead(close, 4, 2)).toBeCloseTo(3);
    expect(ahead(null, 4, 2)).toBe(2);
  });
});

describe('on the Bench', () => {
  let stored: Record<string, unknown>;
  let asked: { views: View[]; plates: string[]; view: unknown }[];
  let bench: OpenShot;
  const settled = () => new Promise((done) => setTimeout(done, 5));
  beforeEach(async () => {
    stored = { ...wide, views: [close] };
    asked = [];
    const plate = (id: string, view: string | null) =>
      ({ id, revision: 1, name: id, kind: 'live', view_id: view }) as Plate;
    const thing = (id: string, plate: string | null) =>
      ({ id, revision: 1, name: id, kind: 'box', plate_id: plate, x_m: 5, y_m: 2 }) as StandIn;
    vi.stubGlobal('fetch', async (request: Request) => {
      const answer = (body: unknown) =>
        new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } });
      const path = new URL(request.url).pathname;
      const sent = request.method === 'GET' ? null : await request.clone().json();
      if (path.endsWith('/kit')) return answer(NO_KIT);
      if (path === '/api/calc/kept') {
        asked.push({
          views: sent.plan.shot.views,
          plates: sent.plan.plates.map((p: Plate) => p.id),
          view: sent.view_id,
        });
        return answer({ plates: [], locks: [], locked: [], unshared: {} });
      }
      if (request.method === 'PATCH') {
        stored = { ...stored, ...sent, revision: Number(stored.revision) + 1 };
        return answer(path.includes('/shots/') ? stored : { id: path.split('/').at(-1), ...sent });
      }
      if (path.includes('/shots/')) {
        return answer({
          shot: stored,
          plates: [plate('half', null), plate('face', 'close'), plate('lost', 'gone')],
          beside: [],
          stand_ins: [thing('ansa', 'half'), thing('head', 'face'), thing('tree', null)],
        });
      }
      return answer({ id: 'prod', revision: 1, name: 'Heron', role: 'owner' });
    });
    bench = new OpenShot('prod', 'shot');
    await bench.load();
  });

  it('shows the plates and things of the view in hand, and scenery', () => {
    expect(bench.plates.map((p) => p.id)).toEqual(['half', 'lost']);
    bench.look('close');
    expect(bench.plates.map((p) => p.id)).toEqual(['face']);
    expect(bench.standIns.map((s) => s.id)).toEqual(['head', 'tree']);
    expect([bench.selected, bench.shot.draft.focal_mm]).toEqual([WORLD, 80]);
  });

  it('asks for that view alone', async () => {
    bench.look('close');
    await bench.compute();
    bench.look(null);
    await bench.compute();
    expect(asked.map(({ plates, view }) => [plates, view])).toEqual([
      [['face'], 'close'],
      [['half', 'lost'], null],
    ]);
    expect(asked[1]?.views).toEqual([]);
  });

  it('keeps what is the view’s in the view, and what is the shot’s in the shot', async () => {
    bench.look('close');
    bench.change(bench.shot, 'focal_mm', 100, 'Focal length');
    bench.change(bench.shot, 'padding', 0.1, 'Padding');
    await settled();
    expect([stored.focal_mm, stored.padding]).toEqual([30, 0.1]);
    expect((stored.views as View[])[0]?.focal_mm).toBe(100);
    bench.history.undo();
    bench.history.undo();
    await settled();
    expect((stored.views as View[])[0]?.focal_mm).toBe(80);
  });

  it('drags a thing as its own camera sees it', () => {
    bench.look('close');
    const before = bench.standIns[0]!.draft;
    expect([before.x_m, before.y_m]).toEqual([5, 2]);
    bench.drags.move('head', 0, -1);
    // The camera looks along the world's right.
    expect([bench.standIns[0]!.draft.x_m, bench.standIns[0]!.draft.y_m]).toEqual([4, 2]);
    bench.drags.move('head', 0, -99);
    expect(bench.standIns[0]!.draft.x_m).toBeCloseTo(1.05);
  });

  it('is added, named, removed and undone', async () => {
    bench.making.addView();
    await settled();
    const made = bench.view!;
    expect(made.name).toBe('Insert');
    expect((stored.views as View[]).map((v) => v.name)).toEqual(['Close-up', 'Insert']);
    bench.making.removeView(made.id);
    await settled();
    expect(bench.view).toBeNull();
    expect(stored.views).toHaveLength(1);
    bench.history.undo();
    await settled();
    expect(stored.views).toHaveLength(2);
  });
});
