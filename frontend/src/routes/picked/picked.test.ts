import { describe, expect, it } from 'vitest';
import {
  asStoryCamera,
  edgesLack,
  handlesOf,
  linesOf,
  marksLack,
  moved,
  offPx,
  type ByEdges,
  type ByMarks,
  type Edge,
  type Mark,
} from './picked';

const edge = (direction: Edge['direction']): Edge => ({
  direction,
  x1: 0.1,
  y1: 0.2,
  x2: 0.3,
  y2: 0.4,
});
const upright = { height_m: 1.7, foot_x: 0.5, foot_y: 0.9, top_x: 0.5, top_y: 0.3 };

describe('what is picked in a picture', () => {
  it('has a handle at every end, and moves by it', () => {
    const edges = [edge('up'), edge('ahead')];
    const handles = handlesOf(edges, [upright]);
    expect(handles.map((one) => one.id)).toEqual(['e0.1', 'e0.2', 'e1.1', 'e1.2', 'u0.1', 'u0.2']);
    const there = { x: 0.7, y: 0.8 };
    for (const { id } of handles) {
      const after = moved(edges, [upright], id, there);
      const now = handlesOf(after.edges, after.uprights);
      expect(now.filter((one) => one.x === 0.7 && one.y === 0.8).map((one) => one.id)).toEqual([
        id,
      ]);
      expect(now.length).toBe(handles.length);
    }
    expect(linesOf(edges, [upright]).map((one) => one.sign)).toEqual(['1', '2', '1.700 m']);
  });

  it('says what is still missing', () => {
    const two = [edge('up'), edge('up'), edge('ahead')];
    expect(edgesLack(two)).toContain('Two edges of each of two directions');
    expect(edgesLack([...two, edge('ahead')])).toBe('');
    expect(marksLack(1)).toContain('3 more');
    expect(marksLack(4)).toBe('');
  });

  it('tells how far the camera found has each mark', () => {
    const mark: Mark = { name: 'a', right_m: 0, ahead_m: 0, up_m: 0, x: 0.5, y: 0.5 };
    const by = { places: [[0.5, 0.51]], width_px: 1920 } as unknown as ByMarks;
    expect(offPx(by, [mark], 0, 1080)).toBeCloseTo(10.8, 6);
    // Worked out for other marks than are there now.
    expect(offPx(by, [mark, mark], 0, 1080)).toBeNull();
    expect(offPx(null, [mark], 0, 1080)).toBeNull();
  });

  it('becomes the camera of the story, whose height is left alone where nothing tells it', () => {
    const by = { focal_widths: 1.2, tilt_deg: -4.004, roll_deg: 0.333, height_m: null } as ByEdges;
    expect(asStoryCamera(by, 24.9)).toEqual({ focal_mm: 29.9, tilt_deg: -4, roll_deg: 0.33 });
    expect(asStoryCamera({ ...by, height_m: 1.23456 }, 36).camera_height_m).toBe(1.235);
  });
});
