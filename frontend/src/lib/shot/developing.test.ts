import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '../api/client';
import type { OpenShot } from './open-shot.svelte';
import { Developing, type Developed } from './developing.svelte';

const picture = (id: string, plate: string | null, frame = 1, current = true): Developed => ({
  id,
  plate_id: plate,
  view_id: null,
  frame,
  width_px: 480,
  height_px: 201,
  made_at: '2026-11-28T06:00:00Z',
  current,
  change: {},
  at: [],
  remarks: [],
});

function desk(pictures: Developed[], plan: { value: number }) {
  const bench = { productionId: 'p', shotId: 's', view: null, plan: () => ({ ...plan }) };
  vi.spyOn(api, 'GET').mockResolvedValue({
    data: { missing: '', pictures },
    response: new Response(),
  } as never);
  return new Developing(bench as unknown as OpenShot);
}

afterEach(() => vi.restoreAllMocks());

describe('developed pictures', () => {
  it('shows the one of the frame in hand, else the newest of the same plate', async () => {
    const one = desk([picture('b', 'mill', 9), picture('a', 'mill'), picture('s', null)], {
      value: 1,
    });
    await one.list();
    expect(one.of('mill', 1)?.id).toBe('a');
    expect(one.of('mill', 3)?.id).toBe('b');
    expect(one.of(null, 1)?.id).toBe('s');
    expect(one.of('other', 1)).toBeNull();
  });

  it('stands no longer once the plan on the screen has moved on', async () => {
    const plan = { value: 1 };
    const one = desk([picture('a', 'mill'), picture('old', 'town', 1, false)], plan);
    await one.list();
    expect(one.stands(one.of('mill', 1)!)).toBe(true);
    expect(one.stands(one.of('town', 1)!)).toBe(false);
    plan.value = 2;
    expect(one.stands(one.of('mill', 1)!)).toBe(false);
    await one.list();
    expect(one.stands(one.of('mill', 1)!)).toBe(true);
  });

  it('keeps a place looked at closely apart from whole pictures', async () => {
    const close = { ...picture('c', 'mill', 9), at: [0.3, 0.4] };
    const one = desk([close, picture('a', 'mill'), picture('s', null)], { value: 1 });
    await one.list();
    expect(one.of('mill', 9)?.id).toBe('a');
    expect(one.closely('mill')?.id).toBe('c');
    expect(one.closely(null)).toBeNull();
    const post = vi.spyOn(api, 'POST').mockResolvedValue({
      data: { id: 'j', state: 'failed', problem: 'no', file_name: '' },
      response: new Response(),
    } as never);
    await one.look('mill', 9, [0.1, 0.2]);
    const body = (post.mock.calls[0]![1] as { body: { params: object } }).body;
    expect(body.params).toMatchObject({ plate_id: 'mill', frame: 9, at: [0.1, 0.2] });
    one.dispose();
  });

  it('tells what would be from what is planned, whatever the order of the names', async () => {
    const change = { changes: { iso: 800, f_number: 4 }, shot: {}, things: {}, alone: false };
    const kept = {
      ...picture('b', 'mill'),
      change: { alone: false, things: {}, shot: {}, changes: { f_number: 4, iso: 800 } },
    };
    const one = desk([kept, picture('a', 'mill')], { value: 1 });
    await one.list();
    expect(one.of('mill', 1)?.id).toBe('a');
    expect(one.of('mill', 1, change)?.id).toBe('b');
    expect(one.of('mill', 1, { ...change, changes: { iso: 400 } })).toBeNull();
    const post = vi.spyOn(api, 'POST').mockResolvedValue({
      data: { id: 'j', state: 'failed', problem: 'no', file_name: '' },
      response: new Response(),
    } as never);
    await one.develop('mill', 1, 480, change);
    const body = (post.mock.calls[0]![1] as { body: { params: { change: object } } }).body;
    expect(body.params.change).toEqual(change);
    one.dispose();
  });

  it('takes back what has not begun when nobody looks any more', async () => {
    const one = desk([], { value: 1 });
    const post = vi.spyOn(api, 'POST').mockImplementation(((path: string) =>
      Promise.resolve({
        data: { id: 'j', state: path.endsWith('cancel') ? 'cancelled' : 'waiting', file_name: '' },
        response: new Response(),
      })) as never);
    await one.develop('mill', 1);
    one.drop();
    const paths = post.mock.calls.map((call) => String(call[0]).split('/').at(-1));
    expect(paths).toEqual(['jobs', 'cancel']);
  });

  it('asks for a small picture of the plate', async () => {
    const one = desk([], { value: 1 });
    const post = vi.spyOn(api, 'POST').mockResolvedValue({
      data: { id: 'j', state: 'failed', problem: 'no', file_name: '' },
      response: new Response(),
    } as never);
    await one.develop('mill', 3);
    const body = (post.mock.calls[0]![1] as { body: { kind: string; params: object } }).body;
    expect(body.kind).toBe('develop');
    expect(body.params).toEqual({
      shot_id: 's',
      plate_id: 'mill',
      view_id: null,
      frame: 3,
      width: 480,
    });
    one.dispose();
  });
});
