import type { Schemas } from '../../api/client';
import { valueAt } from '../lookup';
import type { Figured } from './figures.svelte';
import { changeRows } from './rows';
import type { Work } from './work.svelte';

export type LevelControl = Schemas['LevelControl'];

/** Levels are kept to the millimetre. */
export const millimetres = (v: number): number => Math.round(v * 1000) / 1000;

export const freshControl = (road: string, from_m: number, to_m: number, level_m: number): LevelControl => ({
  words: '',
  reason: '',
  from_m: millimetres(from_m),
  to_m: millimetres(to_m),
  bound: 'above',
  measured_from: 'level',
  level_m: millimetres(level_m),
  level_to_m: null,
  height_m: null,
  height_to_m: null,
  old_line: null,
  clearance_m: 0,
  offset_m: 0,
  road,
});

/** Controls of the road that is looked at, each with its place among all. */
export function controlsOf(w: Work): { control: LevelControl; at: number }[] {
  const road = w.road?.slot;
  return (w.project?.controls?.rows ?? []).flatMap((control, at) => (control.road === road ? [{ control, at }] : []));
}

/** Save the controls with one change made to them as they are by then. */
export const changeControls = (w: Work, what: string, make: (rows: LevelControl[]) => LevelControl[]) =>
  changeRows(w, 'controls', what, make);

/** A new control, in hand at once; answers with the reason where it is refused. */
export async function addControl(w: Work, control: LevelControl): Promise<string | null> {
  const at = w.project?.controls?.rows.length ?? 0;
  const refused = await changeControls(w, 'the level control', (rows) => [...rows, control]);
  if (refused === null) w.selection.control = at;
  return refused;
}

export interface Band {
  of: Schemas['BandFigures'];
  s: ArrayLike<number>;
  low: ArrayLike<number>;
  high: ArrayLike<number>;
}

/** What controls ask of the line on screen, each with its own stretch of the arrays. */
export function bandsOf(f: Figured | null): Band[] {
  const { band_chainage: s, band_low: low, band_high: high } = f?.arrays ?? {};
  if (!f || !s || !low || !high) return [];
  let from = 0;
  return (f.products.controls ?? []).map((of) => {
    const to = from + of.points;
    const part = (a: typeof s) => a.subarray(from, to);
    const band = { of, s: part(s), low: part(low), high: part(high) };
    from = to;
    return band;
  });
}

/** Levels that a band is drawn at. */
export const levelsOf = ({ of, low, high }: Band): number[] =>
  (of.joined ? [...Array.from(low), ...Array.from(high)] : [of.limit_m ?? NaN]).filter((z) => Number.isFinite(z));

/** The ground there, or the line where there is none: what a new control starts from. */
export function levelNear(w: Work, at: number): number {
  const { ground_chainage: gs, ground_level: gz } = w.still?.arrays ?? {};
  const { line_chainage: ls, line_level: lz } = w.shownFigures?.arrays ?? {};
  const ground = gs && gz ? valueAt(gs, gz, at) : NaN;
  const line = ls && lz ? valueAt(ls, lz, at) : NaN;
  return millimetres([ground, line, 0].find((z) => !Number.isNaN(z))!);
}
