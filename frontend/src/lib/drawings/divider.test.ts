import { fireEvent, render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import { bent, closer, keyFor, moveInOrder, pointsAt, straight, type Point } from './divider';
import DividerGrips from './DividerGrips.svelte';

const UPRIGHT: Point[] = [
  [0.5, 0],
  [0.5, 1],
];

describe('the points of a divider', () => {
  it('never fold: a point stays between its neighbours', () => {
    const three: Point[] = [
      [0.5, 0],
      [0.5, 0.5],
      [0.5, 1],
    ];
    const moved = moveInOrder(three, 1, 0.1, 0.9);
    expect(moved[1]).toEqual([0.6, 0.995]);
    expect(moved[0]).toEqual(three[0]);
    expect(moveInOrder(three, 1, 0, -2)[1]![1]).toBe(0.005);
  });

  it('are bent in the middle of the longest piece and made straight again', () => {
    const line: Point[] = [
      [0, 0],
      [0, 0.2],
      [0, 1],
    ];
    expect(bent(line)).toEqual([
      [0, 0],
      [0, 0.2],
      [0, 0.6],
      [0, 1],
    ]);
    expect(straight(bent(UPRIGHT))).toEqual(UPRIGHT);
  });

  it('lie as much closer as the picture is shown, about its middle', () => {
    expect(closer([[0.5, 0.25]], 2)).toEqual([[0.5, 0]]);
    expect(closer(closer([[0.6, 0.9]], 3), 1 / 3)[0]![0]).toBeCloseTo(0.6);
  });

  it('go straight between keys with as many points', () => {
    const keys = [
      { frame: 11, points: [[0.7, 0], [0.5, 1]] }, // prettier-ignore
      { frame: 1, points: [[0.5, 0], [0.5, 1]] }, // prettier-ignore
    ];
    expect(pointsAt(keys, 6)).toEqual([
      [0.6, 0],
      [0.5, 1],
    ]);
    expect(pointsAt(keys, 0)[0]).toEqual([0.5, 0]);
    expect(pointsAt(keys, 99)[0]).toEqual([0.7, 0]);
    expect(pointsAt([], 3)).toEqual([]);
  });

  it('belong to the key of that frame, or to the only one', () => {
    const one = [{ frame: 1, points: [] }];
    expect(keyFor(one, 40)).toBe(0);
    const two = [...one, { frame: 20, points: [] }];
    expect(keyFor(two, 20)).toBe(1);
    expect(keyFor(two, 40)).toBe(-1);
  });
});

describe('its handles', () => {
  it('move by arrow keys, by more with shift, and are named', async () => {
    const onlive = vi.fn();
    const oncommit = vi.fn();
    const svg = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
    document.body.append(svg);
    render(DividerGrips, {
      target: svg,
      props: {
        points: UPRIGHT,
        widthPx: 1000,
        heightPx: 500,
        k: 1,
        name: 'the line',
        onlive,
        oncommit,
      },
    });
    const grip = screen.getByRole('button', { name: /the line, point 1 of 2/ });
    await fireEvent.keyDown(grip, { key: 'ArrowRight' });
    expect(onlive.mock.lastCall![0][0]).toEqual([0.502, 0]);
    await fireEvent.keyDown(grip, { key: 'ArrowLeft', shiftKey: true });
    expect(onlive.mock.lastCall![0][0]).toEqual([0.48, 0]);
    await fireEvent.keyDown(grip, { key: 'a' });
    expect(oncommit).toHaveBeenCalledTimes(2);
  });
});
