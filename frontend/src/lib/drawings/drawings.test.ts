import { fireEvent, render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import FrameView from './FrameView.svelte';
import MarkTable from './MarkTable.svelte';
import StageDrawing from './StageDrawing.svelte';

const world: Schemas['Picture'] = {
  outlines: [
    {
      stand_in_id: 'gate',
      paths: [
        [
          [100, 100],
          [200, 100],
          [200, 300],
        ],
      ],
    },
  ],
  horizon: [260, 260],
};
const frame = {
  widthPx: 1920,
  heightPx: 804,
  world,
  plates: [
    {
      id: 'mill',
      name: 'Mill',
      picture: world,
      whiskers: [{ name: 'Gate: foot', from_x_px: 10, from_y_px: 10, to_x_px: 13, to_y_px: 14 }],
      screen: [],
      match: 'breaks' as const,
    },
  ],
  grips: [{ stand_in_id: 'gate', x_px: 150, y_px: 300, across_px_m: 150, away_px_m: -20 }],
  names: { gate: 'Lock gate' },
  selectedPlate: 'mill',
  selectedStandIn: null,
  editable: true,
};

function frameWith(more: Record<string, unknown> = {}) {
  const onselect = vi.fn();
  const onmove = vi.fn();
  const ondrop = vi.fn();
  const { container } = render(FrameView, { ...frame, onselect, onmove, ondrop, ...more });
  const grip = screen.getByRole('button', { name: /^Lock gate/ });
  return { container, grip, onselect, onmove, ondrop };
}

describe('the Frame', () => {
  it('draws the world dotted, the plate in ink, and names each departure in pixels', () => {
    const { container } = frameWith();
    expect(container.querySelector('[data-layer="world"] path[d^="M100 100"]')).not.toBeNull();
    expect(container.querySelector('[data-plate="mill"] path[d^="M100 100"]')).not.toBeNull();
    expect(container.querySelector('path > title')?.textContent).toContain('Gate: foot: 5.0 px');
    expect(container.textContent).toContain('200 px of 1920 × 804');
  });

  it('moves a stand-in by arrow keys, ten times as far with Shift, and saves each', async () => {
    const { grip, onmove, ondrop } = frameWith();
    await fireEvent.keyDown(grip, { key: 'ArrowRight' });
    expect(onmove).toHaveBeenLastCalledWith('gate', 0.05, 0);
    await fireEvent.keyDown(grip, { key: 'ArrowUp', shiftKey: true });
    expect(onmove).toHaveBeenLastCalledWith('gate', 0, 0.5);
    expect(ondrop).toHaveBeenCalledTimes(2);
  });

  it('lets a viewer select and never move', async () => {
    const { grip, onselect, onmove } = frameWith({ editable: false });
    await fireEvent.keyDown(grip, { key: 'ArrowRight' });
    await fireEvent.focus(grip);
    expect(onselect).toHaveBeenCalledWith('gate');
    expect(onmove).not.toHaveBeenCalled();
  });

  it('lays thirds, padding, shadows and the key over it, and hides what is not wanted', () => {
    const keyLight: Schemas['Key'] = {
      at_px: [400, 120],
      in_picture: true,
      from_deg: 10,
      elevation_deg: 12,
      shadows: world.outlines,
    };
    const layers = { world: false, thirds: true, whiskers: false, shadows: true };
    const { container } = frameWith({ keyLight, layers, padding: 0.05 });
    expect(container.querySelector('[data-layer="thirds"]')).not.toBeNull();
    expect(container.querySelector('[data-layer="padding"]')?.getAttribute('width')).toBe('2112');
    expect(container.querySelector('[data-layer="shadows"] path')).not.toBeNull();
    expect(container.textContent).toContain('the key light');
    expect(container.querySelector('[data-layer="world"] path[d^="M100 100"]')).toBeNull();
    expect(container.textContent).not.toContain('Gate: foot: 5.0 px');
  });

  it('says how long the longest departure is, and draws a plate as reframed', () => {
    const fit = { scale: 1.01, rotation_deg: 0, shift_x_px: -3, shift_y_px: 4 };
    const { container } = frameWith({ plates: [{ ...frame.plates[0], fit }] });
    expect(container.querySelector('[data-plate="mill"]')?.getAttribute('transform')).toBe(
      'translate(-3 4) rotate(0) scale(1.01)',
    );
    // Of 5 px before, the reframe leaves 3.
    expect(container.querySelector('path > title')?.textContent).toMatch(/Gate: foot: \d/);
    expect(
      [...container.querySelectorAll('text')].some((t) => / px$/.test(t.textContent ?? '')),
    ).toBe(true);
  });

  it('lays what is compared over the picture, each with its own stroke', () => {
    const overlays = ['a', 'b'].map((id) => ({ ...frame.plates[0], id, whiskers: [] }));
    const { container } = frameWith({ overlays });
    const dashes = [...container.querySelectorAll('[data-overlay] [data-plate]')].map((g) =>
      g.getAttribute('stroke-dasharray'),
    );
    expect(new Set(dashes).size).toBe(2);
  });

  it('names the selected stand-in in the picture', () => {
    const { container } = frameWith({ selectedStandIn: 'gate' });
    expect([...container.querySelectorAll('text')].map((t) => t.textContent)).toContain(
      'Lock gate',
    );
  });
});

const drawing: Schemas['Drawing'] = {
  view: 'elevation',
  bounds: [0, 0, 2, 1],
  shapes: [
    {
      role: 'ground',
      points: [
        [0, 0],
        [2, 0],
      ],
      closed: false,
      stand_in_id: null,
    },
    {
      role: 'box',
      points: [
        [1, 0],
        [1.5, 0],
        [1.5, 0.5],
        [1, 0.5],
      ],
      closed: true,
      stand_in_id: 'mill',
    },
  ],
  dimensions: [
    {
      start: [0, 0],
      end: [0, 0.125],
      value_m: 0.125,
      label: 'axis height',
      lift: -1,
      editable: 'camera_height',
    },
    {
      start: [0, 0],
      end: [1, 0],
      value_m: 1,
      label: 'sensor mark to Mill',
      lift: -1,
      editable: null,
    },
  ],
  notes: [{ at: [1, 0.5], text: 'focus' }],
};

describe('the Stage drawing', () => {
  const box = { width: 400, height: 240, scale: 150 };

  it('says every dimension with its unit', () => {
    const { container } = render(StageDrawing, { drawing, title: 'Mill', ...box, scaleBar: true });
    expect(container.textContent).toContain('125 mm');
    expect(container.textContent).toContain('1.000 m');
    expect(container.textContent).toContain('sensor mark to Mill');
    expect(container.textContent).toContain('500 mm'); // the scale bar
  });

  it('draws to scale: a metre is as long across as up', () => {
    const { container } = render(StageDrawing, { drawing, title: 'Mill', ...box });
    const points = container.querySelector('polygon')?.getAttribute('points')?.split(' ') ?? [];
    const [a, b, c] = points.map((p) => p.split(',').map(Number));
    expect((b?.[0] ?? 0) - (a?.[0] ?? 0)).toBeCloseTo(75);
    expect((b?.[1] ?? 0) - (c?.[1] ?? 0)).toBeCloseTo(75);
  });

  it('raises the lens axis by arrow keys, and offers no grips on a card', async () => {
    const onaxis = vi.fn();
    const onaxisdrop = vi.fn();
    render(StageDrawing, { drawing, title: 'Mill', ...box, editable: true, onaxis, onaxisdrop });
    await fireEvent.keyDown(screen.getByRole('button', { name: /axis height/ }), {
      key: 'ArrowUp',
    });
    expect(onaxis).toHaveBeenCalledWith(0.001);
    expect(onaxisdrop).toHaveBeenCalledOnce();
  });

  it('has nothing to take hold of on a set card', () => {
    render(StageDrawing, { drawing, title: 'Mill', ...box });
    expect(screen.queryByRole('button')).toBeNull();
  });
});

it('lists marks with the side they lie on', () => {
  const mark = { from_sensor_m: 2.167, from_front_m: 2.05, height_m: 0.583 };
  render(MarkTable, {
    marks: [
      { ...mark, stand_in_id: 'a', name: 'Mill', aside_m: -0.417 },
      { ...mark, stand_in_id: 'b', name: 'Gate', aside_m: 0.533 },
      { ...mark, stand_in_id: 'c', name: 'Town', aside_m: 0 },
    ],
  });
  expect(screen.getByRole('row', { name: /Mill 2.167 m 417 mm left 583 mm/ })).toBeInTheDocument();
  expect(screen.getByRole('row', { name: /Gate .* 533 mm right/ })).toBeInTheDocument();
  expect(screen.getByRole('row', { name: /Town .* on the line/ })).toBeInTheDocument();
});
