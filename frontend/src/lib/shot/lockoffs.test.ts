import { beforeEach, expect, it, vi } from 'vitest';
import { OpenShot } from './open-shot.svelte';
import { NO_KIT, type Plate } from './plan';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'Content-Type': 'application/json' },
  });

const plate = (name: string, lock_group: string, view_id: string | null = null) =>
  ({ id: name, revision: 1, name, kind: 'live', scale: 1, lock_group, view_id }) as Plate;

let plates: Plate[];
let beside: { plate: Partial<Plate>; shot: string; here: boolean; numbers: object }[];
let refused: object | null;
let asked: { path: string; body: unknown }[];
let shot: OpenShot;
beforeEach(async () => {
  plates = [plate('walk', 'hall'), plate('face', 'hall', 'close')];
  beside = [];
  refused = null;
  asked = [];
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname;
    const body = request.method === 'GET' ? null : await request.clone().json();
    asked.push({ path, body });
    if (path.endsWith('/kit')) return json(NO_KIT);
    if (path.endsWith('/prod')) return json({ id: 'prod', revision: 1, name: 'F', role: 'owner' });
    if (path.endsWith('/lockoffs/rename')) {
      if (refused) return json({ message: 'No.', fields: refused }, 422);
      const to = (body as { to: string }).to;
      plates = plates.map((p) => ({ ...p, lock_group: to, revision: p.revision + 1 }));
      return json([]);
    }
    if (path.endsWith('/lockoffs')) {
      const there = { id: 'p2', name: 'Empty', film_on: null, filmed: true };
      return json([
        {
          name: 'hall',
          shots: [
            { id: 'shot', number: '2', title: 'Here', plates: [] },
            { id: 'other', number: '5', title: 'There', plates: [there] },
          ],
        },
        { name: '2-A', shots: [] },
      ]);
    }
    if (request.method === 'PATCH') {
      const one = plates.find((p) => path.endsWith(p.id))!;
      Object.assign(one, body, { revision: one.revision + 1 });
      return json({ ...one });
    }
    return json({
      shot: { id: 'shot', revision: 1, number: '2', title: 'Here', views: [{ id: 'close' }] },
      plates,
      stand_ins: [],
      beside,
    });
  });
  shot = new OpenShot('prod', 'shot');
  await shot.load();
  await shot.lockoffs.ask();
});

it('knows what other shots film from a set-up, and names that are free', () => {
  expect(shot.lockoffs.elsewhere('hall').map((one) => one.id)).toEqual(['other']);
  expect(shot.lockoffs.elsewhere('stairs')).toEqual([]);
  expect(shot.lockoffs.free()).toBe('2-B');
});

it('asks anew for what is beside a plate when it goes into another lock-off, and back', async () => {
  beside = [
    { plate: { id: 'p2', lock_group: 'stairs' }, shot: 'shot 5', here: false, numbers: {} },
  ];
  const record = shot.allPlates[0]!;
  shot.alone(record, 'lock_group', 'stairs');
  shot.commitAll([record], 'Lock-off');
  await vi.waitFor(() => expect(shot.beside.map((one) => one.shot)).toEqual(['shot 5']));
  expect(shot.plan().beside?.length).toBe(1);
  beside = [];
  shot.history.undo();
  await vi.waitFor(() => expect(shot.beside).toEqual([]));
  expect(record.draft.lock_group).toBe('hall');
});

it('leaves out what the view in hand films itself', () => {
  shot.beside = [
    { plate: { id: 'walk', view_id: null }, shot: 'the first camera', here: true, numbers: {} },
    { plate: { id: 'face', view_id: 'close' }, shot: 'Close-up', here: true, numbers: {} },
  ] as unknown as typeof shot.beside;
  expect(shot.plan().beside?.map((one) => one.shot)).toEqual(['Close-up']);
  shot.look('close');
  expect(shot.plan().beside?.map((one) => one.shot)).toEqual(['the first camera']);
});

it('renames a set-up in every shot, or says why not', async () => {
  expect(await shot.lockoffs.rename('hall', 'The hall')).toBe('');
  expect(shot.allPlates.map((p) => p.draft.lock_group)).toEqual(['The hall', 'The hall']);
  expect(asked.some((one) => one.path.endsWith('/lockoffs/rename'))).toBe(true);
  refused = { to: 'Another lock-off is called that.' };
  expect(await shot.lockoffs.rename('The hall', '2-A')).toBe('Another lock-off is called that.');
});
