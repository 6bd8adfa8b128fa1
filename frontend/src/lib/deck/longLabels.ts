import { figure, told } from '../units';
import type { Ip } from '../../api/client';
import { chainage, grade } from '../format';
import type { Written } from '../state/written.svelte';
import { findingsOf, ipsOf, type Figured, type Still } from '../state/figures.svelte';
import { bandsOf } from '../state/controls';
import { bandLabels } from './bands';
import type { View } from './draw';
import { inks } from './ink';
import { Labels, type Box } from './labels';
import { valueAt } from '../lookup';
import type { Scale } from './trace';

/** Half of an IP's handle with air, and how far a text stands off what it is about. [px] */
const [HANDLE, OFF] = [9, 17];

export interface Note {
  chainage_m: number;
  words: string;
  label: 'words' | 'line' | 'ground';
}

/**
 * What is written in the long section, the more important first: notes, level controls, levels of high and low points, grades with
 * their sign along the tangents, K and length of each curve. What has no room is left away.
 */
export function longLabels(v: View, f: Figured | null, y: Scale, notes: Note[], written: Written, ground: Still): void {
  const labels = new Labels(v);
  const failing = new Set(
    findingsOf(f)
      .filter((u) => !u.advice && u.place === 'ip')
      .map((u) => u.ip),
  );
  ipsOf(f).forEach((ip, i) => {
    const [px, py] = [v.x(ip.chainage_m), y(ip.level_m)];
    // A failing one has a cross above it, or below where there is no room.
    const [up, down] = failing.has(i) ? (py > 22 ? [24, HANDLE] : [HANDLE, 24]) : [HANDLE, HANDLE];
    labels.keepClear(px - HANDLE, py - up, px + HANDLE, py + down);
  });
  noteLabels(
    v,
    labels,
    notes.filter((n) => n.label === 'words'),
  );
  pointLabels(v, labels, notes, y, ground, f);
  if (!f) return;
  bandLabels(v, labels, bandsOf(f), y);
  const { line_chainage: s, line_level: z } = f.arrays;
  const toChainage = (px: number) => v.domain[0] + ((px - v.left) * (v.domain[1] - v.domain[0])) / (v.right - v.left);
  /** Whether the line runs through a box. */
  const on = (box: Box): boolean => {
    const at = Array.from({ length: 6 }, (_, k) =>
      y(valueAt(s!, z!, toChainage(box.x1 + (k / 5) * (box.x2 - box.x1)))),
    );
    const seen = at.filter((py) => !Number.isNaN(py));
    return seen.length > 0 && Math.min(...seen) < box.y2 && Math.max(...seen) > box.y1;
  };
  if (written.long('turning')) turningLabels(v, labels, f, y, on);
  const ips = ipsOf(f);
  if (written.long('grades'))
    for (let i = 0; i + 1 < ips.length; i++) gradeLabel(v, labels, ips[i]!, ips[i + 1]!, y, on);
  for (const ip of ips) ipLabel(v, labels, ip, y, on, written);
}

type On = (box: Box) => boolean;

/** Notes stand at the top, each on a stalk at its chainage. */
function noteLabels(v: View, labels: Labels, rows: Note[]): void {
  const ink = inks();
  for (const { chainage_m, words } of rows) {
    const x = Math.round(v.x(chainage_m)) + 0.5;
    if (!labels.put(words, x + 4, [10, 24, 38], ink.plumb, { from: 'left', ground: ink.paper })) continue;
    v.c.strokeStyle = ink.plumb;
    v.c.lineWidth = 1;
    v.c.beginPath();
    v.c.moveTo(x, 2);
    v.c.lineTo(x, v.h);
    v.c.setLineDash([1, 3]);
    v.c.stroke();
    v.c.setLineDash([]);
  }
}

/** Points that are labelled with their chainage and the level there. */
function pointLabels(v: View, labels: Labels, rows: Note[], y: Scale, ground: Still, f: Figured | null): void {
  const ink = inks();
  for (const { chainage_m: s, words, label } of rows) {
    if (label === 'words') continue;
    const { ground_chainage, ground_level } = ground.arrays;
    const { line_chainage, line_level } = f?.arrays ?? {};
    const [at, z] = label === 'ground' ? [ground_chainage, ground_level] : [line_chainage, line_level];
    const level = at && z ? valueAt(at, z, s) : NaN;
    if (Number.isNaN(level)) continue;
    const [px, py] = [v.x(s), y(level)];
    const colour = label === 'ground' ? ink.ground : ink.line;
    labels.keepClear(px - 4, py - 4, px + 4, py + 4);
    const text = `${words ? `${words} ` : ''}${chainage(s)} ${told('level', level)}`;
    const spots = [-OFF, OFF, -OFF - 14, OFF + 14, -OFF - 28, OFF + 28].map((off): [number, number] => [px, py + off]);
    labels.place(text, spots, colour, { halo: ink.paper });
    v.c.beginPath();
    v.c.arc(px, py, 3, 0, 2 * Math.PI);
    v.c.fillStyle = ink.paper;
    v.c.fill();
    v.c.strokeStyle = colour;
    v.c.lineWidth = 1.5;
    v.c.stroke();
  }
}

function turningLabels(v: View, labels: Labels, f: Figured, y: Scale, on: On): void {
  const ink = inks();
  for (const [s, z, kind] of f.products.line?.turning_points ?? []) {
    const up = kind === 'high' ? -1 : 1;
    const [px, py] = [v.x(s), y(z)];
    labels.keepClear(px - 5, Math.min(py, py + 12 * up), px + 5, Math.max(py, py + 12 * up));
    const spots: [number, number][] = [OFF + 4, OFF + 18, OFF + 32].map((off) => [px, py + up * off]);
    labels.place(() => figure('level', z, 2), spots, ink.line, { halo: ink.paper, on });
  }
}

/** A grade beside the part of its tangent that is seen: below a rise and above a fall, in its middle if there is room. */
function gradeLabel(v: View, labels: Labels, a: Ip, b: Ip, y: Scale, on: On): void {
  const g = a.grade_out;
  if (g === null) return;
  const ink = inks();
  const [x1, x2] = [v.x(a.curve_end_m), v.x(b.curve_start_m)];
  const [from, to] = [Math.max(x1, v.left), Math.min(x2, v.right)];
  if (to - from < 40) return;
  const at = (x: number) =>
    y(a.level_m) + ((x - v.x(a.chainage_m)) * (y(b.level_m) - y(a.level_m))) / (v.x(b.chainage_m) - v.x(a.chainage_m));
  const steep = Math.abs(at(to) - at(from)) / (to - from);
  // Clear of a steep line: the text is about 50 px wide.
  const clear = 11 + 27 * steep;
  const sides = g < 0 ? [-1, 1] : [1, -1];
  const spots = sides.flatMap((side) =>
    [0.5, 0.3, 0.7].map((share): [number, number] => {
      const x = from + share * (to - from);
      return [x, at(x) + side * clear];
    }),
  );
  labels.place(() => grade(g), spots, ink.line, { bold: true, halo: ink.paper, on });
}

const CURVE = ['k', 'radius', 'length'] as const;

/** K, R and length of a curve: a circle has its radius, a parabola 100 K where that is wished. */
export function curveWords(ip: Ip, written: Pick<Written, 'long'>): string {
  if (ip.curve_length_m <= 0 || ip.k_m_per_pct === null) return '';
  const radius = ip.radius_m ?? 100 * ip.k_m_per_pct;
  const circle = ip.radius_m !== null;
  return [
    written.long('k') && !circle ? `K ${figure('k', ip.k_m_per_pct, ip.k_m_per_pct < 100 ? 1 : 0)}` : '',
    (circle && written.long('k')) || (written.long('radius') && !circle) ? `R ${figure('length', radius, 0)}` : '',
    written.long('length') ? told('length', ip.curve_length_m, 0) : '',
  ]
    .filter((part) => part)
    .join(', ');
}

/** What is written at an IP: of its curve, on the side that the line bends away from, and its level. */
function ipLabel(v: View, labels: Labels, ip: Ip, y: Scale, on: On, written: Written): void {
  const curve = ip.curve_length_m > 0 && ip.k_m_per_pct !== null;
  const texts = [
    ...(curve && CURVE.some((part) => written.long(part)) ? [() => curveWords(ip, written)] : []),
    ...(written.long('levels') ? [() => `${chainage(ip.chainage_m, 0)} ${figure('level', ip.level_m, 2)}`] : []),
  ];
  if (!texts.length) return;
  const ink = inks();
  const up = ip.change_of_grade < 0 ? -1 : 1;
  const [px, py] = [v.x(ip.chainage_m), y(ip.level_m)];
  const spots: [number, number][] = [up * OFF, up * (OFF + 14), -up * OFF, -up * (OFF + 14)].map((off) => [
    px,
    py + off,
  ]);
  for (const text of texts) labels.place(text, spots, ink.faint, { halo: ink.paper, on });
}
