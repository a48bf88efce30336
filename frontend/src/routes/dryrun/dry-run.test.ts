import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '../../lib/api/client';
import { apart, DryRuns, missing, pace, type Page, type Place, type Run } from './dry-run.svelte';

const run = (id: string, frame: number | null, view: string | null = null): Run => ({
  id,
  view_id: view,
  frame,
  fps: frame === null ? 12 : null,
  width_px: 640,
  height_px: 268,
  made_at: '2026-11-28T06:00:00Z',
  current: true,
  hole: 0,
  things: [],
  remarks: [],
});

describe('what a dry run says', () => {
  it('tells brightness against the story', () => {
    expect(apart(null)).toBe('not to be told: not lit yet, or too dark');
    expect(apart(0.04)).toBe('as bright as in the story');
    expect(apart(-0.04)).toBe('as bright as in the story');
    expect(apart(1)).toBe('1.0 stop brighter than the story');
    expect(apart(-1.7)).toBe('1.7 stops darker than the story');
  });

  it('tells how often a clip has a picture', () => {
    expect(pace({ ...run('a', null), fps: 7.992, width_px: 480 })).toMatch(
      /^8 pictures a second, 480 pixels wide/,
    );
  });

  it('tells what no plate films', () => {
    expect(missing(0)).toMatch(/Every part of the picture/);
    expect(missing(0.004)).toMatch(/^Less than 1 % of the picture is filmed by no plate/);
    expect(missing(0.2)).toMatch(/^20 % of the picture is filmed by no plate/);
  });
});

describe('what goes on elsewhere', () => {
  afterEach(() => {
    vi.restoreAllMocks();
    sessionStorage.clear();
  });
  const job = (id: string) => ({
    id,
    kind: 'dry-run',
    mine: true,
    state: 'running',
    file_name: '',
  });

  it('is taken up by the shot that asked for it, and by no other', async () => {
    vi.spyOn(api, 'GET').mockResolvedValue({
      data: [job('theirs'), job('ours')],
      response: new Response(),
    } as never);
    vi.spyOn(api, 'POST').mockResolvedValue({
      data: job('ours'),
      response: new Response(),
    } as never);
    const asked = new DryRuns('p', 'ours');
    await asked.film(640);
    asked.dispose();
    const [again, other] = [new DryRuns('p', 'ours'), new DryRuns('p', 'other')];
    await again.resume();
    await other.resume();
    expect(again.work.job?.id).toBe('ours');
    expect(other.work.job).toBeNull();
    again.dispose();
    other.dispose();
  });
});

describe('what does not hold', () => {
  afterEach(() => void vi.restoreAllMocks());
  const place = (key: string) => ({ plate_id: 'm', key }) as Place;

  it('is of the run that was asked for last, and unknown until it is told', async () => {
    const answers: Record<string, (data: Place[]) => void> = {};
    vi.spyOn(api, 'GET').mockImplementation(
      ((_: string, of: { params: { path: { pk: string } } }) =>
        new Promise((done) => {
          answers[of.params.path.pk] = (data) => done({ data, response: new Response() });
        })) as never,
    );
    const runs = new DryRuns('p', 's');
    const [first, second] = [runs.find(run('a', 1)), runs.find(run('b', 9))];
    expect(runs.places).toBeNull();
    answers.b?.([place('depth')]);
    answers.a?.([place('view')]);
    await Promise.all([first, second]);
    expect(runs.places?.map((one) => one.key)).toEqual(['depth']);
    runs.dispose();
  });
});

describe('which run is shown', () => {
  const runs = new DryRuns('p', 's');
  runs.page = {
    missing: '',
    number: '2',
    title: 'Mill',
    delivery_width_px: 1920,
    delivery_height_px: 804,
    views: [
      { id: null, name: 'The first camera', frames: 96 },
      { id: 'v', name: 'Close', frames: 24 },
    ],
    runs: [run('c', 24), run('b', 1), run('a', 5, 'v')],
  } satisfies Page;

  it('is that of the frame in hand, or the newest', () => {
    runs.view = null;
    runs.frame = 1;
    expect(runs.run?.id).toBe('b');
    runs.frame = 60;
    expect(runs.run?.id).toBe('c');
  });

  it('is one of a strip of the newest of every frame', () => {
    const page = runs.page!;
    runs.page = { ...page, runs: [run('new', 24), ...page.runs, run('old', 1)] };
    runs.view = null;
    expect(runs.strip.map((one) => one.id)).toEqual(['b', 'new']);
    runs.page = page;
  });

  it('is never a clip, which is kept beside them for each camera', () => {
    const page = runs.page!;
    runs.view = null;
    expect(runs.reel).toBeNull();
    runs.page = { ...page, runs: [run('reel', null), run('older', null), ...page.runs] };
    expect(runs.reel?.id).toBe('reel');
    expect(runs.run?.id).toBe('c');
    expect(runs.strip.map((one) => one.id)).toEqual(['b', 'c']);
    runs.view = 'v';
    expect(runs.reel).toBeNull();
    runs.page = page;
  });

  it('is that of the camera in hand, which has frames of its own', () => {
    runs.view = 'v';
    expect(runs.run?.id).toBe('a');
    expect(runs.frames).toBe(24);
    runs.view = 'gone';
    expect(runs.run).toBeNull();
    expect(runs.frames).toBe(1);
  });
});
