import { afterEach, describe, expect, it } from 'vitest';
import {
  feet,
  length,
  LUX_PER_FOOTCANDLE,
  read,
  readShutter,
  say,
  shutterAt,
  tickLength,
} from './quantities';
import { FIRST, units } from './units.svelte';

afterEach(() => units.choose(FIRST));

describe('feet and inches', () => {
  // 1 in = 25.4 mm and 1 ft = 0.3048 m exactly (international yard, 1959).
  it.each([
    [1.6764, '5\' 6"'],
    [1.6891, '5\' 6 1/2"'],
    [0.3048, "1'"],
    [0.0914, '3 19/32"'],
    [-0.0254, '-1"'],
    [0, '0"'],
    [60.96, "200'"],
  ])('%d m is %s', (metres, shown) => {
    expect(feet(metres)).toBe(shown);
  });

  it('reads back what it writes, to the finest mark of the tape', () => {
    units.choose({ length: 'feet' });
    for (let metres = 0.05; metres < 9; metres *= 1.173) {
      expect(Math.abs(read(length(metres), 'length', metres) - metres)).toBeLessThan(0.0008);
    }
  });

  it('takes a bare number in feet, or in inches where inches are shown', () => {
    units.choose({ length: 'feet' });
    expect(read('6', 'length', 2)).toBeCloseTo(1.8288);
    expect(read('6', 'length', 0.1)).toBeCloseTo(0.1524);
    expect(read('66 mm', 'length', 0.1)).toBeCloseTo(0.066);
    expect(read('3½"', 'length')).toBeCloseTo(0.0889);
  });

  it('writes ticks without figures that say nothing', () => {
    expect([0.3, 3, 1000].map(tickLength)).toEqual(['300 mm', '3 m', '1,000 m']);
    units.choose({ length: 'feet' });
    expect([0.0508, 3.048, 304.8].map(tickLength)).toEqual(['2"', "10'", "1,000'"]);
  });
});

describe('stops in thirds', () => {
  // Third stops as engraved on lenses and meters (common practice).
  it.each([
    [5.6, 'f/5.6'],
    [6.3, 'f/5.6⅓'],
    [7.1, 'f/5.6⅔'],
    [1.8, 'f/1.4⅔'],
    [13, 'f/11⅓'],
    [5.9, 'f/5.9'],
  ])('%d is %s', (value, shown) => {
    units.choose({ stop: 'thirds' });
    expect(say(value, 'stop')).toBe(shown);
    expect(read(shown, 'stop') / value).toBeCloseTo(1, 1);
  });

  it.each([
    ['f/5.6⅓', 6.35],
    ['5.6 2/3', 7.127],
    ['f8', 8],
  ])('%s', (typed, value) => {
    expect(read(typed, 'stop')).toBeCloseTo(value, 2);
  });
});

describe('light and shutters', () => {
  it('speaks foot-candles, and takes lux all the same', () => {
    units.choose({ light: 'footcandles' });
    expect(say(100 * LUX_PER_FOOTCANDLE, 'lux')).toBe('100 fc');
    expect(read('100', 'lux')).toBeCloseTo(1076.39, 1);
    expect(read('500 lx', 'lux')).toBe(500);
    units.choose({ light: 'lux' });
    expect(read('100 fc', 'lux')).toBeCloseTo(1076.39, 1);
  });

  it('takes a shutter as an angle or as a time at its rate', () => {
    expect(readShutter('180°', 24)).toBe(180);
    expect(readShutter('172.8', 24)).toBe(172.8);
    expect(readShutter('1/48', 24)).toBeCloseTo(180);
    expect(readShutter('1/50 s', 24)).toBeCloseTo(172.8);
    expect(readShutter('quick', 24)).toBeNaN();
    expect(shutterAt(24).say(180)).toBe('180°');
    units.choose({ shutter: 'time' });
    expect(shutterAt(24).say(180)).toBe('1/48 s');
  });

  it('is kept on this device and asked of the server', () => {
    units.choose({ length: 'feet', stop: 'thirds' });
    expect(JSON.parse(localStorage.getItem('jungoptic.units') ?? '')).toMatchObject({
      length: 'feet',
    });
    expect(units.asked).toEqual({ length: 'feet', light: 'lux', stop: 'thirds' });
    expect(units.query).toBe('length=feet&light=lux&stop=thirds');
  });
});
