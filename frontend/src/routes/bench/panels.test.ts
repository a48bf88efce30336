import { fireEvent, render, screen, within } from '@testing-library/svelte';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api, type Schemas } from '../../lib/api/client';
import UnitsMenu from '../../lib/ui/UnitsMenu.svelte';
import WorkingCard from '../../lib/ui/WorkingCard.svelte';
import { FIRST, units } from '../../lib/units.svelte';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import CompareTable from './CompareTable.svelte';
import FrameBar from './FrameBar.svelte';
import LampSheet from './LampSheet.svelte';
import Scrubber from '../../lib/shot/Scrubber.svelte';
import SetPanel from './SetPanel.svelte';
import TapePanel from './TapePanel.svelte';
import { BenchView } from './view.svelte';

afterEach(() => units.choose(FIRST));

const working: Schemas['Working'] = {
  formula: 'a = b',
  inputs: [],
  result: { symbol: '', name: '', value: 0, unit: '' },
  source: 'Ours.',
};
const surface = (name: string, backs: boolean): Schemas['Surface'] => ({
  name,
  backs,
  distance_m: 3.5,
  needed_width_m: 3.1,
  needed_height_m: 1.2,
  width_m: 2,
  height_m: 1.5,
  share: 0.4,
});
const workings = { sensitivities: working, cover: working, details: working };
const study = {
  sensitivities: [
    {
      key: 'height',
      name: 'Height of the lens axis',
      unit: 'cm',
      px_per_unit: 34,
      fitted_px_per_unit: 19,
      slip: 1,
      allowed: 0.105,
      advice: 'tape',
    },
    {
      key: 'roll',
      name: 'Roll',
      unit: '°',
      px_per_unit: 16,
      fitted_px_per_unit: 0,
      slip: 0.5,
      allowed: null,
      advice: 'ignore',
    },
  ],
  cover: {
    surfaces: [surface('Painted town', true), surface('Tide mill', false)],
    bare: 0.25,
    bare_left: 0.1,
    bare_right: 0.4,
    bare_top: 0.5,
    bare_bottom: 0,
    advice: 'Keep it one even colour.',
    drawn: true,
  },
  details: [
    {
      stand_in_id: 'm',
      name: 'Tide mill',
      distance_m: 2,
      pixel_mm: 0.8,
      blur_px: 1.9,
      smallest_mm: 1.6,
      unseen: ['back', 'top'],
      in_frame: 1,
    },
    {
      stand_in_id: 'x',
      name: 'Shed',
      distance_m: 2,
      pixel_mm: 0.8,
      blur_px: 1.9,
      smallest_mm: 1.6,
      unseen: [],
      in_frame: 0,
    },
  ],
  eyelines: [],
  fixed: [],
} as unknown as Schemas['Study'];

describe('what is worth a tape', () => {
  it('groups the numbers, says what each costs, and what no slip can spoil', () => {
    const { container } = render(TapePanel, { study, workings });
    const tape = container.querySelector('[data-advice="tape"]') as HTMLElement;
    expect(within(tape).getByText('1.1 mm')).toBeInTheDocument();
    expect(within(tape).getByText('34 px/cm')).toBeInTheDocument();
    expect(container.querySelector('[data-advice="ignore"]')?.textContent).toContain('any');
    expect(container.querySelector('[data-advice="care"]')).toBeNull();
  });
});

describe('set and detail', () => {
  it('leaves nothing bare of a set that nobody has drawn', () => {
    const undrawn = { ...study.cover, surfaces: [], bare: 1, advice: 'Add it.', drawn: false };
    const { container } = render(SetPanel, {
      study: { ...study, cover: undrawn },
      workings,
      aspect: 2.39,
    });
    expect(screen.getByText('Add it.')).toBeInTheDocument();
    expect(container.textContent).not.toMatch(/100 %|No upright part/);
  });

  it('marks a backing that is too small, but not a house', () => {
    render(SetPanel, { study, workings, aspect: 2.39 });
    const rows = within(screen.getByRole('region', { name: 'Set coverage' })).getAllByRole('row');
    expect(rows[1]!.querySelector('.font-bold')?.textContent).toBe('3.100 m');
    expect(rows[2]!.querySelector('.font-bold')).toBeNull();
    expect(screen.getByText(/25 %/)).toBeInTheDocument();
    expect(screen.getByText('out of the picture')).toBeInTheDocument();
    expect(screen.getByText('back, top')).toBeInTheDocument();
  });
});

describe('screen time', () => {
  const bench = () => ({ frames: 25, at: 0, shot: { draft: { screen_time_s: 1 } } });

  it('goes to a frame, from the first to the last', async () => {
    const stub = bench();
    render(Scrubber, { bench: stub as unknown as OpenShot });
    const slider = screen.getByRole('slider', { name: 'Screen time' });
    expect(slider).toHaveAttribute('aria-valuetext', 'frame 1 of 25');
    await fireEvent.input(slider, { target: { value: '13' } });
    expect(stub.at).toBe(0.5);
    await fireEvent.input(slider, { target: { value: '25' } });
    expect(stub.at).toBe(1);
  });

  it('plays, and holds when a frame is chosen by hand', async () => {
    const stub = bench();
    render(Scrubber, { bench: stub as unknown as OpenShot });
    await fireEvent.click(screen.getByRole('button', { name: 'Play' }));
    expect(screen.getByRole('button', { name: 'Hold' })).toBeInTheDocument();
    await fireEvent.input(screen.getByRole('slider'), { target: { value: '5' } });
    expect(screen.getByRole('button', { name: 'Play' })).toBeInTheDocument();
  });
});

describe('the bar of the Frame', () => {
  it('offers only what this shot has, and looks closer', async () => {
    const view = new BenchView('bar');
    render(FrameBar, { view, air: false, shadows: true, fit: false, marks: false });
    expect(screen.queryByLabelText('Air')).toBeNull();
    expect(screen.queryByLabelText('After the reframe')).toBeNull();
    await fireEvent.click(screen.getByLabelText('Thirds'));
    expect(view.layers.thirds).toBe(true);
    expect(screen.getByRole('button', { name: 'Whole' })).toBeDisabled();
    await fireEvent.click(screen.getByRole('button', { name: 'Frame closer' }));
    expect(view.frame.k).toBeCloseTo(1.5);
    await fireEvent.click(screen.getByRole('button', { name: 'Whole' }));
    expect(view.frame.k).toBe(1);
  });
});

describe('lamps of a stage', () => {
  const record = () => ({
    id: 'mill',
    draft: { scale: 12, lamps: [{ lamp_id: 'p', x_m: 0.5, y_m: 1, z_m: 0.8, level: 1 }] },
    problems: { 'lamps.0.level': 'must be 1 or less' },
  });
  const bench = () => ({
    editable: true,
    kit: { lamps: [{ id: 'p', name: 'Panel' }] },
    standIns: [{ draft: { plate_id: 'mill', kind: 'box', y_m: 24 } }],
    shot: { draft: { key_from_deg: -60 } },
    live: vi.fn(),
    change: vi.fn(),
    commit: vi.fn(),
  });

  it('places a lamp on the side the key comes from, and says what was refused', async () => {
    const stub = bench();
    render(LampSheet, { bench: stub as never, record: record() as never });
    expect(screen.getByRole('alert')).toHaveTextContent('must be 1 or less');
    await fireEvent.change(screen.getByLabelText('Place a lamp'), { target: { value: 'p' } });
    const [, field, lamps] = stub.change.mock.lastCall as [unknown, string, { x_m: number }[]];
    expect(field).toBe('lamps');
    expect(lamps).toHaveLength(2);
    expect(lamps[1]!.x_m).toBeLessThan(0);
  });

  it('changes one number of one lamp, and takes a lamp away', async () => {
    const stub = bench();
    render(LampSheet, { bench: stub as never, record: record() as never });
    const up = screen.getByLabelText('Lamp 1, up');
    await fireEvent.input(up, { target: { value: '1.2 m' } });
    await fireEvent.blur(up);
    expect(stub.live.mock.lastCall?.[2]).toEqual([
      { lamp_id: 'p', x_m: 0.5, y_m: 1, z_m: 1.2, level: 1 },
    ]);
    await fireEvent.click(screen.getByRole('button', { name: 'Take it away' }));
    expect(stub.change.mock.lastCall?.[2]).toEqual([]);
  });
});

describe('side by side', () => {
  it('lists the numbers of each way, and what does not hold', async () => {
    const way = (lens: string, passes: number) => ({
      lens,
      mode: '4K',
      passes,
      f_number: 8,
      scale: 12,
      iso: 800,
      changes: { lens_id: lens },
    });
    const answer = (pixels: number, open: boolean) => ({
      verdict: open ? 'strains' : 'holds',
      findings: [
        {
          key: 'mismatch',
          verdict: 'holds',
          title: 'Match',
          workings: [{ result: { value: 1.25 } }],
        },
        ...(open ? [{ key: 'light', verdict: 'strains', title: 'Light', workings: [] }] : []),
      ],
      stage: {
        pixels_across: pixels,
        depth_near_m: 1,
        depth_far_m: null,
        capture_fps: 24,
        lux_needed: 900,
        axis_m: 0.1,
      },
    });
    const planner = {
      compared: [way('28 mm', 1), way('20 mm', 2)],
      answers: [answer(3640, false), answer(2590, true)],
      toggle: vi.fn(),
    };
    const bench = {
      editable: true,
      decide: vi.fn(),
      frame: 1,
      question: () => '',
      plan: () => ({}),
      view: null,
    };
    // One of them has been developed already.
    const change = { changes: { lens_id: '20 mm' }, shot: {}, things: {}, alone: false };
    const picture = { id: 'd', plate_id: 'p', view_id: null, frame: 1, current: true, change };
    vi.spyOn(api, 'GET').mockResolvedValue({
      data: { missing: '', pictures: [{ ...picture, at: [], remarks: [] }] },
      response: new Response(),
    } as never);
    render(CompareTable, { bench, planner, record: { id: 'p' } } as never);
    const table = screen.getByTestId('compared');
    for (const text of [
      '3,640 px',
      '2,590 px',
      '1.000 m to ∞',
      'everything holds',
      'light',
      '1.3 px',
    ]) {
      expect(within(table).getAllByText(text).length).toBeGreaterThan(0);
    }
    await fireEvent.click(within(table).getAllByRole('button', { name: 'Do this' })[1]!);
    expect(bench.decide.mock.lastCall?.[1]).toEqual({ lens_id: '20 mm' });
    const shown = await within(table).findAllByRole('img', { name: /developed at frame 1/ });
    expect(shown.map((one) => one.getAttribute('alt'))).toEqual([
      '20 mm, 4K, developed at frame 1',
    ]);
    expect(within(table).getByRole('button', { name: 'Develop them' })).toBeEnabled();
    vi.restoreAllMocks();
  });
});

describe('small parts', () => {
  it('opens the working of a number, without a result where a table gives it', async () => {
    render(WorkingCard, { workings: [working], of: 'the eyelines' });
    await fireEvent.click(screen.getByRole('button', { name: 'Working of the eyelines' }));
    expect(await screen.findByText('a = b')).toBeInTheDocument();
    expect(screen.queryByRole('row')).toBeNull();
  });

  it('changes the units for everything at once', async () => {
    render(UnitsMenu);
    await fireEvent.click(screen.getByRole('button', { name: 'Units' }));
    await fireEvent.click(await screen.findByLabelText('feet and inches'));
    expect(units.now.length).toBe('feet');
  });
});
