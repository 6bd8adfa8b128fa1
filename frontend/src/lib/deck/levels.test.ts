import { expect, it } from 'vitest';
import type { Figured, Still } from '../state/figures.svelte';
import { niceStep } from './draw';
import { exaggeration, levelRange } from './levels';

const terrain = {
  arrays: {
    ground_chainage: Float32Array.of(0, 100, 200, 300),
    ground_level: Float32Array.of(10, 12, 40, 11),
  },
} as unknown as Still;
const line = {
  arrays: { line_chainage: Float32Array.of(0, 300), line_level: Float32Array.of(8, 9) },
  products: { line: { ips: [{ chainage_m: 150, level_m: 3 }] }, utilities: [{ crossings: [[250, 41]] }] },
} as unknown as Figured;

it('takes ground, line and IPs within the stretch in view', () => {
  expect(levelRange(terrain, [line], [0, 300])).toEqual([3, 41]);
  expect(levelRange(terrain, [line], [0, 220])).toEqual([3, 40]);
  expect(levelRange(terrain, [], [0, 99])).toEqual([10, 12]);
});

it('chooses the largest even exaggeration that fits', () => {
  // 30 m of relief at 0.2 px/m over 250 px: 30 * 1.08 * 0.2 * 30 = 194 fits, 40 would need 259.
  const { ratio, levels } = exaggeration([100, 130], 250, 0.2);
  expect(ratio).toBe(30);
  expect(levels[1] - levels[0]).toBeCloseTo(250 / (30 * 0.2), 9);
  expect((levels[0] + levels[1]) / 2).toBeCloseTo(115, 9);
});

it('falls below one to one rather than cutting anything off', () => {
  const { ratio, levels } = exaggeration([0, 500], 100, 2);
  expect(ratio).toBeLessThan(1);
  expect(levels[0]).toBeLessThanOrEqual(0);
  expect(levels[1]).toBeGreaterThanOrEqual(500);
});

it('steps by ones, twos and fives', () => {
  expect([niceStep(100, 10), niceStep(90, 20), niceStep(0.7, 5), niceStep(4000, 9)]).toEqual([10, 5, 0.2, 500]);
});
