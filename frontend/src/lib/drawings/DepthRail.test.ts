import { fireEvent, render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import DepthRail, { type Thing } from './DepthRail.svelte';
import { EVERYTHING } from './rail';

const rail: Schemas['Rail'] = {
  distances_m: [0.1, 1, 10, 100, 10_000],
  blur_px: [null, 9, 2, 3, 4],
  haze: [0, 0, 0.1, 0.5, 1],
  drift_px: [],
  passes: [{ focus_m: 20, near_m: 12, far_m: null as unknown as number }],
  needed_m: [15, 30],
  front_m: 0.5,
  scale: 12,
};
const things: Thing[] = [
  { id: 'gate', name: 'Lock gate', plate: 'mill', nearM: 18, farM: 21, perM: 1 },
  { id: 'mill', name: 'Tide mill', plate: 'mill', nearM: 25, farM: 31, perM: 1 },
  { id: 'ansa', name: 'Ansa', plate: 'ansa', nearM: 15, farM: 15, perM: 1 },
];

function railWith(more: Record<string, unknown> = {}) {
  const calls = Object.fromEntries(
    ['span', 'select', 'move', 'drop', 'shift', 'shifted', 'focus', 'focused', 'focusback'].map(
      (name) => [`on${name}`, vi.fn()],
    ),
  ) as Record<string, ReturnType<typeof vi.fn>>;
  const { container } = render(DepthRail, {
    rail,
    things,
    plates: [
      { id: 'mill', name: 'Mill' },
      { id: 'ansa', name: 'Ansa on green' },
    ],
    selectedPlate: 'mill',
    selectedStandIn: null,
    editable: true,
    span: EVERYTHING,
    ...(calls as object),
    ...more,
  } as never);
  return { container, calls };
}

describe('the depth rail', () => {
  it('shows what is sharp to infinity, blur and air, and both scales', () => {
    const { container } = railWith();
    const band = container.querySelector('[data-band="sharp"]')!;
    expect(band.textContent).toContain('sharp from 12.00 m to ∞');
    expect(container.querySelector('[data-curve="blur"]')).not.toBeNull();
    expect(container.querySelector('[data-curve="haze"]')).not.toBeNull();
    expect(container.querySelector('[data-curve="drift"]')).toBeNull();
    expect(container.textContent).toContain('below, this stage at 1:12');
  });

  it('moves a thing by round steps, a plate with all its things, ten times with Shift', async () => {
    const { calls } = railWith();
    const gate = screen.getByRole('button', { name: /^Lock gate at/ });
    await fireEvent.keyDown(gate, { key: 'ArrowRight' });
    expect(calls['onmove']).toHaveBeenLastCalledWith('gate', 0.1);
    expect(calls['ondrop']).toHaveBeenCalledWith('gate');
    const all = screen.getByRole('button', { name: /^All things of Mill/ });
    await fireEvent.keyDown(all, { key: 'ArrowLeft', shiftKey: true });
    expect(calls['onshift']).toHaveBeenLastCalledWith('mill', -1);
    expect(calls['onshifted']).toHaveBeenCalledWith('mill');
  });

  it('moves the focus and gives it back', async () => {
    const { calls } = railWith();
    const focus = screen.getByRole('slider', { name: 'Focus, in the world' });
    expect(focus.getAttribute('aria-valuetext')).toBe('20.00 m');
    await fireEvent.keyDown(focus, { key: 'ArrowLeft' });
    expect(calls['onfocus']).toHaveBeenLastCalledWith(19);
    await fireEvent.keyDown(focus, { key: 'Home' });
    expect(calls['onfocusback']).toHaveBeenCalledOnce();
  });

  it('lets a viewer look and never move', async () => {
    const { calls } = railWith({ editable: false });
    await fireEvent.keyDown(screen.getByRole('button', { name: /^Lock gate at/ }), {
      key: 'ArrowRight',
    });
    expect(calls['onmove']).not.toHaveBeenCalled();
  });

  it('looks closer by keyboard and shows all again', async () => {
    const { calls } = railWith();
    const group = screen.getByTestId('rail');
    await fireEvent.keyDown(group, { key: '+' });
    const [span] = calls['onspan']!.mock.lastCall as [{ from: number; to: number }];
    expect(span.to / span.from).toBeLessThan(100_000);
    await fireEvent.keyDown(group, { key: '0' });
    expect(calls['onspan']).toHaveBeenLastCalledWith(EVERYTHING);
  });
});
