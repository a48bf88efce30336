import { fireEvent, render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import LightBands from './LightBands.svelte';
import MatchStrip from './MatchStrip.svelte';
import ScreenMap from './ScreenMap.svelte';
import SkylineDrawing from './SkylineDrawing.svelte';
import SunCompass from './SunCompass.svelte';

const ring = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as [number, number][];
const map = {
  zero_lux: 800,
  low_stops: -1,
  high_stops: 1,
  bands: [
    { low_stops: -1, high_stops: -0.5, paths: [ring] },
    { low_stops: 0.5, high_stops: 1, paths: [ring, ring] },
  ],
  lines: [{ stops: 0, path: Array.from({ length: 9 }, (_, i) => [i, i] as [number, number]) }],
};

describe('the map of light', () => {
  it('draws every band, its holes in the same path, and names its lines', () => {
    const { container } = render(LightBands, {
      map,
      place: ([u = 0, v = 0]: readonly number[]) => `${u * 10},${v * 10}`,
    });
    const bands = [...container.querySelectorAll('path')];
    expect(bands).toHaveLength(2);
    expect(bands[1]!.getAttribute('d')!.match(/Z/g)).toHaveLength(2);
    expect(bands[0]!.getAttribute('fill')).not.toBe(bands[1]!.getAttribute('fill'));
    expect(container.querySelector('text')!.textContent).toBe('0');
    expect(container.querySelector('text')!.getAttribute('x')).toBe('40');
  });

  it('lies over the screen with what the action needs', () => {
    render(ScreenMap, {
      screen: {
        rgb: [40, 170, 70],
        centre_x_m: 1,
        distance_m: 5,
        width_m: 3,
        height_m: 2.5,
        needed: [0.2, 1.8, 0.1, 2.1],
        lit: {
          level_lux: 500,
          spread_stops: 0.8,
          left_m: 0.2,
          right_m: 1.8,
          bottom_m: 0.1,
          top_m: 2.1,
        },
        map,
        shadows: [
          { lamp: 1, left_m: 0, right_m: 0.5, bottom_m: 0, top_m: 1, darker_stops: 1, hidden: 1 },
        ],
        blur_px: 9,
        covered: 0.7,
        garbage: 0.3,
        action: 0.4,
        recordings: [],
        cheapest: null,
        choices: [],
        foot_m: 0.5,
      },
    });
    // It hangs from half a metre up: its upper edge is drawn at the top, the ground lower down.
    const drawn = document.querySelector('rect')!;
    const upper = Number(drawn.getAttribute('y'));
    expect(upper).toBe(14);
    const ground = Number(screen.getByText(/^behind the action/).getAttribute('y')) - 13;
    const tall = Number(drawn.getAttribute('height'));
    expect((ground - upper) / tall).toBeCloseTo(3 / 2.5, 6);
    expect(screen.getByRole('img', { name: /0\.8 stops behind the action/ })).toBeTruthy();
    expect(document.querySelector('rect')!.getAttribute('fill')).toBe('rgb(40 170 70)');
    expect(screen.getByText('shadow of lamp 2')).toBeTruthy();
    expect(screen.getByText(/1\.6/)).toBeTruthy();
  });
});

describe('the strip of days', () => {
  const strip = Array.from({ length: 10 }, (_, i) =>
    Array.from({ length: 24 }, (_, h) => (h === 9 && i > 3 ? 45 : 0)),
  );
  it('is walked day by day, and stops at its ends', async () => {
    const onchoose = vi.fn();
    const { rerender } = render(MatchStrip, {
      first: '2026-12-28',
      strip,
      chosen: '2027-01-01',
      onchoose,
    });
    const slider = screen.getByRole('slider');
    expect(slider.getAttribute('aria-valuetext')).toBe('2027-01-01: 45 minutes');
    await fireEvent.keyDown(slider, { key: 'ArrowLeft' });
    expect(onchoose).toHaveBeenLastCalledWith('2026-12-31');
    await rerender({ first: '2026-12-28', strip, chosen: '2027-01-06', onchoose });
    await fireEvent.keyDown(slider, { key: 'ArrowRight' });
    expect(onchoose).toHaveBeenLastCalledWith('2027-01-06');
  });

  it('marks only minutes that match, and the months', () => {
    const { container } = render(MatchStrip, {
      first: '2026-12-28',
      strip,
      chosen: '2026-12-28',
      onchoose: () => {},
    });
    expect(container.querySelectorAll('rect[fill-opacity]')).toHaveLength(6);
    expect(screen.getByText('Jan')).toBeTruthy();
  });
});

describe('the compass of the sun', () => {
  it('points the camera, and takes a day on which an hour comes twice', () => {
    const hour = { clock: '01', azimuth_deg: 90, elevation_deg: 10 };
    const { container } = render(SunCompass, {
      path: [
        [90, 0],
        [180, 30],
        [270, 0],
      ],
      hours: [hour, hour],
      skyline: [
        [0, 5],
        [180, 10],
        [360, 5],
      ],
      heading: 125,
      wanted: 30,
    });
    expect(screen.getByRole('img', { name: /camera to 125°/ })).toBeTruthy();
    expect(container.querySelector('g[transform*="rotate(125)"]')).toBeTruthy();
    // South lies at the bottom, a third of the way in for 30 degrees.
    expect(container.querySelector('path[stroke="var(--ochre-ink)"]')!.getAttribute('d')).toContain(
      'L118.0 182.0',
    );
  });
});

describe('the skyline', () => {
  const points = [{ azimuth_deg: 90, elevation_deg: 12 }];
  it('is moved and removed with the keyboard', async () => {
    const onchange = vi.fn();
    render(SkylineDrawing, { points, editable: true, onchange });
    const point = screen.getByRole('button', { name: /Skyline at 90°, 12° up/ });
    await fireEvent.keyDown(point, { key: 'ArrowUp' });
    expect(onchange).toHaveBeenLastCalledWith([{ azimuth_deg: 90, elevation_deg: 13 }]);
    await fireEvent.keyDown(point, { key: 'ArrowLeft' });
    expect(onchange).toHaveBeenLastCalledWith([{ azimuth_deg: 89, elevation_deg: 12 }]);
    await fireEvent.keyDown(point, { key: 'Delete' });
    expect(onchange).toHaveBeenLastCalledWith([]);
  });

  it('only shows when it may not be changed', () => {
    render(SkylineDrawing, { points });
    expect(screen.queryByRole('button')).toBeNull();
  });
});
