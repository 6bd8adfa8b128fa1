import { expect, it } from 'vitest';
import { alike, copied, mirrored, type Typical } from '../state/sections.svelte';
import { fresh, has, pulled } from './shape';

const lane = fresh('lane', 'right', []);
const drain = { ...fresh('drain', 'left', []), front_h_over_v: 2, width_m: 0.4, depth_m: 0.6 };

it('pulls a corner along or up and down, on either side, by steps', () => {
  const corners = [
    [0, 0],
    [3, -0.09],
  ] as const;
  expect(pulled(lane, corners, 1, [3.52, -0.4], false)).toEqual({ ...lane, width_m: 3.5 });
  expect(pulled(lane, corners, 1, [3.4, -0.16], true).fall).toBeCloseTo(0.055);
  // An element is never pulled inside out.
  expect(pulled(lane, corners, 1, [-5, 0], false).width_m).toBe(0.05);
});

it('pulls the corners of a drain: depth, front slope, bottom, back slope', () => {
  const corners = [
    [-4, -0.1],
    [-5.2, -0.7],
    [-5.6, -0.7],
  ] as const;
  expect(pulled(drain, corners, 1, [-5.2, -0.92], true).depth_m).toBe(0.8);
  expect(pulled(drain, corners, 1, [-5.8, -0.7], false).front_h_over_v).toBe(3);
  expect(pulled(drain, corners, 2, [-6.21, -0.7], false).width_m).toBe(1);
  expect(pulled(drain, corners, 3, [-6.2, -0.1], false).back_h_over_v).toBe(1);
});

it('knows which fields a kind has, and names that are free', () => {
  expect(has('drain', 'fall')).toBe(false);
  expect(has('lane', 'depth_m')).toBe(false);
  expect(fresh('lane', 'left', ['lane', 'lane 2']).name).toBe('lane 3');
});

it('copies a side, and changes both over', () => {
  const section = { slot: 'section', name: 'x', elements: [drain, lane], layers: [], batters: [] } as Typical;
  expect(alike(section)).toBe(false);
  const both = copied(section, 'left');
  expect(both.elements.map((e) => [e.side, e.kind])).toEqual([
    ['left', 'drain'],
    ['right', 'drain'],
  ]);
  expect(alike(both)).toBe(true);
  expect(mirrored(section).elements.map((e) => [e.side, e.kind])).toEqual([
    ['left', 'lane'],
    ['right', 'drain'],
  ]);
});
