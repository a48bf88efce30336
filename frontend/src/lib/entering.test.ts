import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from './api/client';
import { entering } from './entering';
import { FIRST, units } from './units.svelte';

afterEach(() => {
  vi.unstubAllGlobals();
  units.usual(FIRST);
  units.forget();
});

describe('entering a production', () => {
  it('writes numbers its way, but for what was chosen on this device', async () => {
    units.forget();
    api.use(entering);
    const production = { lengths_in: 'feet', light_in: 'footcandles', stops_in: 'decimal' };
    vi.stubGlobal('fetch', () => Promise.resolve(Response.json(production)));
    const params = { path: { production_id: 'p' } };
    const read = await api.GET('/api/productions/{production_id}', { params });
    // Who asked still reads all of the answer.
    expect(read.data).toEqual(production);
    expect(units.now).toEqual({ ...FIRST, length: 'feet', light: 'footcandles' });
    units.choose({ length: 'metric' });
    expect(units.asked).toEqual({ length: 'metric', light: 'footcandles', stop: 'decimal' });
    expect(units.own).toBe(true);
    units.forget();
    expect(units.now.length).toBe('feet');
    // Nothing is read out of an answer of another kind.
    vi.stubGlobal('fetch', () => Promise.resolve(Response.json({}, { status: 404 })));
    await api.GET('/api/productions/{production_id}', { params });
    expect(units.now.light).toBe('footcandles');
    api.eject(entering);
  });
});
