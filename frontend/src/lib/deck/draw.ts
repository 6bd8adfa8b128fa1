/** What all tracks draw with. No rule of the job lives here. */

import { chainage } from '../format';
import { even } from '../stations.svelte';
import { unitLength } from '../system.svelte';
import { FONT, FONT_BOLD, inks } from './ink';
import { Labels } from './labels';
import type { Scale } from './trace';

/** Where a track draws: its own part of the canvas, from 0 to `w` and `h`, the chainage axis from `left` to `right`. */
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
  // Setting a font is dear, and all but a few texts have the one that is set already.
  if (bold) c.font = FONT_BOLD;
  c.fillStyle = colour;
  c.fillText(text, x, y);
  if (bold) c.font = FONT;
}

export function frame(v: View): void {
  v.c.beginPath();
  v.c.rect(v.left, 0, v.right - v.left, v.h);
  v.c.clip();
}

/** A level line across the track, as of the axis that bars stand on. */
export function across({ c, left, right }: View, y: number, colour: string): void {
  c.strokeStyle = colour;
  c.lineWidth = 1;
  c.beginPath();
  c.moveTo(left, y);
  c.lineTo(right, y);
  c.stroke();
}

/** Steps of 1, 2 or 5 in the unit of length that is shown, so that about `most` fit. [m] */
export function niceStep(span: number, most: number): number {
  const unit = unitLength();
  const raw = span / unit / Math.max(most, 1);
  const power = 10 ** Math.floor(Math.log10(raw));
  const lead = raw / power;
  return unit * power * (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10);
}

/** Chainages along the axis, and the plumb line's own in a flag; none of them touches it. */
export function drawAxis(v: View, plumb: number): void {
  const ink = inks();
  const labels = new Labels({ ...v, left: 0, right: v.w });
  const flag = Math.min(Math.max(v.x(plumb), v.left + 30), v.right - 30);
  labels.keepClear(flag - 42, 0, flag + 42, v.h);
  v.c.fillStyle = ink.plumb;
  v.c.beginPath();
  v.c.roundRect(flag - 40, 4, 80, 20, 4);
  v.c.fill();
  v.c.textAlign = 'center';
  label(v.c, chainage(plumb, 2), flag, 18.5, ink.paper, true);
  v.c.textAlign = 'left';
  const step = niceStep(v.domain[1] - v.domain[0], (v.right - v.left) / 90);
  v.c.strokeStyle = ink.faint;
  v.c.lineWidth = 1;
  for (const s of even(v.domain[0], v.domain[1], step)) {
    const x = Math.round(v.x(s)) + 0.5;
    v.c.beginPath();
    v.c.moveTo(x, 0);
    v.c.lineTo(x, 4);
    v.c.stroke();
    labels.put(chainage(s, step < 1 ? 1 : 0), x, 14, ink.faint);
  }
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
