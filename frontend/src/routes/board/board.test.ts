import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Board } from './board.svelte';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

const row = (id: string) => ({
  id,
  revision: 1,
  number: id,
  title: `Shot ${id}`,
  action: '',
  place: '',
  time_of_day: '',
  screen_time_s: 4,
  variant_of: null,
  sketch: null,
  recipes: [],
  plates: [],
  set_hours: { low: 0, likely: 0, high: 0 },
  post_hours: { low: 0, likely: 0, high: 0 },
  logged: 0,
  readiness: 0,
  next: 'Choose',
  forgotten: [],
  unread_cautions: 0,
  continuity: [],
});

/** A server small enough to read: keeps an order and says what it was asked. */
class SmallServer {
  order = ['a', 'b', 'c', 'd'];
  asked: { path: string; body: Record<string, unknown> }[] = [];
  judged: string[][] = [];
  filmed: string[][] = [];
  /** Shots of which something was filmed. */
  taken: string[] = [];
  refuse = '';

  handle = vi.fn(async (request: Request) => {
    const url = new URL(request.url);
    const path = url.pathname.replace('/api/productions/p', '');
    if (path === '') return json({ id: 'p', revision: 1, name: 'Film', role: 'owner' });
    if (path === '/board') {
      const rows = this.order.map((id) => {
        const plates = this.taken.includes(id) ? [{ id: 'p', step: 3 }] : [];
        return { ...row(id), plates };
      });
      return json({ rows, steps: { undo: null, redo: null } });
    }
    if (path === '/board/verdicts') {
      const ids = url.searchParams.getAll('shots');
      this.judged.push(ids);
      return json(
        ids.map((id) => ({ id, next: '', verdict: 'holds', title: '', sentence: '', plates: {} })),
      );
    }
    if (path === '/filmed') {
      const ids = url.searchParams.getAll('shots');
      this.filmed.push(ids);
      const take = { take_id: 't', name: 'Mill, 1A take 2', sentence: 'Go again.' };
      return json(ids.map((id) => ({ id, verdict: 'breaks', ...take })));
    }
    if (path === '/jobs' && request.method === 'GET') return json([]);
    const body = JSON.parse(await request.clone().text()) as Record<string, unknown>;
    if (path === '/jobs') {
      this.asked.push({ path, body });
      return json({ id: 'j', kind: body['kind'], state: 'waiting', mine: true });
    }
    this.asked.push({ path, body });
    if (this.refuse) return json({ message: this.refuse, fields: {} }, 422);
    if (path === '/board/order') {
      const ids = body['ids'] as string[];
      const rest = this.order.filter((id) => !ids.includes(id));
      const before = body['before'] as string | null;
      const place = before === null ? rest.length : rest.indexOf(before);
      this.order = [...rest.slice(0, place), ...ids, ...rest.slice(place)];
    }
    return json({ step: { id: 1, label: '', at: '', undone: false, made: [] } });
  });
}

describe('the Board', () => {
  let server: SmallServer;
  let board: Board;
  beforeEach(async () => {
    server = new SmallServer();
    vi.stubGlobal('fetch', server.handle);
    board = new Board('p');
    await board.load();
  });

  it('judges every shot in batches', async () => {
    server.order = Array.from({ length: 45 }, (_, i) => `s${i}`);
    await board.load();
    await vi.waitFor(() => expect(board.verdicts.size).toBeGreaterThanOrEqual(45));
    expect(server.judged.slice(-3).map((ids) => ids.length)).toEqual([20, 20, 5]);
  });

  it('asks what was filmed only of shots that have takes', async () => {
    expect(server.filmed).toEqual([]);
    server.taken = ['b', 'd'];
    await board.load();
    await vi.waitFor(() => expect([...board.filmed.keys()]).toEqual(['b', 'd']));
    expect(server.filmed).toEqual([['b', 'd']]);
    board.filter = { ...board.filter, trouble: 'filmed' };
    expect(board.shown.map((one) => one.id)).toEqual(['b', 'd']);
    // Takes that went away take their verdict with them.
    server.taken = ['d'];
    await board.load();
    expect([...board.filmed.keys()]).toEqual(['d']);
  });

  it.each([
    ['a', true, 'bacd'],
    ['c', true, 'abdc'],
    ['d', true, 'abcd'],
    ['b', false, 'bacd'],
    ['a', false, 'abcd'],
  ])('nudges %s (down: %s)', async (id, down, order) => {
    board.at = id;
    await board.nudge(down);
    expect(board.rows.map((r) => r.id).join('')).toBe(order);
  });

  it('moves several together, kept in their order', async () => {
    board.toggle('a');
    board.toggle('b');
    await board.nudge(true);
    expect(board.rows.map((r) => r.id).join('')).toBe('cabd');
  });

  it('chooses a range with Shift', () => {
    board.toggle('b');
    board.toggle('d', true);
    expect([...board.chosen].sort()).toEqual(['b', 'c', 'd']);
    board.toggle('c');
    expect(board.targets).toEqual(['b', 'd']);
  });

  it('asks before it removes what has cards or takes', async () => {
    board.toggle('a');
    await board.remove();
    expect(server.asked.map((one) => one.path)).toEqual(['/board/remove']);
    board.chosen.clear();
    board.rows = board.rows.map((one) =>
      one.id === 'b' ? { ...one, plates: [{ step: 3 } as never] } : one,
    );
    board.toggle('b');
    board.toggle('c');
    await board.remove();
    expect(board.asking?.map((one) => one.id)).toEqual(['b']);
    expect(server.asked).toHaveLength(1);
    await board.removeNow();
    expect(board.asking).toBeNull();
    expect(server.asked[1]?.body).toEqual({ ids: ['b', 'c'] });
  });

  it('says what the server refuses, and looks again', async () => {
    server.refuse = 'One of these shots is no longer there.';
    board.at = 'a';
    await board.remove();
    expect(board.notice).toBe('One of these shots is no longer there.');
    expect(board.rows).toHaveLength(4);
  });

  it('shows a move at once, before the server has answered, and takes it back if refused', async () => {
    board.at = 'a';
    const moving = board.nudge(true);
    expect(board.rows.map((r) => r.id).join('')).toBe('bacd');
    await moving;
    expect(server.order.join('')).toBe('bacd');
    server.refuse = 'Somebody else was quicker.';
    await board.nudge(true);
    expect(board.notice).toBe('Somebody else was quicker.');
    expect(board.rows.map((r) => r.id).join('')).toBe('bacd');
  });

  it('has many copies made behind the scenes', async () => {
    server.order = Array.from({ length: 25 }, (_, i) => `s${i}`);
    await board.load();
    board.chooseAll();
    await board.duplicate();
    expect(server.asked.map((one) => one.path)).toEqual(['/jobs']);
    expect(server.asked[0]?.body).toMatchObject({
      kind: 'duplicate',
      params: { ids: server.order },
    });
    expect(board.copies.open).toBe(true);
    board.dispose();
  });

  it('does not move a shot before itself', async () => {
    await board.move(['a'], 'a');
    expect(server.asked).toEqual([]);
  });

  it('lets go of what is no longer there', async () => {
    board.toggle('a');
    server.order = ['b'];
    await board.load();
    expect(board.chosen.size).toBe(0);
    expect(board.at).toBeNull();
  });
});
