import { describe, expect, it } from 'vitest';
import {
  figure,
  halfTyped,
  length,
  read,
  readLength,
  roundBelow,
  say,
  stepFor,
  type Kind,
} from './quantities';
import { units } from './units.svelte';

describe('what people type as a length', () => {
  it.each([
    ['1.5 m', 1.5],
    ['1,5', 1.5],
    ['66mm', 0.066],
    ['6.6 cm', 0.066],
    ['5\'6"', 1.6764],
    ['5\' 6 1/2"', 1.6891],
    ['6 ft', 1.8288],
    ["-2'", -0.6096],
    ['12 in', 0.3048],
    ['5′6″', 1.6764],
    ['5’6”', 1.6764],
    ['5\' 6 ½"', 1.6891],
    ["5'6''", 1.6764],
    ['6½ in', 0.1651],
    ['1,500 m', 1500],
    ['0,500 m', 0.5],
    ['10\u00a0000 m', 10000],
    ['+2 m', 2],
    ['–3 m', -3],
    ['1 ⅔ m', 5 / 3],
    ['-6 1/2"', -0.1651],
    ['1/2', 0.5],
  ])('%s is %d m', (typed, metres) => {
    expect(readLength(typed)).toBeCloseTo(metres, 6);
  });

  it.each(['', 'wide', '5 apples', "5'x", '--1', '1.2.3'])('%s is not', (typed) => {
    expect(readLength(typed)).toBeNaN();
  });

  it('takes a bare number in the unit that is shown', () => {
    expect(read('95', 'length', 0.105)).toBeCloseTo(0.095);
    expect(read('95', 'length', 12)).toBe(95);
    expect(read('2', 'length', 0)).toBe(2);
  });
});

describe('what people type otherwise', () => {
  it.each<[string, Kind, number]>([
    ['f8', 'stop', 8],
    ['f/5.6', 'stop', 5.6],
    ['1/48', 'shutter', 1 / 48],
    ['1/48 s', 'shutter', 1 / 48],
    ['180°', 'degrees', 180],
    ['−3.5', 'degrees', -3.5],
    ['24 fps', 'rate', 24],
    ['1:12', 'scale', 12],
    ['12', 'scale', 12],
    ['1,200 lx', 'lux', 1200],
    ['ISO 800', 'iso', 800],
    ['28 mm', 'mm', 28],
    ['1.650 m', 'mm', 1650],
    ['25 cm', 'mm', 250],
    ['6"', 'mm', 152.4],
    ['450', 'mm', 450],
    ['T2.8', 'stop', 2.8],
    ['f/11½', 'stop', 13.45],
    ['5.6 1/2', 'stop', 6.727],
    ['1,920 px', 'pixels', 1920],
    ['12,800', 'iso', 12800],
    ['1 920', 'pixels', 1920],
    ['5,600 K', 'kelvin', 5600],
    ['+1.5 stops', 'stops', 1.5],
    ['½', 'stops', 0.5],
    ['62,5 %', 'percent', 0.625],
  ])('%s', (typed, kind, value) => {
    expect(read(typed, kind)).toBeCloseTo(value, 9);
  });

  it('does not take an angle for a time', () => {
    expect(read('180°', 'shutter')).toBeNaN();
  });
});

describe('saying quantities', () => {
  it.each<[number | null, Kind, string]>([
    [0.0917, 'length', '91.7 mm'],
    [0.125, 'length', '125 mm'],
    [1.5362, 'length', '1.536 m'],
    [31.4, 'length', '31.40 m'],
    [0, 'length', '0 mm'],
    [null, 'length', '∞'],
    [5.6, 'stop', 'f/5.6'],
    [1 / 48, 'shutter', '1/48 s'],
    [83.138, 'rate', '83.14 fps'],
    [7678, 'lux', '7,680 lx'],
    [12, 'scale', '1:12'],
    [-3, 'degrees', '-3°'],
    [100, 'iso', '100'],
  ])('%s as %s', (value, kind, said) => {
    expect(say(value, kind)).toBe(said);
  });

  it.each<[Kind, number[]]>([
    ['length', [0.0123, 0.456, 1.234, 45.67, 1234, 12_345_678]],
    ['mm', [0.5, 28, 1234.5]],
    ['degrees', [-3.25, 0, 172.8]],
    ['stop', [1.4, 5.6, 13.4, 22]],
    ['rate', [0.5, 23.98, 1000]],
    ['iso', [100, 12_800, 1_000_000]],
    ['lux', [0.5, 120, 7680, 123_450]],
    ['seconds', [0.04, 12.5, 3600]],
    ['shutter', [1 / 48, 1 / 50, 0.5, 2]],
    ['scale', [0.25, 1, 12, 1000]],
    ['pixels', [2, 1920, 32_768]],
    ['stops', [-1.5, 0, 3]],
    ['kelvin', [2300, 5600]],
    ['percent', [0, 0.05, 1, 20]],
    ['plain', [0, 0.125, -12, 1234.5]],
  ])('reads back what it says: %s', (kind, values) => {
    for (const length of ['metric', 'feet'] as const) {
      for (const stop of ['decimal', 'thirds'] as const) {
        for (const light of ['lux', 'footcandles'] as const) {
          units.choose({ length, stop, light });
          for (const value of values) {
            const back = read(say(value, kind), kind, value);
            // To what it shows: three figures of light, whole pixels, a sixteenth of an inch.
            expect(Math.abs(back - value)).toBeLessThanOrEqual(0.04 * Math.abs(value) + 1e-9);
          }
        }
      }
    }
    units.choose({ length: 'metric', stop: 'decimal', light: 'lux' });
  });

  it('tells what is half typed from a number', () => {
    for (const half of ['-', '1.', '1,', "5'", "5'6", '6 1/', '1:', 'f/', '1e'])
      expect(halfTyped(half), half).toBe(true);
    for (const whole of ['', '1', '1.5', '5\'6"', '6½', '1:12', 'f/8', '180°', '12 mm'])
      expect(halfTyped(whole), whole).toBe(false);
  });

  it('writes figures of a working without powers of ten', () => {
    expect([0, 2.3e-11, 0.0001234, 0.5, 1234.567, 123_456.7, null].map(figure)).toEqual([
      '0',
      '0',
      '0.0001234',
      '0.5',
      '1234.6',
      '123,457',
      '∞',
    ]);
  });

  it('reads back lengths', () => {
    for (const metres of [0.0123, 0.456, 1.234, 45.67]) {
      expect(readLength(length(metres))).toBeCloseTo(metres, 3);
    }
  });
});

it('steps by about one part in a hundred, and scale bars are round', () => {
  expect(stepFor(1.5, 'length')).toBe(0.01);
  expect(stepFor(0.0917, 'length')).toBe(0.001);
  expect(stepFor(3, 'degrees')).toBe(0.1);
  expect(roundBelow(0.99)).toBeCloseTo(0.5);
  expect(roundBelow(240)).toBe(200);
});
