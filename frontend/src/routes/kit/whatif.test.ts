import { beforeEach, describe, expect, it, vi } from 'vitest';
import { WhatIf } from './whatif.svelte';

const json = (body: unknown) =>
  new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } });
let asked: { kind: string; params: Record<string, unknown> }[];
beforeEach(() => {
  asked = [];
  vi.stubGlobal('fetch', async (request: Request) => {
    const sent = await request.text();
    if (sent) asked.push(JSON.parse(sent));
    const result = { shots: 1, changes: [{ shot_id: 's', plate_id: 'p', changed: true }] };
    const state = sent ? 'waiting' : 'done';
    return json({ id: 'j', kind: 'replan', state, part: 0, told: '', result });
  });
});

describe('what if', () => {
  it('asks without what is ticked, and shows what was found once it is done', async () => {
    const what = new WhatIf('film');
    what.toggle('lens');
    what.toggle('lamp');
    what.toggle('lens');
    expect(what.found).toBeNull();
    await what.run();
    expect(asked).toMatchObject([{ kind: 'replan', params: { without: ['lamp'], whole: false } }]);
    expect(what.found).toBeNull();
    await vi.waitFor(() => expect(what.found?.shots).toBe(1), 3000);
    expect(what.found?.changes.map((c) => c.plate_id)).toEqual(['p']);
  });
});
