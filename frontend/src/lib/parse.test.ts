import { describe, expect, it } from 'vitest';
import { chainage, grade, signed, signedWhole, whole } from './format';
import { NotUnderstood, parse } from './parse';
import { understand } from './units';

describe('what a person types', () => {
  it.each([
    ['3.2%', 'grade', 0.032],
    ['-3.2', 'grade', -0.032],
    ['−3,2 %', 'grade', -0.032],
    ['1:12', 'grade', 1 / 12],
    ['-1:8', 'grade', -0.125],
    ['1+234.50', 'chainage', 1234.5],
    ['1+234.50+20', 'chainage', 1254.5],
    ['1234.5', 'chainage', 1234.5],
    ['150 ft', 'length', 45.72],
    ['100+20-0.5', 'length', 119.5],
    ['12 cm', 'length', 0.12],
    ['26', 'number', 26],
  ] as const)('%s as a %s', (text, kind, value) => {
    expect(parse(text, kind)).toBeCloseTo(value, 9);
  });

  it.each([
    ['', 'length'],
    ['abc', 'chainage'],
    ['12 x', 'length'],
    ['1:0', 'grade'],
    ['3 m', 'number'],
  ] as const)('refuses “%s” with a reason', (text, kind) => {
    expect(() => parse(text, kind)).toThrow(NotUnderstood);
  });
});

describe('what a person reads', () => {
  it('shows chainages as kilometres and metres, also where rounding carries', () => {
    expect(chainage(1234.5)).toBe('1+234.50');
    expect(chainage(999.999)).toBe('1+000.00');
    expect(chainage(-12.3)).toBe('−0+012.30');
    expect(chainage(3986.3, 0)).toBe('3+986');
  });
  it('never shows a minus before nothing', () => {
    expect(signed(-0.0001, 2)).toBe('0.00');
    expect(grade(-0.0432)).toBe('−4.32 %');
    expect(signedWhole(1234567.4)).toBe('+1\u2009234\u2009567');
    expect(whole(-1234)).toBe('−1\u2009234');
  });
});

it('speeds and K are understood in the other practice too', () => {
  expect(understand('speed', '45 mph')).toBeCloseTo(72.42048, 9);
  expect(understand('speed', '70 km/h')).toBe(70);
  expect(understand('k', '84 ft/%')).toBeCloseTo(25.6032, 9);
  expect(() => understand('k', '84 ft')).toThrow('has a unit where none fits');
});
