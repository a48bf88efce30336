import { expect, it } from 'vitest';
import { fitAt, groundMove, lookedAt, PAD, pair, pathOf, placedBy, snap } from './geometry';

it('lays a drawing out at one scale, up being up', () => {
  const f = fitAt([0, 0, 2, 1], 100, 200);
  expect(f.x(1) - f.x(0)).toBe(100);
  expect(f.y(0) - f.y(1)).toBe(100);
  expect(f.x(0)).toBe(PAD.side);
});

it('puts long stages under each other and tall ones side by side, always on the paper', () => {
  for (const [upper, lower] of [
    [
      [0, 0, 4, 0.5],
      [0, -0.8, 4, 0.8],
    ],
    [
      [0, 0, 2.5, 2],
      [0, -1.2, 2.5, 1.2],
    ],
  ] as const) {
    const sizes = pair(upper, lower, 760, 340);
    expect((upper[2] - upper[0]) * sizes.scale + 2 * PAD.side).toBeLessThanOrEqual(sizes.width + 1);
    const tall = sizes.sideBySide ? Math.max(sizes.upper, sizes.lower) : sizes.upper + sizes.lower;
    expect(tall).toBeLessThanOrEqual(341);
  }
  expect(pair([0, 0, 4, 0.5], [0, -0.4, 4, 0.4], 760, 340).sideBySide).toBe(false);
  expect(pair([0, 0, 2.5, 2], [0, -1.2, 2.5, 1.2], 760, 340).sideBySide).toBe(true);
});

it('turns a drag in the picture into metres on the ground', () => {
  const grip = { across_px_m: 150, away_px_m: -20 };
  expect(groundMove(grip, 75, 0)).toEqual({ right: 0.5, away: -0 });
  expect(groundMove(grip, 0, -20).away).toBe(1);
});

it('keeps a drag at the horizon from flinging things away', () => {
  const far = groundMove({ across_px_m: 0.01, away_px_m: 0 }, 1000, -1000);
  expect(Math.abs(far.right)).toBeLessThanOrEqual(5);
  expect(Math.abs(far.away)).toBeLessThanOrEqual(5);
});

it('snaps without noise and writes paths', () => {
  expect(snap(0.30000000000000004, 0.1)).toBe(0.3);
  expect(
    pathOf([
      [1, 2],
      [3, 4],
    ]),
  ).toBe('M1 2L3 4');
});

it('looks at a drawing more closely about its corner', () => {
  const whole = fitAt([0, 0, 2, 1], 100, 200);
  const close = lookedAt(whole, { k: 2, x: 0.25, y: 0.5 }, 400, 200);
  expect(close.scale).toBe(200);
  expect(close.x(1) - close.x(0)).toBe(200);
  expect(close.x(0)).toBe((whole.x(0) - 100) * 2);
  expect(close.y(0)).toBe((whole.y(0) - 100) * 2);
});

it('places a point as a reframe would: scaled, turned clockwise, shifted', () => {
  const fit = { scale: 2, rotation_deg: 90, shift_x_px: 10, shift_y_px: 20 };
  const [x, y] = placedBy(fit, 3, 0);
  expect(x).toBeCloseTo(10);
  expect(y).toBeCloseTo(26);
});
