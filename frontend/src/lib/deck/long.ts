import { unitLength } from '../system.svelte';
import { figure } from '../units';
import type { Finding } from '../../api/client';
import { chainage } from '../format';
import { findingsOf, ipsOf, type Figured, type Still } from '../state/figures.svelte';
import type { LongView } from '../state/shown';
import type { Work } from '../state/work.svelte';
import { bandsOf } from '../state/controls';
import { drawBands } from './bands';
import { drawUtilities } from './utilities';
import { frame, label, niceStep, strokeThick, type View } from './draw';
import { DASHES, inks, lineInk } from './ink';
import { longLabels, type Note } from './longLabels';
import type { Written } from '../state/written.svelte';
import { chosenRatio, exaggeration, levelRange } from './levels';
import { even } from '../stations.svelte';
import type { SnapTo } from './snap';
import { valueAt } from '../lookup';
import { trace, type Scale } from './trace';

/** Air above and below what is drawn. [px] */
const AIR = 8;

/** Lines drawn beside the present one. */
function others(w: Work): { figures: Figured; colour: number }[] {
  return Object.entries(w.over.shown)
    .filter(([slot]) => slot !== w.selection.slot)
    .map(([slot, figures]) => ({ figures, colour: w.project?.lines.find((l) => l.slot === slot)?.colour ?? 0 }));
}

const found = (w: Work) => (w.selection.step === 'search' ? w.over.found : null);
const held = new WeakMap<Work, { of: string; view: LongView }>();

/** How the long section is scaled. While an IP is held it stays, or the ground would slip away under the hand. */
export function longView(w: Work): LongView {
  const { domain, scale, height: h } = w.selection.axes;
  const t = w.still;
  if (!t) return { ratio: 1, levels: [0, 10], h };
  const { ratio } = w.selection.axes;
  const of = `${domain.join()} ${scale} ${h} ${t.key} ${w.selection.slot} ${ratio}`;
  const lines = [w.marked, ...others(w).map((o) => o.figures), found(w)].filter((f) => f !== null);
  const was = held.get(w);
  const pixels = Math.max(h - 2 * AIR, 40);
  if (w.trying && was?.of === of) {
    was.view = withHand(w, was.view);
    return was.view;
  }
  const range = levelRange(t, lines, domain);
  const view = {
    ...(ratio ? chosenRatio(range, ratio, pixels, scale, seen(w)) : exaggeration(range, pixels, scale)),
    h,
  };
  held.set(w, { of, view });
  return view;
}

/** The level that is looked at, where not all fit: of the IP in hand, or of the line at the plumb line. */
function seen(w: Work): number {
  const ip = w.selection.ip === null ? null : w.ips[w.selection.ip];
  const { line_chainage: s, line_level: z } = w.shownFigures?.arrays ?? {};
  return ip?.level_m ?? (s && z ? valueAt(s, z, w.selection.plumb) : NaN);
}

/** The view, moved just enough to have the IP in it that the hand moves. */
function withHand(w: Work, view: LongView): LongView {
  const d = w.trial.draft;
  if (d?.what !== 'move' && d?.what !== 'straight') return view;
  const [lo, hi] = view.levels;
  const edge = 0.06 * (hi - lo);
  const by = Math.min(0, d.level_m - lo - edge) + Math.max(0, d.level_m - hi + edge);
  return by === 0 ? view : { ...view, levels: [lo + by, hi + by] };
}

/** What a dragged IP can snap to: round chainages, ends of bends, the ground, and lines that are drawn over it. */
export function snapsOf(w: Work): SnapTo {
  const { domain, scale } = w.selection.axes;
  const round = even(...domain, niceStep(domain[1] - domain[0], ((domain[1] - domain[0]) * scale) / 24));
  const bends = w.still?.ground.bends ?? [];
  const ground = w.still?.arrays;
  return {
    chainages: [
      ...bends.flatMap((b): [number, string][] => [
        [b.from_chainage_m, 'start of a bend'],
        [b.to_chainage_m, 'end of a bend'],
      ]),
      ...round.map((s): [number, string] => [s, chainage(s, 0)]),
    ],
    levels: (at) => [
      ...(ground
        ? [[valueAt(ground.ground_chainage!, ground.ground_level!, at), 'on the ground'] as [number, string]]
        : []),
      ...Object.entries(w.over.shown)
        .filter(([slot]) => slot !== w.selection.slot)
        .map(([slot, f]): [number, string] => [
          valueAt(f.arrays.line_chainage!, f.arrays.line_level!, at),
          `on “${w.project?.lines.find((l) => l.slot === slot)?.name ?? slot}”`,
        ]),
    ],
  };
}

/** Pixels from levels and back, in a long section this high. */
export function levelScale({ levels: [lo, hi], h }: LongView): { y: Scale; toLevel: (py: number) => number } {
  const [top, bottom] = [AIR, h - AIR];
  return {
    y: (z) => bottom - ((z - lo) / (hi - lo)) * (bottom - top),
    toLevel: (py) => lo + ((bottom - py) / (bottom - top)) * (hi - lo),
  };
}

export function drawLongSection(v: View, w: Work): void {
  if (!w.still) return;
  drawLong(v, {
    terrain: w.still,
    figures: w.shownFigures,
    marked: w.marked,
    others: others(w),
    found: found(w),
    ghost: w.refused.ghost ?? w.past.figures,
    notes: w.notes,
    written: w.written,
    bends: w.still.ground.bends,
    beside: w.beside.drawn && w.beside.ground?.key.startsWith(w.still.key) ? w.beside.ground : null,
    colour: w.line?.colour ?? 0,
    y: levelScale(w.long).y,
    levels: w.long.levels,
  });
}

interface LongInput {
  terrain: Still;
  figures: Figured | null;
  marked: Figured | null;
  others: { figures: Figured; colour: number }[];
  found: Figured | null;
  /** A line that could be, while it is looked at. */
  ghost: Figured | null;
  notes: Note[];
  written: Written;
  bends: readonly { from_chainage_m: number; to_chainage_m: number }[];
  beside: { chainage: ArrayLike<number>; levels: ArrayLike<number>[] } | null;
  colour: number;
  y: Scale;
  levels: [number, number];
}

function drawLong(v: View, input: LongInput): void {
  const { c } = v;
  const { terrain: t, figures: f, y } = input;
  const ink = inks();
  const [lo, hi] = input.levels;
  const step = niceStep(hi - lo, v.h / 42);
  c.lineWidth = 1;
  for (let z = Math.ceil(lo / step) * step; z <= hi; z += step) {
    const py = Math.round(y(z)) + 0.5;
    if (py < 8) continue;
    c.strokeStyle = ink.grid;
    c.beginPath();
    c.moveTo(v.left, py);
    c.lineTo(v.right, py);
    c.stroke();
    c.textAlign = 'right';
    label(c, figure('level', z, step < unitLength() ? 1 : 0), v.left - 8, py + 4, ink.faint);
    c.textAlign = 'left';
  }
  c.save();
  frame(v);
  const { ground_chainage: gs, ground_level: gz, ground_gap: gap } = t.arrays;
  if (f) {
    bands(v, findingsOf(f));
    works(v, t, f, y);
  }
  c.strokeStyle = ink.ground;
  c.lineWidth = 1;
  if (input.beside) {
    c.globalAlpha = 0.4;
    c.beginPath();
    for (const row of input.beside.levels) trace(c, input.beside.chainage, row, v.x, y, v.domain);
    c.stroke();
    c.globalAlpha = 1;
  }
  c.beginPath();
  trace(c, gs!, gz!, v.x, y, v.domain, gap);
  c.stroke();
  for (const other of input.others)
    thinLine(v, other.figures, y, lineInk(other.colour), DASHES[other.colour % DASHES.length]!);
  if (input.found) thinLine(v, input.found, y, lineInk(input.colour + 1), [5, 3]);
  if (f) {
    polygonOfIps(v, f, y);
    c.strokeStyle = lineInk(input.colour);
    const path = new Path2D();
    trace(path, f.arrays.line_chainage!, f.arrays.line_level!, v.x, y, v.domain);
    strokeThick(c, path, 3);
    turningPoints(v, f, y);
  }
  if (input.marked) {
    drawBands(v, bandsOf(input.marked), y);
    if (input.written.long('utilities')) drawUtilities(v, input.marked.products.utilities ?? [], y);
  }
  if (input.written.long('bends')) bendEnds(v, input.bends);
  if (input.ghost) ghost(v, input.ghost, y, lineInk(input.colour));
  longLabels(v, input.marked, y, input.notes, input.written, t);
  c.restore();
}

function thinLine(v: View, f: Figured, y: Scale, colour: string, dash: number[]): void {
  v.c.save();
  v.c.strokeStyle = colour;
  v.c.lineWidth = 1;
  v.c.setLineDash(dash.length ? dash : [6, 2]);
  v.c.beginPath();
  trace(v.c, f.arrays.line_chainage!, f.arrays.line_level!, v.x, y, v.domain);
  v.c.stroke();
  v.c.restore();
}

/** The line that could be: dashed, with hollow IPs. */
function ghost(v: View, f: Figured, y: Scale, colour: string): void {
  const { c } = v;
  c.save();
  c.strokeStyle = colour;
  c.lineWidth = 2;
  c.setLineDash([7, 4]);
  c.beginPath();
  trace(c, f.arrays.line_chainage!, f.arrays.line_level!, v.x, y, v.domain);
  c.stroke();
  c.setLineDash([2, 2]);
  c.lineWidth = 1.5;
  for (const ip of ipsOf(f)) c.strokeRect(v.x(ip.chainage_m) - 5, y(ip.level_m) - 5, 10, 10);
  c.restore();
}

function bands(v: View, findings: Finding[]): void {
  const ink = inks();
  // Advice stands in the track of uses; the long section is shaded where the line fails.
  for (const u of findings.filter((f) => !f.advice)) {
    const x1 = v.x(u.from_chainage_m) - 2;
    const x2 = v.x(u.to_chainage_m) + 2;
    v.c.globalAlpha = 0.35;
    v.c.fillStyle = ink.failureHatch;
    v.c.fillRect(x1, 0, x2 - x1, v.h);
    v.c.globalAlpha = 1;
  }
}

/** Cut where the ground lies above the line, fill where it lies below, column by column of pixels. */
function works(v: View, t: Still, f: Figured, y: Scale): void {
  const { c } = v;
  const ink = inks();
  const { ground_chainage: gs, ground_level: gz } = t.arrays;
  const { line_chainage: ls, line_level: lz } = f.arrays;
  const perPixel = (v.domain[1] - v.domain[0]) / (v.right - v.left);
  const columns: [number, number, number][] = [];
  for (let px = v.left; px <= v.right; px += 2) {
    const s = Math.min(v.domain[0] + (px - v.left) * perPixel, v.domain[1]);
    columns.push([px, y(valueAt(gs!, gz!, s)), y(valueAt(ls!, lz!, s))]);
  }
  shade(v, columns, Math.abs(y(1) - y(0)));
  for (const [pattern, cut] of [
    [ink.cutHatch, true],
    [ink.fillDots, false],
  ] as const) {
    const path = new Path2D();
    let from = -1;
    const inside = (k: number) => {
      const [, ground, line] = columns[k] ?? [0, NaN, NaN];
      return cut ? ground < line : ground > line;
    };
    for (let k = 0; k <= columns.length; k++) {
      if (inside(k)) {
        if (from < 0) from = k;
        continue;
      }
      if (from < 0) continue;
      for (let i = from; i < k; i++) {
        if (i === from) path.moveTo(columns[i]![0], columns[i]![1]);
        else path.lineTo(columns[i]![0], columns[i]![1]);
      }
      for (let i = k - 1; i >= from; i--) path.lineTo(columns[i]![0], columns[i]![2]);
      path.closePath();
      from = -1;
    }
    c.fillStyle = pattern;
    c.fill(path);
  }
}

/** Depths below which cut and fill are shaded alike, and how strongly. [m] */
const SHADES: [number, number][] = [
  [1, 0.05],
  [3, 0.14],
  [6, 0.24],
  [Infinity, 0.36],
];

/** Cut and fill the stronger the deeper; under the hatch, which says which of the two it is. */
function shade(v: View, columns: [px: number, ground: number, line: number][], perMetre: number): void {
  const { c } = v;
  const ink = inks();
  const paths = SHADES.map(() => [new Path2D(), new Path2D()]);
  for (const [px, ground, line] of columns) {
    if (Number.isNaN(ground) || Number.isNaN(line)) continue;
    const depth = Math.abs(line - ground) / perMetre;
    const at = SHADES.findIndex(([most]) => depth <= most);
    paths[at]![ground < line ? 0 : 1]!.rect(px, Math.min(ground, line), 2, Math.abs(line - ground));
  }
  paths.forEach(([cut, fill], k) => {
    c.globalAlpha = SHADES[k]![1];
    c.fillStyle = ink.cut;
    c.fill(cut!);
    c.fillStyle = ink.fill;
    c.fill(fill!);
  });
  c.globalAlpha = 1;
}

/** Where bends begin and end, so that they are seen against the vertical curves. */
function bendEnds({ c, h, x }: View, bends: LongInput['bends']): void {
  c.save();
  c.strokeStyle = inks().faint;
  c.setLineDash([6, 3]);
  c.lineWidth = 1;
  c.beginPath();
  for (const b of bends) {
    for (const s of [b.from_chainage_m, b.to_chainage_m]) {
      c.moveTo(Math.round(x(s)) + 0.5, 0);
      c.lineTo(Math.round(x(s)) + 0.5, h);
    }
  }
  c.stroke();
  c.restore();
}

function polygonOfIps(v: View, f: Figured, y: Scale): void {
  const { c } = v;
  const ink = inks();
  c.save();
  c.strokeStyle = ink.other;
  c.lineWidth = 1;
  c.setLineDash([2, 3]);
  c.beginPath();
  for (const ip of ipsOf(f)) c.lineTo(v.x(ip.chainage_m), y(ip.level_m));
  c.stroke();
  c.restore();
  c.strokeStyle = ink.line;
  for (const ip of ipsOf(f)) {
    if (ip.curve_length_m <= 0) continue;
    for (const s of [ip.curve_start_m, ip.curve_end_m]) {
      const tangent = s < ip.chainage_m ? (ip.grade_in ?? 0) : (ip.grade_out ?? 0);
      const py = y(ip.level_m + tangent * (s - ip.chainage_m));
      c.beginPath();
      c.moveTo(v.x(s), py - 5);
      c.lineTo(v.x(s), py + 5);
      c.stroke();
    }
  }
}

function turningPoints(v: View, f: Figured, y: Scale): void {
  const ink = inks();
  for (const [s, z, kind] of f.products.line?.turning_points ?? []) {
    const x = v.x(s);
    const py = y(z) + (kind === 'high' ? -6 : 6);
    const d = kind === 'high' ? -5 : 5;
    v.c.fillStyle = ink.line;
    v.c.beginPath();
    v.c.moveTo(x, py + d);
    v.c.lineTo(x - 4, py);
    v.c.lineTo(x + 4, py);
    v.c.closePath();
    v.c.fill();
  }
}
