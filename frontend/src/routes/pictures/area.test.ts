import { describe, expect, it } from 'vitest';
import { drawnArea, edged } from './area';

describe('the part of a picture that is measured', () => {
  it('is drawn from any corner to the opposite one', () => {
    expect(drawnArea([0.7, 0.8], [0.2, 0.1])).toEqual([0.2, 0.1, 0.7, 0.8]);
    expect(drawnArea([0.2, 0.1], [0.7, 0.8])).toEqual([0.2, 0.1, 0.7, 0.8]);
  });
  it('ends where the picture does', () => {
    expect(drawnArea([0.5, 0.5], [1.4, -0.2])).toEqual([0.5, 0, 1, 0.5]);
  });
  it('is not made by a press', () => {
    expect(drawnArea([0.5, 0.5], [0.51, 0.9])).toBeNull();
    expect(drawnArea([0.5, 0.5], [0.9, 0.5])).toBeNull();
  });
  it('never turns inside out when an edge is pushed', () => {
    expect(edged([0.2, 0.1, 0.7, 0.8], 0, 0.9)[0]).toBeCloseTo(0.68);
    expect(edged([0.2, 0.1, 0.7, 0.8], 3, 0)[3]).toBeCloseTo(0.12);
    expect(edged([0.2, 0.1, 0.7, 0.8], 2, 0.9)).toEqual([0.2, 0.1, 0.9, 0.8]);
  });
});
