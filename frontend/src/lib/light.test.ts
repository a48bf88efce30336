import { describe, expect, it } from 'vitest';
import { clock, clockIn, dateIn, dayAfter, dayInWords } from './days';
import { bandFill, degrees, minutes, side, signed } from './light';

describe('where light comes from, in words', () => {
  it.each([
    [0, 'behind the action'],
    [-10, 'behind the action'],
    [40, 'right, behind'],
    [-40, 'left, behind'],
    [90, 'right'],
    [-90, 'left'],
    [135, 'right, in front'],
    [225, 'left, in front'],
    [180, 'behind the camera'],
    [-540, 'behind the camera'],
  ])('%d° is %s', (from, words) => expect(side(from)).toBe(words));
});

describe('stops and durations', () => {
  it.each([
    [0, '0'],
    [-0.04, '0'],
    [1.26, '+1.3'],
    [-2, '−2.0'],
  ])('%d stops are %s', (stops, words) => expect(signed(stops)).toBe(words));

  it('minutes become hours when there are many', () => {
    expect(minutes(45.4)).toBe('45 min');
    expect(minutes(185)).toBe('3 h 05');
    expect(degrees(213.4)).toBe('213°');
  });

  it('a band is brighter the more light there is, and darker the less', () => {
    expect(bandFill(1, 1.5).fill).not.toBe(bandFill(-1.5, -1).fill);
    expect(bandFill(2, 2.5).opacity).toBeGreaterThan(bandFill(0, 0.5).opacity);
    expect(bandFill(-3, -2.5).opacity).toBeGreaterThan(bandFill(-1, -0.5).opacity);
    for (const low of [-9, -4, 0, 4]) {
      expect(bandFill(low, low + 0.5).opacity).toBeLessThanOrEqual(0.75);
    }
  });
});

describe('days and clocks of places', () => {
  it('days go on over months and leap days', () => {
    expect(dayAfter('2026-11-30', 1)).toBe('2026-12-01');
    expect(dayAfter('2028-02-28', 1)).toBe('2028-02-29');
    expect(dayAfter('2027-01-01', -1)).toBe('2026-12-31');
  });

  it('the clock is the place’s, in summer and in winter', () => {
    const summer = Date.UTC(2026, 5, 20, 11, 5) / 1000;
    const winter = Date.UTC(2026, 11, 20, 23, 30) / 1000;
    expect(clockIn(summer, 'Europe/London')).toBe('12:05');
    expect(clockIn(winter, 'Europe/London')).toBe('23:30');
    expect(clock(summer, 3600)).toBe('12:05');
    // Day and month in the order of whoever reads it.
    expect(dateIn(winter, 'Asia/Tokyo')).toMatch(/21 Dec|Dec 21/);
    expect(dayInWords('2026-11-28')).toMatch(/28 November|November 28/);
  });
});
