import { afterEach, describe, expect, it } from 'vitest';
import { niceStep } from './deck/draw';
import { chainage } from './format';
import { NotUnderstood } from './parse';
import { openIn, readIn, system, worded } from './system.svelte';
import { change, factorOf, figure, heightInWords, show, told, understand, unitOf } from './units';

const FOOT = 0.3048;
afterEach(() => {
  openIn(undefined);
});

describe('in feet', () => {
  it.each([
    ['length', 30.48, '100.00 ft'],
    ['level', 312.4 * FOOT, '312.40 ft'],
    ['k', 23, '75.46 ft/%'],
    ['speed', 96.56064, '60 mph'],
    // A cubic yard is 0.764554857984 m3, an acre 4046.8564224 m2: NIST Special Publication 811 (2008), B.8.
    ['volume', 764.554857984, '1\u2009000 yd³'],
    ['land', 40468.564224, '10.000 ac'],
    ['area', 92.90304, '1\u2009000 ft²'],
    // A hundred cubic yards over ten stations of a hundred feet.
    ['haul', 76.4554857984 * 304.8, '1\u2009000 station-yd³'],
    ['price_m3', 1, '0.7646 / yd³'],
    ['batter', 2, '2 : 1, H : V'],
  ] as const)('%s of %d reads %s', (dimension, value, text) => {
    openIn('us');
    expect(told(dimension, value)).toBe(text);
  });

  it('writes stations of a hundred feet, also where rounding carries', () => {
    openIn('us');
    expect(chainage(1234.56 * FOOT)).toBe('12+34.56');
    expect(chainage(99.999 * FOOT)).toBe('1+00.00');
    expect(chainage(-5 * FOOT, 0)).toBe('−0+05');
  });

  it.each([
    ['chainage', '12+34.56', 1234.56 * FOOT],
    ['chainage', '1+234.50', 1234.5],
    ['chainage', '12+34.56 + 20', 1254.56 * FOOT],
    ['length', '100', 30.48],
    ['length', '100 m', 100],
    ['level', '312.4', 312.4 * FOOT],
    ['k', '84', 84 * FOOT],
    ['k', '26 m/%', 26],
    ['speed', '60', 96.56064],
    ['speed', '100 km/h', 100],
    ['price_m3', '5 /m3', 5],
  ] as const)('%s typed as %s', (dimension, text, value) => {
    openIn('us');
    expect(understand(dimension, text)).toBeCloseTo(value, 9);
    // What is shown is understood as what it shows, to the digits shown.
    expect(understand(dimension, show(dimension, value))).toBeCloseTo(value, 2);
  });

  it('understands feet and stations where metres are shown', () => {
    expect(understand('chainage', '12+34.56')).toBeCloseTo(376.293888, 9);
    expect(understand('chainage', '12+345')).toBe(12345);
    expect(understand('chainage', '1234 + 50')).toBe(1284);
    expect(understand('k', '84 ft/%')).toBeCloseTo(25.6032, 9);
    expect(() => understand('speed', '60 ft')).toThrow(NotUnderstood);
  });

  it('keeps the foot of old surveys apart: 4 ft in a state plane of two million', () => {
    openIn('us');
    expect(told('plan', (2e6 * 1200) / 3937)).toBe('2000004.000 ft');
    openIn('us_survey');
    expect(told('plan', (2e6 * 1200) / 3937)).toBe('2000000.000 ftUS');
    expect(understand('plan', '2000000')).toBeCloseTo(609601.2192024384, 6);
  });

  it('speaks the words of that practice, and leaves what somebody wrote', () => {
    expect(worded('A level at its chainage')).toBe('A level at its chainage');
    openIn('us');
    expect(worded('A level at its chainage, “Level crossing”')).toBe('An elevation at its station, “Level crossing”');
    expect(worded('Levels, m³ per bank m³')).toBe('Elevations, yd³ per bank yd³');
    expect(heightInWords(-3.048)).toBe('10.00 ft below ground');
    expect([change('volume', 764.554857984), change('volume', 0.1)]).toEqual(['+1\u2009000', '0']);
    expect(figure('level', 1000 * FOOT, 0)).toBe('1000');
  });

  it('steps of an axis are round in what is shown', () => {
    expect(niceStep(1000, 10)).toBe(100);
    openIn('us');
    expect(niceStep(1000, 10) / FOOT).toBeCloseTo(500, 9);
  });
});

it('a person reads every project in the system chosen, or each in its own', () => {
  openIn('us');
  readIn('metric');
  expect([system(), unitOf('length'), factorOf('length')]).toEqual(['metric', 'm', 1]);
  readIn(null);
  expect(system()).toBe('us');
});
