import { unitLength, worded } from '../../system.svelte';
import { figure, unitOf } from '../../units';
import type { Ip } from '../../../api/client';
import { signed } from '../../format';
import type { LevelRow } from '../../state/written.svelte';
import LevelTools from '../LevelTools.svelte';
import { ipsOf, type Figured } from '../../state/figures.svelte';
import { even } from '../../stations.svelte';
import { label, niceStep } from '../draw';
import { inks } from '../ink';
import type { TrackKind } from '../kind';
import { Labels } from '../labels';
import { valueAt } from '../../lookup';

/** A number takes so much of a row, with air. [px] */
const WIDTH = 48;

/** Where numbers are wanted first: high and low points, ends of the line, IPs, ends of curves. */
function critical(f: Figured | null): number[] {
  if (!f) return [];
  const ips = ipsOf(f);
  const ends = [ips[0], ips.at(-1)].flatMap((ip) => (ip ? [ip.chainage_m] : []));
  const curves = ips.filter((ip) => ip.curve_length_m > 0).flatMap((ip) => [ip.curve_start_m, ip.curve_end_m]);
  const turning = f.products.line?.turning_points ?? [];
  return [...turning.map(([s]) => s), ...ends, ...ips.map((ip) => ip.chainage_m), ...curves];
}

type Row = [LevelRow, string, at: (s: number) => number, say: (value: number) => string];

const level = (z: number) => figure('level', z, 2);

/** Grade of the line at a chainage: of a tangent, or as far as its curve has come between two; NaN past the ends. */
export function gradeAt(ips: readonly Ip[], s: number): number {
  if (!ips.length || s < ips[0]!.chainage_m || s > ips.at(-1)!.chainage_m) return NaN;
  const next = ips.findIndex((ip) => ip.curve_end_m > s);
  const ip = ips[next];
  if (!ip) return ips.at(-1)!.grade_in ?? NaN;
  if (s <= ip.curve_start_m || ip.grade_in === null || ip.grade_out === null) return ip.grade_in ?? NaN;
  const share = (ip.chainage_m - ip.curve_start_m) / ip.curve_length_m;
  const t = (s - ip.curve_start_m) / ip.curve_length_m;
  if (ip.shape === 'circle') {
    // Its sine goes evenly in plan.
    const sine = (g: number) => g / Math.hypot(1, g);
    const here = sine(ip.grade_in) + t * (sine(ip.grade_out) - sine(ip.grade_in));
    return here / Math.sqrt(1 - here * here);
  }
  const middle = ip.grade_in + (ip.grade_out - ip.grade_in) * (1 - share);
  return t < share
    ? ip.grade_in + ((middle - ip.grade_in) * t) / share
    : middle + ((ip.grade_out - middle) * (t - share)) / (1 - share);
}

/** Levels as numbers at even chainages and critical points: ground, grade line and the difference. */
export const levels: TrackKind = {
  id: 'levels',
  name: 'Levels as numbers',
  title: () =>
    `${worded('Levels')}, ${unitOf('level')} (bold: IPs, ends of curves, high and low points; depth: fill +, cut −)`,
  height: 82,
  needs: ['line'],
  tools: LevelTools,
  numbers: true,
  draw: (v, w) => {
    const [t, f] = [w.still, w.shownFigures];
    if (!t) return;
    const { c } = v;
    const ink = inks();
    const ground = (s: number) => valueAt(t.arrays.ground_chainage!, t.arrays.ground_level!, s);
    const line = (s: number) =>
      f?.arrays.line_chainage ? valueAt(f.arrays.line_chainage, f.arrays.line_level!, s) : NaN;
    const every: Row[] = [
      ['ground', ink.ground, ground, level],
      ['line', ink.line, line, level],
      ['depth', ink.faint, (s) => line(s) - ground(s), level],
      ['grade', ink.line, (s) => gradeAt(ipsOf(f), s), (g) => signed(100 * g, 2)],
    ];
    const all = every.filter(([name]) => w.written.row(name));
    // No row is cut in half.
    const rows = all.filter((_, r) => 14 + r * 17 < v.h);
    c.textAlign = 'right';
    rows.forEach(([name], r) => label(c, name, v.left - 8, 14 + r * 17, ink.faint));
    c.textAlign = 'left';
    // A column is one label: whether there is room for it is asked once for its three numbers.
    const labels = new Labels(v);
    const step = w.written.interval * unitLength() || niceStep(v.domain[1] - v.domain[0], (v.right - v.left) / 70);
    const wanted = [
      ...critical(f).map((s) => [s, true] as const),
      ...even(...v.domain, step).map((s) => [s, false] as const),
    ];
    for (const [s, bold] of wanted) {
      const x = v.x(s);
      if (x < v.left + WIDTH / 2 || x > v.right - WIDTH / 2 || !labels.room(x, WIDTH)) continue;
      c.textAlign = 'center';
      rows.forEach(([, colour, at, say], r) => {
        const value = at(s);
        if (!Number.isNaN(value)) label(c, say(value), x, 14 + r * 17, colour, bold);
      });
      c.textAlign = 'left';
    }
  },
};
