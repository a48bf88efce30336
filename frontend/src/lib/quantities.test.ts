import { describe, expect, it } from 'vitest';
import { length, read, readLength, roundBelow, say, stepFor, type Kind } from './quantities';

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

  it('reads back what it says', () => {
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
