import { afterEach, describe, expect, it } from 'vitest';
import { chainage } from './format';
import { back, even, found, writeBy } from './stations.svelte';
import { show, understand } from './units';

afterEach(() => writeBy([]));

describe('chainages along a road with equations', () => {
  it('are written on from another value, and read back', () => {
    writeBy([{ at_m: 1000, ahead_m: 1250 }]);
    expect([999, 1000, 1100].map((s) => chainage(s, 0))).toEqual(['0+999', '1+250', '1+350']);
    expect(understand('chainage', '1+350')).toBe(1100);
    expect(() => understand('chainage', '1+100')).toThrow('written nowhere');
    expect(back(1000)).toBe(1000);
    // What is written ahead is a value of its own, and no place.
    expect(show('station', 1250)).toBe('1+250.00');
  });

  it('say which stretch they are on where a value is written twice', () => {
    writeBy([{ at_m: 1000, ahead_m: 900 }]);
    expect([950, 1050, 1200].map((s) => chainage(s, 0))).toEqual(['0+950 (1)', '0+950 (2)', '1+100']);
    expect(understand('chainage', '0+950 (2)')).toBe(1050);
    expect(() => understand('chainage', '950')).toThrow('written twice: 0+950.00 (1) or 0+950.00 (2)');
    expect(found(1100)).toEqual([1200]);
    expect(even(880, 1120, 50)).toEqual([900, 950, 1000, 1050, 1100]);
  });
});
