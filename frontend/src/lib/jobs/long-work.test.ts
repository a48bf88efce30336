import { render, screen } from '@testing-library/svelte';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import JobLine from './JobLine.svelte';
import { LongWork, type Job } from './long-work.svelte';

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

/** A server that does one job: each look finds it a step farther. */
let steps: Partial<Job>[];
let asked: { method: string; path: string; body: unknown }[];
let listed: Partial<Job>[];
const job = (more: Partial<Job>): Job =>
  ({
    id: 'j',
    kind: 'paper',
    name: 'On paper',
    state: 'waiting',
    part: 0,
    told: '',
    problem: '',
    mine: true,
    file_name: '',
    result: null,
    ...more,
  }) as Job;

beforeEach(() => {
  steps = [];
  asked = [];
  listed = [];
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname.replace('/api/productions/film', '');
    const body = request.method === 'POST' ? await request.clone().text() : '';
    asked.push({ method: request.method, path, body: body ? JSON.parse(body) : null });
    if (path === '/jobs' && request.method === 'GET') return json(listed.map(job));
    if (path === '/jobs') return json(job({ state: 'waiting' }));
    if (path.endsWith('/cancel')) return json(job({ state: 'cancelled' }));
    const step = steps.shift() ?? { state: 'done' };
    return 'status' in step ? json({ message: 'away', fields: {} }, 503) : json(job(step));
  });
});

describe('long work', () => {
  it('is asked for, watched and handed on once it is done', async () => {
    const done = vi.fn();
    const work = new LongWork('film', 'paper', done);
    steps = [
      { state: 'running', part: 0.5, told: '3 of 6 shots' },
      { status: 503 } as never,
      { state: 'done', part: 1, file_name: 'x.pdf', result: { shots: 6 } },
    ];
    await work.ask({ whole: true });
    expect(asked[0]).toMatchObject({
      method: 'POST',
      body: { kind: 'paper', params: { whole: true } },
    });
    expect(work.open).toBe(true);
    await vi.waitFor(() => expect(work.job?.told).toBe('3 of 6 shots'), 3000);
    // The server was away for a moment in between.
    await vi.waitFor(() => expect(done).toHaveBeenCalledOnce(), 3000);
    expect(done.mock.calls[0]?.[0].result).toEqual({ shots: 6 });
    expect(work.file).toBe('/api/productions/film/jobs/j/file');
    expect(work.open).toBe(false);
  });

  it('is stopped', async () => {
    const work = new LongWork('film', 'paper');
    await work.ask();
    await work.cancel();
    expect(work.job?.state).toBe('cancelled');
    expect(work.open).toBe(false);
  });

  it('is taken up again by whoever asked, not by others, and not when it has ended', async () => {
    const work = new LongWork('film', 'paper');
    listed = [{ state: 'running', mine: false }];
    await work.resume();
    expect(work.job).toBeNull();
    listed = [{ state: 'done' }];
    await work.resume();
    expect(work.job).toBeNull();
    listed = [{ state: 'done', file_name: 'x.pdf' }];
    await work.resume();
    expect(work.file).not.toBeNull();
    work.clear();
    await work.resume();
    expect(work.job).toBeNull();
    listed = [{ state: 'running', kind: 'other' }, { state: 'running' }];
    await work.resume();
    expect(work.job?.kind).toBe('paper');
    work.dispose();
  });

  it('says why it cannot be asked for', async () => {
    vi.stubGlobal('fetch', async () => json({ message: 'Let one end first.', fields: {} }, 429));
    const work = new LongWork('film', 'paper');
    await work.ask();
    expect(work.problem).toBe('Let one end first.');
    expect(work.job).toBeNull();
  });
});

describe('a line of long work', () => {
  const shown = (more: Partial<Job>) => {
    const work = new LongWork('film', 'paper');
    work.job = job(more);
    render(JobLine, { work, fileSays: 'Open the pages' });
  };

  it('shows how far it is and stops it', () => {
    shown({ state: 'running', part: 0.25, told: '5 of 20 shots' });
    expect(screen.getByRole('progressbar')).toHaveAttribute('value', '0.25');
    expect(screen.getByText('5 of 20 shots')).toBeVisible();
    expect(screen.getByRole('button', { name: 'Stop' })).toBeVisible();
  });

  it('leads to the file, or says what went wrong', () => {
    shown({ state: 'done', file_name: 'x.pdf' });
    expect(screen.getByRole('link', { name: 'Open the pages' })).toHaveAttribute(
      'href',
      '/api/productions/film/jobs/j/file',
    );
    shown({ state: 'failed', problem: 'Print fewer of them.' });
    expect(screen.getByText('Print fewer of them.')).toBeVisible();
  });
});
