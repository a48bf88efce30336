import { describe, expect, it } from 'vitest';
import { ballHandles, ballMoved, dialPlace, lightRows, shownLights, type BallSays } from './picked';

const BALL = { kind: 'chrome' as const, x: 0.5, y: 0.5, radius: 0.1 };
const LIGHT = {
  from_deg: -60,
  elevation_deg: 30,
  off_deg: 1.4,
  size_deg: 6.25,
  at_most: false,
  stops: 0,
  told: 'from the left, behind the action',
};
const SAYS: BallSays = {
  kind: 'chrome',
  lights: [LIGHT],
  ratio_stops: null,
  problem: '',
  guessed: false,
  wanted_from_deg: null,
  wanted_elevation_deg: null,
};

describe('the outline of a ball', () => {
  it('is held by its middle and its rim, which stays in the picture', () => {
    const [middle, rim] = ballHandles([BALL]);
    expect([middle!.x, rim!.x, rim!.label]).toEqual([0.5, 0.6, 'Chrome ball 1, its rim']);
    const beside = ballHandles([{ ...BALL, x: 0.95 }])[1]!;
    expect(beside.x).toBeCloseTo(0.85);
  });
  it('goes where its middle is put, and is as large as its rim is away', () => {
    expect(ballMoved([BALL], 'b0.1', { x: 0.2, y: 0.3 }, 2)[0]).toEqual({
      ...BALL,
      x: 0.2,
      y: 0.3,
    });
    // Twice as wide as high: a tenth of the height is a twentieth of the width.
    expect(ballMoved([BALL], 'b0.2', { x: 0.5, y: 0.6 }, 2)[0]!.radius).toBeCloseTo(0.05);
    expect(ballMoved([BALL], 'b0.2', { x: 0.5, y: 0.5 }, 2)[0]!.radius).toBe(0.001);
    const two = ballMoved([BALL, BALL], 'b1.1', { x: 0, y: 0 }, 2);
    expect([two[0], two[1]!.x]).toEqual([BALL, 0]);
  });
});

describe('the light from above', () => {
  it('has what is ahead at its top, level at its rim, and straight up in its middle', () => {
    const close = (at: { x: number; y: number }, x: number, y: number) => {
      expect(at.x).toBeCloseTo(x);
      expect(at.y).toBeCloseTo(y);
    };
    close(dialPlace(0, 0, 90), 0, -90);
    close(dialPlace(90, 45, 90), 45, 0);
    close(dialPlace(180, 90, 90), 0, 0);
    expect(dialPlace(0, -10, 90).below).toBe(true);
  });
});

describe('the lights of a ball', () => {
  it('are told with how sure they are', () => {
    expect(lightRows(SAYS)).toEqual([
      { name: 'Key', comes: LIGHT.told, up: '30° ± 1', wide: '6.3°', under: '' },
    ]);
  });
  it('are drawn by their ball, the key first', () => {
    const shown = shownLights([
      { ...SAYS, lights: [LIGHT, LIGHT] },
      { ...SAYS, kind: 'grey' },
    ]);
    expect(shown.map((one) => [one.sign, one.kind, one.key])).toEqual([
      ['1 key', 'chrome', true],
      ['1.2', 'chrome', false],
      ['2 key', 'grey', true],
    ]);
  });
  it('say when they are burnt out, only bounded, or a fill', () => {
    const burnt = { ...LIGHT, stops: null, at_most: true };
    const rows = lightRows({ ...SAYS, lights: [burnt, burnt] });
    expect(rows.map((row) => [row.name, row.wide, row.under])).toEqual([
      ['Key', 'under 6.3°', 'burnt out'],
      ['Light 2', 'under 6.3°', 'not told'],
    ]);
    const matt = { ...LIGHT, size_deg: null, stops: 2.04 };
    const grey = lightRows({ ...SAYS, kind: 'grey', lights: [matt, matt] });
    expect(grey[1]).toMatchObject({ name: 'Fill', wide: '', under: '2.0 stops' });
  });
});
