import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Method } from './method.svelte';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

const recipe = (key: string) => ({
  key,
  name: key,
  passes: [
    { key: 'take', required: true },
    { key: 'extra', required: false },
  ],
});

describe('choosing a method', () => {
  let sent: { path: string; body: Record<string, unknown> }[];
  let first: string;
  let method: Method;
  beforeEach(async () => {
    sent = [];
    first = 'twin';
    vi.stubGlobal('fetch', async (request: Request) => {
      const path = new URL(request.url).pathname.replace('/api/productions/p', '');
      const text = request.method === 'GET' ? '' : await request.clone().text();
      const body = text ? (JSON.parse(text) as Record<string, unknown>) : {};
      if (text) sent.push({ path, body });
      if (path === '/api/recipes') {
        return json({
          recipes: [recipe('twin'), recipe('wire')],
          references: [],
          subjects: { performer: 'A performer' },
          owned: {},
        });
      }
      if (path === '/recipes') return json([]);
      if (path === '') return json({ id: 'p', name: 'Film', role: 'owner' });
      if (path.endsWith('/advice')) {
        return json({ options: [{ recipe: first, name: first }], turns: [], economy: [] });
      }
      if (path.endsWith('/preview')) {
        return json({ added: body['passes'], stand_ins: [], changes: [] });
      }
      if (path.endsWith('/apply')) {
        return json({ outcome: { added: ['Take'], stand_ins: [], changes: [] }, step: null });
      }
      if (request.method === 'PATCH') return json({ id: 's', revision: 2, ...body });
      return json({
        shot: { id: 's', revision: 1, facts: null },
        plates: [],
        stand_ins: [],
        recipes: [],
      });
    });
    method = new Method('p', 's');
    await method.load();
  });

  it('opens on the best recipe with its required plates', async () => {
    expect(method.looking).toBe('twin');
    expect(method.passes).toEqual(['take']);
    await vi.waitFor(() => expect(method.outcome?.added).toEqual(['take']));
  });

  it('asks again when a fact is told, and keeps the fact', async () => {
    first = 'wire';
    method.tell({ camera: 'moving' });
    await vi.waitFor(() => expect(method.advice?.options[0]?.recipe).toBe('wire'));
    const patch = sent.find((s) => s.path === '/shots/s' && 'facts' in s.body);
    expect(patch?.body['facts']).toMatchObject({ camera: 'moving', shows: ['performer'] });
  });

  it('previews the plates that are ticked', async () => {
    method.choosePass('extra', true);
    await vi.waitFor(() => expect(method.outcome?.added).toEqual(['take', 'extra']));
    method.choosePass('take', false);
    await vi.waitFor(() => expect(method.outcome?.added).toEqual(['extra']));
  });

  it('applies what is looked at', async () => {
    await method.apply();
    expect(sent.find((s) => s.path.endsWith('/apply'))?.body).toEqual({
      recipe: 'twin',
      passes: ['take'],
      things: true,
      view_id: null,
    });
    expect(method.applied?.outcome.added).toEqual(['Take']);
  });
});
