/** What the tracks draw, from figures and terrain as the server sent them. No rule of the job lives here. */

import type { Figures, Finding, Terrain } from '../../api/client';
import { chainage, whole } from '../format';
import { FONT, FONT_BOLD, inks, lineInk, DASHES } from './ink';
import { layer } from './layer';
import { trace, valueAt, type Scale } from './trace';

export interface View {
  c: CanvasRenderingContext2D;
  w: number;
  h: number;
  left: number;
  right: number;
  x: Scale;
  domain: [number, number];
}

export function label(c: CanvasRenderingContext2D, text: string, x: number, y: number, colour: string, bold = false) {
  c.font = bold ? FONT_BOLD : FONT;
  c.fillStyle = colour;
  c.fillText(text, x, y);
}

export function frame(v: View): void {
  v.c.beginPath();
  v.c.rect(v.left, 0, v.right - v.left, v.h);
  v.c.clip();
}

/** Steps of 1, 2 or 5 so that about `most` fit. */
export function niceStep(span: number, most: number): number {
  const raw = span / Math.max(most, 1);
  const power = 10 ** Math.floor(Math.log10(raw));
  const lead = raw / power;
  return power * (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10);
}

export function drawAxis(v: View, plumb: number): void {
  const ink = inks();
  const step = niceStep(v.domain[1] - v.domain[0], (v.right - v.left) / 90);
  v.c.textAlign = 'center';
  v.c.strokeStyle = ink.faint;
  v.c.lineWidth = 1;
  for (let s = Math.ceil(v.domain[0] / step) * step; s <= v.domain[1] + 1e-6; s += step) {
    const x = Math.round(v.x(s)) + 0.5;
    v.c.beginPath();
    v.c.moveTo(x, 0);
    v.c.lineTo(x, 5);
    v.c.stroke();
    if (Math.abs(x - v.x(plumb)) > 62) label(v.c, chainage(s, step < 1 ? 1 : 0), x, 18, ink.faint);
  }
  const at = Math.min(Math.max(v.x(plumb), v.left + 38), v.right - 38);
  v.c.fillStyle = ink.plumb;
  v.c.beginPath();
  v.c.roundRect(at - 38, 3, 76, 20, 4);
  v.c.fill();
  label(v.c, chainage(plumb, 2), at, 17.5, ink.paper, true);
  v.c.textAlign = 'left';
}

export function drawStrip(v: View, t: Terrain, f: Figures | null, reach: number): void {
  const { c } = v;
  const ink = inks();
  const y = (offset: number) => ((offset + reach) / (2 * reach)) * v.h;
  c.save();
  frame(v);
  layer(c, t.arrays.strip!, v.domain.join(), v.w, v.h, (own) => stripContours({ ...v, c: own }, t, y));
  if (f) footprint(v, t, f, y);
  c.strokeStyle = ink.line;
  c.lineWidth = 2;
  c.beginPath();
  c.moveTo(v.x(t.start_m), y(0));
  c.lineTo(v.x(t.end_m), y(0));
  c.stroke();
  c.restore();
}

function stripContours(v: View, t: Terrain, y: Scale): void {
  const { c } = v;
  const ink = inks();
  const xy = t.arrays.strip!;
  const step = 5 * t.contour_interval_m;
  // Zoomed out, only the main contours: all of them would be a grey mass.
  const all = (v.right - v.left) / (v.domain[1] - v.domain[0]) > 0.6;
  let at = 0;
  c.lineWidth = 1;
  t.strip_lengths.forEach((count, k) => {
    const from = at;
    at += count;
    const main = Math.abs(t.strip_levels[k]! / step - Math.round(t.strip_levels[k]! / step)) < 1e-6;
    if (!main && !all) return;
    c.strokeStyle = main ? ink.contourMain : ink.contour;
    c.beginPath();
    for (let i = from; i < at; i++) c.lineTo(v.x(xy[2 * i]!), y(xy[2 * i + 1]!));
    c.stroke();
  });
}

/** Land between the outer batters, in the texture of what is built there most. */
function footprint(v: View, t: Terrain, f: Figures, y: Scale): void {
  const s = t.arrays.section_chainage!;
  const { left, right, cut, fill } = f.arrays as Record<string, Float32Array>;
  const ink = inks();
  let from = 0;
  for (let i = 1; i <= s.length; i++) {
    const isCut = cut![from]! >= fill![from]!;
    if (i < s.length && cut![i]! >= fill![i]! === isCut) continue;
    const to = Math.min(i, s.length - 1);
    if (v.x(s[to]!) >= v.left && v.x(s[from]!) <= v.right) {
      v.c.beginPath();
      for (let k = from; k <= to; k++) v.c.lineTo(v.x(s[k]!), y(left![k]!));
      for (let k = to; k >= from; k--) v.c.lineTo(v.x(s[k]!), y(right![k]!));
      v.c.closePath();
      v.c.fillStyle = isCut ? ink.cutHatch : ink.fillDots;
      v.c.fill();
      v.c.strokeStyle = isCut ? ink.cut : ink.fill;
      v.c.lineWidth = 1;
      v.c.stroke();
    }
    from = i;
  }
}

export function drawBends(v: View, t: Terrain): void {
  const { c } = v;
  const ink = inks();
  c.save();
  frame(v);
  const mid = v.h / 2;
  c.strokeStyle = ink.other;
  c.lineWidth = 1;
  c.beginPath();
  c.moveTo(v.left, mid);
  c.lineTo(v.right, mid);
  c.stroke();
  for (const b of t.bends) {
    const x1 = v.x(b.from_chainage_m);
    const x2 = v.x(b.to_chainage_m);
    // A bend to the right lies below the axis, as it does on the strip.
    const top = b.deflection > 0 ? mid : mid - 9;
    c.beginPath();
    c.roundRect(x1, top, Math.max(x2 - x1, 2), 9, 2);
    c.globalAlpha = 0.35;
    c.fillStyle = ink.other;
    c.fill();
    c.globalAlpha = 1;
    c.stroke();
    const text = `R ${whole(b.radius_m)}`;
    c.textAlign = 'center';
    if (x2 - x1 > 6 + c.measureText(text).width * 0.5)
      label(c, text, (x1 + x2) / 2, b.deflection > 0 ? mid - 3 : mid + 12, ink.faint);
    c.textAlign = 'left';
  }
  c.restore();
}

export interface LongInput {
  terrain: Terrain;
  figures: Figures | null;
  others: { figures: Figures; colour: number; name: string }[];
  found: Figures | null;
  colour: number;
  y: Scale;
  levels: [number, number];
}

export function drawLong(v: View, input: LongInput): void {
  const { c } = v;
  const { terrain: t, figures: f, y } = input;
  const ink = inks();
  const [lo, hi] = input.levels;
  const step = niceStep(hi - lo, v.h / 42);
  c.lineWidth = 1;
  for (let z = Math.ceil(lo / step) * step; z <= hi; z += step) {
    const py = Math.round(y(z)) + 0.5;
    if (py < 30) continue;
    c.strokeStyle = ink.grid;
    c.beginPath();
    c.moveTo(v.left, py);
    c.lineTo(v.right, py);
    c.stroke();
    c.textAlign = 'right';
    label(c, z.toFixed(step < 1 ? 1 : 0), v.left - 8, py + 4, ink.faint);
    c.textAlign = 'left';
  }
  c.save();
  frame(v);
  const { ground_chainage: gs, ground_level: gz, ground_gap: gap } = t.arrays as Record<string, Float32Array>;
  if (f) {
    bands(v, f.findings);
    works(v, t, f, y);
  }
  c.strokeStyle = ink.ground;
  c.lineWidth = 1;
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
  c.restore();
}

/** A thick line as thin ones side by side: several times as quick where no graphics card helps. */
export function strokeThick(c: CanvasRenderingContext2D, path: Path2D, pixels: number): void {
  c.lineWidth = 1;
  c.save();
  c.translate(0, -(pixels - 1) / 2);
  for (let i = 0; i < pixels; i++) {
    c.stroke(path);
    c.translate(0, 1);
  }
  c.restore();
}

function thinLine(v: View, f: Figures, y: Scale, colour: string, dash: number[]): void {
  v.c.save();
  v.c.strokeStyle = colour;
  v.c.lineWidth = 1;
  v.c.setLineDash(dash.length ? dash : [6, 2]);
  v.c.beginPath();
  trace(v.c, f.arrays.line_chainage!, f.arrays.line_level!, v.x, y, v.domain);
  v.c.stroke();
  v.c.restore();
}

function bands(v: View, findings: Finding[]): void {
  const ink = inks();
  for (const u of findings) {
    const x1 = v.x(u.from_chainage_m) - 2;
    const x2 = v.x(u.to_chainage_m) + 2;
    v.c.globalAlpha = 0.35;
    v.c.fillStyle = ink.failureHatch;
    v.c.fillRect(x1, 0, x2 - x1, v.h);
    v.c.globalAlpha = 1;
  }
}

/** Cut where the ground lies above the line, fill where it lies below, column by column of pixels. */
function works(v: View, t: Terrain, f: Figures, y: Scale): void {
  const { c } = v;
  const ink = inks();
  const { ground_chainage: gs, ground_level: gz } = t.arrays as Record<string, Float32Array>;
  const { line_chainage: ls, line_level: lz } = f.arrays as Record<string, Float32Array>;
  const perPixel = (v.domain[1] - v.domain[0]) / (v.right - v.left);
  const columns: [number, number, number][] = [];
  for (let px = v.left; px <= v.right; px += 2) {
    const s = Math.min(v.domain[0] + (px - v.left) * perPixel, v.domain[1]);
    columns.push([px, y(valueAt(gs!, gz!, s)), y(valueAt(ls!, lz!, s))]);
  }
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

function polygonOfIps(v: View, f: Figures, y: Scale): void {
  const { c } = v;
  const ink = inks();
  c.save();
  c.strokeStyle = ink.other;
  c.lineWidth = 1;
  c.setLineDash([2, 3]);
  c.beginPath();
  for (const ip of f.ips) c.lineTo(v.x(ip.chainage_m), y(ip.level_m));
  c.stroke();
  c.restore();
  c.strokeStyle = ink.line;
  for (const ip of f.ips) {
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

function turningPoints(v: View, f: Figures, y: Scale): void {
  const ink = inks();
  for (const [s, z, kind] of f.turning_points) {
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

export function drawMass(v: View, t: Terrain, f: Figures): void {
  const { c } = v;
  const ink = inks();
  const s = t.arrays.section_chainage!;
  const m = f.arrays.mass!;
  let lo = 0;
  let hi = 0;
  for (const value of m) {
    lo = Math.min(lo, value);
    hi = Math.max(hi, value);
  }
  const span = Math.max(hi - lo, 1);
  // The name of the track stands above what is drawn.
  const y = (value: number) => v.h - 6 - ((value - lo) / span) * (v.h - 40);
  const zero = Math.round(y(0)) + 0.5;
  c.textAlign = 'right';
  for (const value of [hi, lo])
    if (Math.abs(y(value) - zero) > 13) label(c, whole(value), v.left - 8, y(value) + 4, ink.faint);
  label(c, '0', v.left - 8, zero + 4, ink.faint);
  c.textAlign = 'left';
  c.save();
  frame(v);
  for (const [pattern, keep] of [
    [ink.cutHatch, (z: number) => Math.max(z, 0)],
    [ink.fillDots, (z: number) => Math.min(z, 0)],
  ] as const) {
    c.beginPath();
    c.moveTo(v.x(s[0]!), zero);
    for (let i = 0; i < s.length; i++) c.lineTo(v.x(s[i]!), y(keep(m[i]!)));
    c.lineTo(v.x(s[s.length - 1]!), zero);
    c.closePath();
    c.fillStyle = pattern;
    c.fill();
  }
  c.strokeStyle = ink.faint;
  c.lineWidth = 1;
  c.beginPath();
  c.moveTo(v.left, zero);
  c.lineTo(v.right, zero);
  c.stroke();
  c.strokeStyle = ink.plumb;
  c.beginPath();
  trace(c, s, m, v.x, y, v.domain);
  c.stroke();
  c.restore();
}
