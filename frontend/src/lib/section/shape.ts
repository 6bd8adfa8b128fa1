import { system, unitLength } from '../system.svelte';
import type { Element } from '../state/sections.svelte';

// What a hand does to an element in the drawing. How it is built is the server's: only what was typed changes here.

type Point = readonly [number, number];

/** Which of its fields an element of a kind has. */
export function has(kind: Element['kind'], field: string): boolean {
  const slopes = ['front_h_over_v', 'back_h_over_v', 'depth_m'];
  if (kind === 'drain') return field !== 'fall' && field !== 'drop_m';
  return !slopes.includes(field);
}

/** Steps that a width or a depth goes by, and a fall, under the hand. [m, m/m] */
const stepM = (): number => (system() === 'metric' ? 0.05 : 0.1 * unitLength());
const STEP_FALL = 0.005;
const to = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(6));

/**
 * An element with one of its corners pulled to a place, along or up and down; corners are as drawn, from its inner
 * point on, offsets negative left.
 */
export function pulled(e: Element, corners: readonly Point[], corner: number, at: Point, upright: boolean): Element {
  const sign = e.side === 'left' ? -1 : 1;
  const inner = corners[0]!;
  const out = Math.max(sign * (at[0] - inner[0]), 0);
  const down = inner[1] - at[1];
  const step = stepM();
  if (e.kind === 'drain') {
    const front = e.front_h_over_v * e.depth_m;
    if (upright && corner < 3) {
      const depth = Math.max(to(down, step), step);
      return { ...e, depth_m: depth };
    }
    if (corner === 1) return { ...e, front_h_over_v: Number((out / Math.max(e.depth_m, step)).toFixed(1)) };
    if (corner === 2) return { ...e, width_m: Math.max(to(out - front, step), 0) };
    const back = Math.max(out - front - e.width_m, 0) / Math.max(e.depth_m, step);
    return { ...e, back_h_over_v: Number(back.toFixed(1)) };
  }
  if (e.kind === 'kerb' || e.kind === 'wall') {
    if (!upright) return { ...e, width_m: to(out, step) };
    const drop = to(down - e.width_m * e.fall, step);
    return drop ? { ...e, drop_m: drop } : e;
  }
  if (!upright) return { ...e, width_m: Math.max(to(out, step), step) };
  const wide = Math.max(e.width_m, step);
  if (e.drop_m !== null) return { ...e, drop_m: to(down, step) };
  return { ...e, fall: to(down / wide, STEP_FALL) };
}

/** A usual size as one of this practice would type it: in feet to the half. [m] */
const round = (metres: number): number =>
  system() === 'metric' ? metres : (Math.round((metres / unitLength()) * 2) / 2) * unitLength();

/** A new element of a kind, with usual sizes: common practice. [m] */
export function fresh(kind: Element['kind'], side: Element['side'], names: readonly string[]): Element {
  const usual: Partial<Record<Element['kind'], Partial<Element>>> = {
    lane: { width_m: round(3), fall: 0.03 },
    shoulder: { width_m: round(1), fall: 0.05 },
    verge: { width_m: round(1), fall: 0.04 },
    kerb: { width_m: round(0.15), drop_m: -round(0.15) },
    drain: { width_m: round(0.5), depth_m: round(0.5), built: 'in cut' },
    berm: { width_m: round(2), fall: 0.05 },
    wall: { width_m: round(0.3), drop_m: round(1) },
  };
  let name: string = kind;
  for (let n = 2; names.includes(name); n++) name = `${kind} ${n}`;
  return {
    ...{ side, kind, name, width_m: 1, fall: 0, drop_m: null, front_h_over_v: 3, back_h_over_v: null, depth_m: 0.5 },
    ...{ built: 'always', exceeds_m: 0, written: true },
    ...usual[kind],
  };
}
