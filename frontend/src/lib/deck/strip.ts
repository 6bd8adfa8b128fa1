import type { Figured, Still } from '../state/figures.svelte';
import { frame, type View } from './draw';
import { inks } from './ink';
import { layer } from './layer';
import type { Scale } from './trace';

export const STRIP_REACH_M = 40;

/** The ground unrolled left and right of the centreline, with the land the road takes. */
export function drawStrip(v: View, t: Still, f: Figured | null): void {
  const { c } = v;
  const ink = inks();
  const y = (offset: number) => ((offset + STRIP_REACH_M) / (2 * STRIP_REACH_M)) * v.h;
  c.save();
  frame(v);
  layer(c, t.arrays.strip_chainage!, v.domain.join(), v.w, v.h, (own) => stripContours({ ...v, c: own }, t, y));
  if (f?.arrays.cut) footprint(v, t, f, y);
  c.strokeStyle = ink.line;
  c.lineWidth = 2;
  c.beginPath();
  c.moveTo(v.x(t.ground.start_m), y(0));
  c.lineTo(v.x(t.ground.end_m), y(0));
  c.stroke();
  c.restore();
}

function stripContours(v: View, t: Still, y: Scale): void {
  const { c } = v;
  const ink = inks();
  const [s, o] = [t.arrays.strip_chainage!, t.arrays.strip_offset!];
  const step = 5 * t.strip.contour_interval_m;
  // Zoomed out, only the main contours: all of them would be a grey mass.
  const all = (v.right - v.left) / (v.domain[1] - v.domain[0]) > 0.6;
  let at = 0;
  c.lineWidth = 1;
  t.strip.lengths.forEach((count, k) => {
    const from = at;
    at += count;
    const main = Math.abs(t.strip.levels[k]! / step - Math.round(t.strip.levels[k]! / step)) < 1e-6;
    if (!main && !all) return;
    c.strokeStyle = main ? ink.contourMain : ink.contour;
    c.beginPath();
    for (let i = from; i < at; i++) c.lineTo(v.x(s[i]!), y(o[i]!));
    c.stroke();
  });
}

/** Land between the outer batters, in the texture of what is built there most. */
function footprint(v: View, t: Still, f: Figured, y: Scale): void {
  const s = t.arrays.section_chainage!;
  const { left, right, cut, fill } = f.arrays;
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
