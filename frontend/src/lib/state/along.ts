import type { Schemas } from '../../api/client';
import { chainage } from '../format';
import { told } from '../units';
import { changeRows, rowsOf, type RowsKind } from './rows';
import type { Work } from './work.svelte';

// How sections vary along the road that is looked at: ranges, added lanes, and what is changed on the way.
export type SectionRange = Schemas['SectionRange'];
export type SectionChange = Schemas['SectionChange'];
export type AddedLane = Schemas['AddedLane'];
export type AlongList = 'ranges' | 'lanes' | 'changes';

export const KIND: Record<AlongList, RowsKind> = {
  ranges: 'along',
  changes: 'along.changes',
  lanes: 'along.lanes',
};
export const NO_SECTION = 'none';

/** Typical sections by slot as they are called, and what stands for none. */
export const sectionNames = (w: Work): Record<string, string> => ({
  ...Object.fromEntries((w.project?.sections ?? []).map((s) => [s.slot, s.name])),
  [NO_SECTION]: 'no section',
});

type Row = { from_m: number; to_m: number; road: string };

/** Rows of a list that are of the road looked at, each with its place among all. */
export function placed<T extends Row>(w: Work, list: AlongList): { row: T; at: number }[] {
  const road = w.road?.slot;
  return rowsOf<T>(KIND[list], w.project).flatMap((row, at) => (row.road === road ? [{ row, at }] : []));
}

export const changeAlong = <T>(w: Work, list: AlongList, what: string, make: (rows: T[]) => T[]) =>
  changeRows<T>(w, KIND[list], what, make);

/** What a change sets, in words. */
export function changeInWords(c: SectionChange): string {
  const of = c.point || 'batters';
  const set = [
    c.width_m === null ? '' : `${told('size', c.width_m)} wide`,
    c.fall === null ? '' : `falls ${told('fall', c.fall)}`,
    c.drop_m === null ? '' : `drops ${told('size', c.drop_m)}`,
    c.depth_m === null ? '' : `${told('size', c.depth_m)} deep`,
    c.cut_h_over_v === null ? '' : `cut ${told('steepness', c.cut_h_over_v)}`,
    c.fill_h_over_v === null ? '' : `fill ${told('steepness', c.fill_h_over_v)}`,
    c.led_by ? `led by “${c.led_by}”` : '',
  ].filter(Boolean);
  return `${c.side} ${of} ${set.join(', ')}`;
}

/** A change of nothing yet, of a side of the road looked at. */
export const freshChange = (road: string, from_m: number, to_m: number): SectionChange => ({
  ...{ from_m, to_m, taper_in_m: 0, taper_out_m: 0, side: 'right', point: '', width_m: null, fall: null },
  ...{ drop_m: null, depth_m: null, cut_h_over_v: null, fill_h_over_v: null, led_by: '', reason: '', road },
});

/** All of it as it is built at a chainage, in words. */
export function builtAt(w: Work, at: number): string {
  const holds = (r: Row) => r.from_m <= at && at < r.to_m;
  const names = sectionNames(w);
  const range = placed<SectionRange>(w, 'ranges').findLast(({ row }) => holds(row));
  const parts = [names[range?.row.section ?? w.project?.works?.section ?? ''] ?? ''];
  for (const { row } of placed<AddedLane>(w, 'lanes')) if (holds(row)) parts.push(`${row.name} ${row.side}`);
  for (const { row } of placed<SectionChange>(w, 'changes')) if (holds(row)) parts.push(changeInWords(row));
  return parts.filter(Boolean).join('; ');
}

/** From one chainage to another, as it is written. */
export const fromTo = (r: { from_m: number; to_m: number }) => `${chainage(r.from_m, 0)} to ${chainage(r.to_m, 0)}`;
