import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import { asText } from './copy';
import { Planner, type Way } from './planner.svelte';
import { BenchView, FIRST_LAYERS } from './view.svelte';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
const way = (lens: string) => ({ lens, changes: { lens_id: lens } }) as unknown as Way;

let asked: { path: string; body: Record<string, unknown> }[];
let answers: ((path: string) => Response | Promise<Response>)[];
let planner: Planner;
beforeEach(() => {
  asked = [];
  answers = [];
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname;
    asked.push({ path, body: (await request.json()) as Record<string, unknown> });
    const answer = answers.shift();
    return answer ? answer(path) : json([]);
  });
  const bench = {
    plate: { id: 'mill' },
    at: 0.5,
    question: () => ({ shot: {}, plates: [], stand_ins: [], bodies: [], lenses: [] }),
  };
  planner = new Planner(bench as unknown as OpenShot);
});

describe('the planner', () => {
  it('asks for the plate at hand with what is wished for', async () => {
    answers = [() => json({ candidates: 12, rules: [], ways: [], misses: [] })];
    planner.wishes = { ...planner.wishes, light: 3 };
    await planner.search();
    expect(asked[0]).toMatchObject({
      path: '/api/calc/planner',
      body: { plate_id: 'mill', wishes: { light: 3 } },
    });
    expect(planner.found?.candidates).toBe(12);
    expect(planner.searching).toBe(false);
  });

  it('keeps the answer to the newest question, however late the older one comes', async () => {
    let late: (value: Response) => void = () => {};
    answers = [
      () => new Promise<Response>((resolve) => (late = resolve)),
      () => json({ candidates: 2, rules: [], ways: [], misses: [] }),
    ];
    const first = planner.search();
    await planner.search();
    late(json({ candidates: 1, rules: [], ways: [], misses: [] }));
    await first;
    expect(planner.found?.candidates).toBe(2);
  });

  it('lays at most three ways side by side, the newest ones', async () => {
    answers = Array.from({ length: 5 }, () => () => json([]));
    for (const lens of ['a', 'b', 'c', 'd']) await planner.toggle(way(lens));
    expect(planner.compared.map((w) => w.lens)).toEqual(['b', 'c', 'd']);
    expect(asked.at(-1)?.body).toMatchObject({ at: 0.5, candidates: [{}, {}, {}] });
    await planner.toggle(way('c'));
    expect(planner.compared.map((w) => w.lens)).toEqual(['b', 'd']);
  });

  it('says why it could not, and goes on', async () => {
    answers = [() => json({ message: 'This kit gives too many ways.', fields: {} }, 422)];
    await planner.search();
    expect(planner.problem).toContain('too many ways');
    planner.clear();
    expect(planner.problem).toBe('');
  });

  it('asks what would be without something, and nothing when all is there', async () => {
    answers = [() => json([{ plate_id: 'mill', changed: true }])];
    planner.taken = ['lens'];
    await planner.without();
    expect(asked[0]).toMatchObject({
      path: '/api/calc/replan',
      body: { taken: { without: ['lens'] } },
    });
    planner.taken = [];
    await planner.without();
    expect(planner.changes).toBeNull();
    expect(asked).toHaveLength(1);
  });
});

describe('how a shot is looked at', () => {
  it('is kept for each shot on this device, and survives what cannot be read', () => {
    const view = new BenchView('one');
    view.togglePlate('mill');
    view.toggle('thirds');
    view.frame = { k: 2, x: 0.1, y: 0.2 };
    view.tab = 'planner';
    view.keep();
    const again = new BenchView('one');
    expect(again.hidden).toEqual(['mill']);
    expect(again.layers).toEqual({ ...FIRST_LAYERS, thirds: true });
    expect(again.frame.k).toBe(2);
    expect(again.tab).toBe('planner');
    expect(new BenchView('two').hidden).toEqual([]);
    again.togglePlate('mill');
    expect(again.hidden).toEqual([]);
    localStorage.setItem('jungoptic.bench.three', '{broken');
    expect(new BenchView('three').tab).toBe('stage');
    localStorage.setItem('jungoptic.bench.four', '{"tab": "gone"}');
    expect(new BenchView('four').tab).toBe('stage');
  });
});

it('copies the numbers of a plate as plain text', () => {
  const stage = {
    axis_m: 0.105,
    tilt_deg: 3,
    passes: [{ focus_m: 1.84, near_m: 1, far_m: 3 }],
    sensor_to_pupil_m: 0.08,
    depth_near_m: 0.99,
    depth_far_m: null,
    capture_fps: 24,
    exposure_s: 1 / 48,
    lux_needed: 4620,
    pixels_across: 3639,
  };
  const text = asText(
    { number: '2', title: 'The mill' } as never,
    { name: 'Mill', body_id: 'b', mode_id: 'm', lens_id: 'l', scale: 12, f_number: 16 } as never,
    {
      stage,
      marks: [{ name: 'Gate', from_sensor_m: 1.5, aside_m: -0.2 }],
      findings: [
        { title: 'Lens floor', verdict: 'breaks', sentence: 'Too high.' },
        { title: 'Light', verdict: 'holds', sentence: 'Enough.' },
      ],
    } as never,
    {
      bodies: [{ id: 'b', name: 'Body', modes: [{ id: 'm', name: '4K' }] }],
      lenses: [{ id: 'l', name: '28 mm' }],
    } as never,
  );
  expect(text.split('\n')[0]).toBe('Shot 2 The mill: Mill');
  expect(text).toContain('Focus from the sensor mark: 1.920 m');
  expect(text).toContain('Sharp: 990 mm to ∞');
  expect(text).toContain('Mark: Gate: 1.500 m ahead, 200 mm left');
  expect(text).toContain('Lens floor breaks: Too high.');
  expect(text).not.toContain('Enough');
});
