import { fireEvent, render, screen, waitFor } from '@testing-library/svelte';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import type { OpenShot } from './open-shot.svelte';
import WaysOut from './WaysOut.svelte';

const finding = {
  key: 'floor',
  title: 'Lens floor',
  verdict: 'breaks',
  sentence: 'Too high.',
  workings: [],
  remedies: [],
} as unknown as Schemas['Finding'];
const lower = {
  sentence: 'Let the camera base sit 15 mm lower.',
  effect: 'Axis at 91.7 mm.',
  verdict: 'holds',
  changes: { drop_m: 0.015 },
  shot: {},
  things: {},
  alone: false,
};
const advice = { ...lower, sentence: 'Borrow a smaller body.', effect: 'It is low.', changes: {} };

let answers: object[] = [];
const asked = vi.fn();
const apply = vi.fn();
const bench = () =>
  ({
    report: {},
    told: 'the plan',
    dragging: false,
    editable: true,
    plan: () => ({ plates: [] }),
    apply,
  }) as unknown as OpenShot;

beforeEach(() => {
  asked.mockClear();
  apply.mockClear();
  answers = [{ remedies: [lower, advice], otherwise: '' }];
  globalThis.fetch = vi.fn(async (input: RequestInfo | URL) => {
    const request = input as Request;
    asked(new URL(request.url).pathname, await request.clone().json());
    const body = answers.length > 1 ? answers.shift() : answers[0];
    return new Response(JSON.stringify(body), {
      status: 200,
      headers: { 'Content-Type': 'application/json' },
    });
  });
});

const record = { id: 'mill' } as never;
const shown = (more: object = {}) => render(WaysOut, { bench: bench(), record, finding, ...more });

describe('ways out of a finding', () => {
  it('are asked for when it is opened, and not before', async () => {
    shown();
    expect(asked).not.toHaveBeenCalled();
    await fireEvent.click(screen.getByRole('button', { name: 'Ways out' }));
    await screen.findByText(lower.sentence);
    expect(asked).toHaveBeenCalledWith(
      '/api/calc/ways-out',
      expect.objectContaining({ plate_id: 'mill', key: 'floor' }),
    );
    await fireEvent.click(screen.getByRole('button', { name: 'Hide ways out' }));
    expect(screen.queryByText(lower.sentence)).toBeNull();
  });

  it('are looked for in pairs, step by step, where no single change is enough', async () => {
    const both = { ...lower, sentence: 'Raise the ISO. With it: Open up.' };
    answers = [
      { remedies: [advice], otherwise: '' },
      { remedies: [], tried: 6, of: 60, more: true },
      { remedies: [both], tried: 12, of: 60, more: true },
    ];
    shown();
    await fireEvent.click(screen.getByRole('button', { name: 'Ways out' }));
    await screen.findByText(both.sentence);
    expect(asked.mock.calls.map(([path, body]) => [path, body.begin])).toEqual([
      ['/api/calc/ways-out', undefined],
      ['/api/calc/pairs-out', 0],
      ['/api/calc/pairs-out', 6],
    ]);
    // What was found first stands first, and the advice is still there.
    expect(screen.getAllByRole('listitem')[0]?.textContent).toContain(both.sentence);
    expect(screen.getByText(advice.sentence)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Stop' })).toBeNull();
  });

  it('of pairs can be stopped and gone on with', async () => {
    answers = [
      { remedies: [], otherwise: 'A longer lens.' },
      { remedies: [], tried: 6, of: 60, more: true },
    ];
    let wait: () => void = () => {};
    const fetched = globalThis.fetch;
    globalThis.fetch = vi.fn(async (input: RequestInfo | URL) => {
      if (asked.mock.calls.length >= 2) await new Promise<void>((done) => (wait = done));
      return fetched(input);
    });
    shown({ begins: true });
    // What opened by itself is searched only when somebody asks.
    await fireEvent.click(await screen.findByRole('button', { name: 'Try two changes together' }));
    await screen.findByText(/6 pairs of at most 60/);
    await fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    await screen.findByText(/Stopped after 6 pairs/);
    answers = [{ remedies: [], tried: 9, of: 60, more: false }];
    await fireEvent.click(screen.getByRole('button', { name: 'Go on' }));
    await vi.waitFor(() => expect(globalThis.fetch).toHaveBeenCalledTimes(4));
    wait();
    await waitFor(() => expect(screen.queryByText(/pairs/)).toBeNull());
    expect(screen.getByText(/It would take: A longer lens/)).toBeTruthy();
  });

  it('of the worst one are open from the start', async () => {
    shown({ begins: true });
    await screen.findByText(lower.sentence);
    expect(screen.getByText(lower.effect)).toBeTruthy();
  });

  it('can be done where the plan can do them; advice is only read', async () => {
    shown({ begins: true });
    await screen.findByText(advice.sentence);
    const [button, ...others] = screen.getAllByRole('button', { name: 'Do this' });
    expect(others).toHaveLength(0);
    await waitFor(() => expect((button as HTMLButtonElement).disabled).toBe(false));
    await fireEvent.click(button as HTMLElement);
    expect(apply).toHaveBeenCalledWith(record, expect.objectContaining({ changes: lower.changes }));
  });

  it('say what it would take where there are none', async () => {
    answers = [{ remedies: [], otherwise: '1.6 m more room.' }];
    shown({ begins: true });
    expect(await screen.findByText(/It would take: 1\.6 m more room\./)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Do this' })).toBeNull();
  });

  it('cannot be done by who may only look', async () => {
    render(WaysOut, {
      bench: { ...bench(), editable: false } as unknown as OpenShot,
      record,
      finding,
      begins: true,
    });
    await screen.findByText(lower.sentence);
    expect(screen.queryByRole('button', { name: 'Do this' })).toBeNull();
  });

  it('say what went wrong in asking', async () => {
    globalThis.fetch = vi.fn(
      async () =>
        new Response(JSON.stringify({ message: 'The camera move ends below the ground.' }), {
          status: 422,
          headers: { 'Content-Type': 'application/json' },
        }),
    );
    shown({ begins: true });
    expect(await screen.findByText('The camera move ends below the ground.')).toBeTruthy();
  });
});
