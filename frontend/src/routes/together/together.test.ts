import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '../../lib/api/client';
import { howSaid, Together, type Page, type Plate, type Rough } from './together.svelte';

const picture = (id: string) => ({ id, name: id, frames: 24, begins: 1, told: false, revision: 3 });
const plate = (id: string, view: string | null = null, pictures = ['x']): Plate => ({
  id,
  name: id,
  kind: 'live',
  view_id: view,
  how: 'whole',
  colour: '',
  pictures: pictures.map(picture),
});
const layer = (plate_id: string, changes = {}): Rough['layers'][number] => ({
  plate_id,
  picture_id: 'x',
  name: 'x',
  shown: 1,
  counted: true,
  left_out: false,
  low: 0,
  high: 1,
  ...changes,
});
const rough = (id: string, frame: number | null, changes: Partial<Rough> = {}): Rough => ({
  id,
  view_id: null,
  frame,
  width_px: 960,
  height_px: 402,
  made_at: '2026-11-29T06:00:00Z',
  current: true,
  layers: [layer('far'), layer('near')],
  hole: 0,
  answer: 'It works.',
  findings: [],
  ...changes,
});
const page = (roughs: Rough[]): Page => ({
  number: '2',
  title: 'Mill',
  delivery_width_px: 1920,
  delivery_height_px: 804,
  fps: 24,
  views: [
    { id: null, name: 'The first camera', frames: 96 },
    { id: 'v', name: 'Close', frames: 24 },
  ],
  plates: [plate('far'), plate('near'), plate('close', 'v', [])],
  roughs,
  problem: '',
});

function answering(of: Page) {
  return vi.spyOn(api, 'GET').mockImplementation(((path: string) => {
    const data = path.endsWith('/rough')
      ? of
      : path.endsWith('/dry-runs')
        ? { runs: [{ id: 'd', view_id: null, frame: 5 }] }
        : { role: 'owner' };
    return Promise.resolve({ data, response: new Response() });
  }) as never);
}

afterEach(() => {
  vi.restoreAllMocks();
  sessionStorage.clear();
});

describe('how a plate goes in', () => {
  it('is said in words', () => {
    expect(howSaid({ how: 'key', colour: 'green' })).toBe('keyed from green');
    expect(howSaid({ how: 'key', colour: 'sky' })).toBe('keyed from a bright sky');
    expect(howSaid({ how: 'key', colour: 'white' })).toBe('keyed from a bright wall');
    expect(howSaid({ how: 'outline', colour: '' })).toMatch(/rough/);
  });
});

describe('a shot put together', () => {
  it('shows the plates of the camera in hand, nearest first', async () => {
    answering(page([]));
    const t = new Together('p', 's');
    await t.load();
    expect(t.plates.map((one) => one.id)).toEqual(['near', 'far']);
    expect(t.any).toBe(true);
    expect(t.frames).toBe(96);
    t.view = 'v';
    expect(t.plates.map((one) => one.id)).toEqual(['close']);
    expect(t.any).toBe(false);
    expect(t.rough).toBeNull();
    t.dispose();
  });

  it('goes on where the newest left off', async () => {
    const layers = [layer('far'), layer('near', { counted: false, low: 0.2, picture_id: 'y' })];
    answering(page([rough('b', 5, { layers }), rough('clip', null), rough('a', 1)]));
    const t = new Together('p', 's');
    await t.load();
    expect([t.frame, t.rough?.id, t.reel?.id]).toEqual([5, 'b', 'clip']);
    expect(t.pick('near')).toEqual({ picture: 'y', leftOut: false, low: 20, high: 100 });
    expect(t.stale).toBe(false);
    t.set('far', { leftOut: true });
    expect(t.stale).toBe(true);
    t.frame = 1;
    expect(t.rough?.id).toBe('a');
    t.frame = 50;
    expect(t.rough?.id).toBe('b');
    t.dispose();
  });

  it('is held against the dry run only where one of that frame is there', async () => {
    answering(page([rough('b', 5), rough('a', 1)]));
    const t = new Together('p', 's');
    await t.load();
    t.against = 'story';
    expect(t.other?.src).toMatch(/dry-runs\/d\/picture\?which=story/);
    t.frame = 1;
    expect(t.other?.src).toMatch(/rough\/a\/file\?which=planned/);
    t.dispose();
  });

  it('asks with what was chosen of the plates of that camera', async () => {
    answering(page([]));
    const post = vi.spyOn(api, 'POST').mockResolvedValue({
      data: { id: 'j', kind: 'rough', state: 'done', file_name: '', mine: true },
      response: new Response(),
    } as never);
    const t = new Together('p', 's');
    await t.load();
    t.set('near', { high: 80 });
    t.frame = 7;
    await t.put(1920);
    const [, asked] = post.mock.calls[0] as unknown as [string, { body: { params: unknown } }];
    expect(asked.body.params).toEqual({
      shot_id: 's',
      view_id: null,
      frame: 7,
      width: 1920,
      picks: [
        { plate_id: 'near', picture_id: null, left_out: false, low: 0, high: 0.8 },
        { plate_id: 'far', picture_id: null, left_out: false, low: 0, high: 1 },
      ],
    });
    t.dispose();
  });

  it('can take back where a clip begins', async () => {
    answering(page([]));
    const patch = vi
      .spyOn(api, 'PATCH')
      .mockResolvedValue({ data: {}, response: new Response() } as never);
    const t = new Together('p', 's');
    await t.load();
    const own = t.plates[0]!.pictures[0]!;
    await t.begin(own, 1);
    expect(patch).not.toHaveBeenCalled();
    await t.begin(own, 9);
    t.history.undo();
    await vi.waitFor(() => expect(patch).toHaveBeenCalledTimes(2));
    const bodies = patch.mock.calls.map((call) => (call[1] as { body: unknown }).body);
    // Nobody had said so before: it is left to the clip again.
    expect(bodies).toEqual([
      { revision: 3, begins: 9 },
      { revision: 3, begins: null },
    ]);
    t.dispose();
  });
});
