import { beforeEach, describe, expect, it, vi } from 'vitest';
import { onSessionEnd } from '../../lib/api/client';
import { Ticks } from './ticks.svelte';

const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
const ticked = (...items: string[]) =>
  items.map((item) => ({ item, by: 'Nela', at: '2026-06-20T10:00:00Z' }));
const settled = () => new Promise((done) => setTimeout(done));

describe('what is ticked on a card', () => {
  const fetched = vi.fn<(request: Request) => Promise<Response>>();
  /** What was sent, in its order. */
  const sent = () =>
    Promise.all(fetched.mock.calls.map(([request]) => request.clone().json() as Promise<unknown>));
  beforeEach(() => {
    fetched.mockReset();
    localStorage.clear();
    vi.stubGlobal('fetch', fetched);
    onSessionEnd(() => Promise.resolve(false));
  });

  it('is shown at once, sent, and then told with who did it', async () => {
    fetched.mockImplementation(async () => answer(200, ticked('Focus')));
    const ticks = new Ticks('p', 'c', []);
    ticks.tick('Focus', true);
    expect(ticks.done('Focus')).toBe(true);
    expect(ticks.by('Focus')).toBeNull();
    await settled();
    expect(await sent()).toEqual([{ item: 'Focus', done: true }]);
    expect(ticks.by('Focus')?.by).toBe('Nela');
    expect(localStorage.length).toBe(0);
  });

  it('waits on the device without a connection, also for the next page', async () => {
    fetched.mockRejectedValue(new TypeError('Failed to fetch'));
    const ticks = new Ticks('p', 'c', ticked('Stop'));
    ticks.tick('Focus', true);
    ticks.tick('Stop', false);
    await settled();
    ticks.stop();
    expect(ticks.problem).toContain('cannot be reached');
    fetched.mockReset();
    fetched.mockImplementation(async () => answer(200, ticked('Focus')));
    const next = new Ticks('p', 'c', ticked('Stop'));
    expect([next.done('Focus'), next.done('Stop')]).toEqual([true, false]);
    await settled();
    expect(await sent()).toEqual([
      { item: 'Focus', done: true },
      { item: 'Stop', done: false },
    ]);
    expect([next.problem, localStorage.length]).toEqual(['', 0]);
  });

  it('keeps what an ended link would not take, and drops what will never be taken', async () => {
    fetched.mockImplementation(async () => answer(403, { message: 'This link was withdrawn' }));
    const ticks = new Ticks('p', 'c', []);
    ticks.tick('Focus', true);
    await settled();
    expect([ticks.problem, ticks.done('Focus')]).toEqual(['This link was withdrawn', true]);
    fetched.mockImplementation(async () => answer(422, { message: 'not on the card' }));
    await ticks.send();
    expect([ticks.problem, ticks.done('Focus')]).toEqual(['not on the card', false]);
    expect(localStorage.length).toBe(0);
  });

  it('ends as it was last set, however often it changes on the way', async () => {
    const answers: (() => void)[] = [];
    let there = false;
    fetched.mockImplementation(async (request) => {
      there = ((await request.clone().json()) as { done: boolean }).done;
      await new Promise<void>((done) => answers.push(done));
      return answer(200, there ? ticked('Focus') : []);
    });
    const ticks = new Ticks('p', 'c', []);
    ticks.tick('Focus', true);
    await settled();
    ticks.tick('Focus', false);
    answers.shift()?.();
    await settled();
    expect(ticks.done('Focus')).toBe(false);
    answers.shift()?.();
    await settled();
    expect([there, ticks.done('Focus'), localStorage.length]).toEqual([false, false, 0]);
  });
});
