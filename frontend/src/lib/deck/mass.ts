import { factorOf } from '../units';
import { whole } from '../format';
import { across, frame, label, type View } from './draw';
import { inks } from './ink';
import { trace } from './trace';

/** The mass ordinate: above zero earth is left over so far, below it earth is missing. */
export function drawMass(v: View, s: ArrayLike<number>, m: ArrayLike<number>): void {
  const { c } = v;
  const ink = inks();
  let lo = 0;
  let hi = 0;
  for (let i = 0; i < m.length; i++) {
    lo = Math.min(lo, m[i]!);
    hi = Math.max(hi, m[i]!);
  }
  const span = Math.max(hi - lo, 1);
  const y = (value: number) => v.h - 8 - ((value - lo) / span) * (v.h - 16);
  const zero = Math.round(y(0)) + 0.5;
  c.textAlign = 'right';
  for (const value of [hi, lo])
    if (Math.abs(y(value) - zero) > 13)
      label(c, short(value * factorOf('volume')), v.left - 8, y(value) + 4, ink.faint);
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
  across(v, zero, ink.faint);
  c.strokeStyle = ink.plumb;
  c.beginPath();
  trace(c, s, m, v.x, y, v.domain);
  c.stroke();
  c.restore();
}

/** In thousands where all digits would not fit beside the axis. */
function short(value: number): string {
  return Math.abs(value) < 100_000 ? whole(value) : `${whole(value / 1000)} k`;
}
