import { told } from '../units';
import type { Band } from '../state/controls';
import type { View } from './draw';
import { inks } from './ink';
import type { Labels } from './labels';
import { trace, type Scale } from './trace';

/** Teeth stand on the side where the line may not be, this far apart and this long. [px] */
const [TEETH, TOOTH] = [7, 5];
/** A control at a point is drawn this wide to each side. [px] */
const HALF = 9;
/** Less room than this is little. [m] */
const LITTLE_M = 0.1;

/** Whether a line keeps what a control asks: not, barely or well. */
const stateOf = ({ of }: Band): 'fails' | 'little' | 'kept' =>
  of.slack_m === null || of.slack_m > LITTLE_M ? 'kept' : of.slack_m < -0.0011 ? 'fails' : 'little';

/** Levels that the line keeps to, each with teeth on the side that it may not be on. */
export function drawBands(v: View, bands: Band[], y: Scale): void {
  const ink = inks();
  for (const band of bands) {
    const colour = { fails: ink.failure, little: ink.caution, kept: ink.plumb }[stateOf(band)];
    v.c.strokeStyle = colour;
    v.c.lineWidth = 1.5;
    // Of places that stand apart, as of a pipe that is crossed, the one that governs is drawn.
    if (!band.of.joined) {
      const { at_m, limit_m, lower } = band.of;
      if (at_m !== null && limit_m !== null) mark(v, v.x(at_m), y(limit_m), lower ? 1 : -1);
      continue;
    }
    for (const [levels, side] of [
      [band.low, 1],
      [band.high, -1],
    ] as const) {
      if (band.s.length > 1) edge(v, band.s, levels, side, y);
      else mark(v, v.x(band.s[0]!), y(levels[0]!), side);
    }
  }
}

function mark(v: View, px: number, py: number, side: number): void {
  if (Number.isNaN(py)) return;
  v.c.beginPath();
  v.c.moveTo(px - HALF, py);
  v.c.lineTo(px + HALF, py);
  for (let x = -HALF; x <= HALF; x += HALF / 2) {
    v.c.moveTo(px + x, py);
    v.c.lineTo(px + x - 3, py + side * TOOTH);
  }
  v.c.stroke();
}

function edge(v: View, s: ArrayLike<number>, levels: ArrayLike<number>, side: number, y: Scale): void {
  const { c } = v;
  c.beginPath();
  trace(c, s, levels, v.x, y, v.domain);
  c.stroke();
  c.beginPath();
  let next = -Infinity;
  for (let i = 0; i + 1 < s.length; i++) {
    const [x1, x2, y1, y2] = [v.x(s[i]!), v.x(s[i + 1]!), y(levels[i]!), y(levels[i + 1]!)];
    if (x2 < v.left || x1 > v.right || Number.isNaN(y1 + y2)) continue;
    for (let x = Math.max(x1, next, v.left); x <= Math.min(x2, v.right); x += TEETH) {
      const py = y1 + ((x - x1) / (x2 - x1 || 1)) * (y2 - y1);
      c.moveTo(x, py);
      c.lineTo(x - 3, py + side * TOOTH);
      next = x + TEETH;
    }
  }
  c.lineWidth = 1;
  c.stroke();
}

/** What each control is, and how much room the line has there, or lacks. */
export function bandLabels(v: View, labels: Labels, bands: Band[], y: Scale): void {
  const ink = inks();
  // Those that fail first: of what there is no room for, the less important goes.
  const order = [...bands].sort((a, b) => (a.of.slack_m ?? 0) - (b.of.slack_m ?? 0));
  for (const band of order) {
    const { s, low, high, of } = band;
    if (of.slack_m === null || of.at_m === null || of.limit_m === null) continue;
    const middle = s.length >> 1;
    const lower = of.joined ? !Number.isNaN(low[middle]!) : of.lower;
    const level = !of.joined ? of.limit_m : lower ? low[middle]! : high[middle]!;
    if (Number.isNaN(level)) continue;
    const state = stateOf(band);
    const room = told('length', Math.abs(of.slack_m));
    const says = state === 'fails' ? `✕ ${of.what}: short by ${room}` : `${of.what}: ${room} to spare`;
    const [px, py] = [of.joined ? (v.x(s[0]!) + v.x(s[s.length - 1]!)) / 2 : v.x(of.at_m), y(level)];
    const side = lower ? 1 : -1;
    const spots: [number, number][] = [13, 26, -13, -26].map((off) => [px, py + side * off]);
    const colour = state === 'fails' ? ink.failure : state === 'little' ? ink.caution : ink.plumb;
    labels.place(says, spots, colour, { bold: state !== 'kept', halo: ink.paper });
  }
}
