import type { Schemas } from '../../api/client';
import { ROWS } from '../../api/fields';
import { changeRows } from './rows';
import type { Work } from './work.svelte';

export type LimitRange = Schemas['LimitRange'];

/** What a range may set, and how wide one may be at least. */
export const LEAST_M = 0.1;
export type LimitName = Exclude<keyof LimitRange, 'from_m' | 'to_m' | 'words' | 'road'>;
export const LIMIT_NAMES = ROWS.ranges.fields.filter((f) => f.optional).map((f) => f.name) as LimitName[];
const FREE = Object.fromEntries(LIMIT_NAMES.map((name) => [name, null])) as Record<LimitName, null>;

export const freshRange = (road: string, from_m: number, to_m: number): LimitRange => ({
  ...FREE,
  from_m,
  to_m,
  words: '',
  road,
});

/** Ranges of the road that is looked at, each with its place among all. */
export function rangesOf(w: Work): { range: LimitRange; at: number }[] {
  const road = w.road?.slot;
  return (w.project?.ranges?.rows ?? []).flatMap((range, at) => (range.road === road ? [{ range, at }] : []));
}

/** Save the ranges with one change made to them as they are by then. */
export const changeRanges = (w: Work, what: string, make: (rows: LimitRange[]) => LimitRange[]) =>
  changeRows(w, 'ranges', what, make);

/** Lanes for bars that lie over each other: the longer ones first, each in the first lane that is free there. */
export function lanes(all: { from_m: number; to_m: number }[]): number[] {
  const taken: { from_m: number; to_m: number }[][] = [];
  const out = new Array<number>(all.length).fill(0);
  const order = all.map((_, i) => i).sort((a, b) => all[b]!.to_m - all[b]!.from_m - (all[a]!.to_m - all[a]!.from_m));
  for (const i of order) {
    const r = all[i]!;
    let lane = taken.findIndex((row) => row.every((o) => o.to_m <= r.from_m || o.from_m >= r.to_m));
    if (lane < 0) lane = taken.push([]) - 1;
    taken[lane]!.push(r);
    out[i] = lane;
  }
  return out;
}
