import { render } from '@testing-library/svelte';
import { expect, it } from 'vitest';
import FrameTone, { masses, type Tone } from './FrameTone.svelte';

const square: [number, number][] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 0],
];
const tone = (stand_in_id: string, far_m: number, more: Partial<Tone> = {}): Tone => ({
  stand_in_id,
  kind: 'face',
  paths: [square],
  grey: 0.5,
  far_m,
  soft_px: [0, 0],
  ...more,
});

it('lays the farther under the nearer, and keeps the faces of a thing together', () => {
  const found = masses([tone('near', 2), tone('far', 9), tone('far', 9, { grey: 0.2 })]);
  expect(found.map((m) => m.tones.map((t) => t.stand_in_id))).toEqual([['far', 'far'], ['near']]);
});

it('softens each mass by what blurs it, and nothing that is sharp', () => {
  const soft = tone('walker', 3, { soft_px: [6, 1.5] });
  const { container } = render(FrameTone, { tones: [tone('wall', 9), soft] });
  const blurs = [...container.querySelectorAll('feGaussianBlur')];
  expect(blurs.map((b) => b.getAttribute('stdDeviation'))).toEqual(['6 1.5']);
  const groups = [...container.querySelectorAll('[data-layer=tone] > g')];
  expect(groups.map((g) => g.hasAttribute('filter'))).toEqual([false, true]);
});

it('shows a face in its grey, and a shadow as what it takes', () => {
  const { container } = render(FrameTone, {
    tones: [tone('box', 4, { grey: 0.2 }), tone('box', 5e4, { kind: 'shadow', grey: 0.6 })],
  });
  const [shadow, face] = [...container.querySelectorAll('path')];
  expect(shadow?.getAttribute('fill')).toBe('black');
  expect(shadow?.getAttribute('fill-opacity')).toBe('0.6');
  expect(face?.getAttribute('fill')).toBe('rgb(51 51 51)');
});
