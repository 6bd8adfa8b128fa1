/** The track of limit use: how much of each limit is used where, failures by texture and in words. */

import type { Figures, Finding } from '../../api/client';
import { frame, label, type View } from './draw';
import { FONT_BOLD, inks } from './ink';

/** Rows of the use track and the checks that share each. */
export const USE_ROWS: [string, string[]][] = [
  ['grade', ['steepest_grade', 'flattest_grade']],
  ['K', ['crest_k', 'sag_k']],
  ['curve', ['curve_length']],
  ['spacing', ['ip_spacing']],
];
const CAUTION = 0.9;

export function drawUse(v: View, f: Figures): void {
  const { c } = v;
  const ink = inks();
  const top = 20;
  const row = (v.h - top - 2) / USE_ROWS.length;
  const failing = new Set(f.findings.map((u) => `${u.check} ${u.ip}`));
  USE_ROWS.forEach(([name, checks], r) => {
    const base = top + (r + 1) * row - 2;
    c.textAlign = 'right';
    label(c, name, v.left - 8, base, ink.faint);
    c.textAlign = 'left';
    c.save();
    frame(v);
    c.strokeStyle = ink.grid;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(v.left, Math.round(base) + 0.5);
    c.lineTo(v.right, Math.round(base) + 0.5);
    c.stroke();
    for (const u of f.uses) {
      if (!checks.includes(u.check)) continue;
      const x1 = v.x(u.from_chainage_m);
      const w = Math.max(v.x(u.to_chainage_m) - x1 - 1, 2);
      const fails = failing.has(`${u.check} ${u.ip}`);
      const height = fails ? row - 3 : Math.max(Math.min(u.use, 1) * (row - 4), 1);
      c.fillStyle = fails ? ink.failureHatch : u.use > CAUTION ? ink.caution : ink.fine;
      c.globalAlpha = fails ? 1 : 0.8;
      c.fillRect(x1, base - height, w, height);
      c.globalAlpha = 1;
      if (fails) {
        c.strokeStyle = ink.failure;
        c.strokeRect(x1 + 0.5, base - height + 0.5, w - 1, height - 1);
      } else if (u.use > CAUTION) {
        // A notch on top says "nearly used up" to whoever does not see the colour.
        c.fillRect(x1, base - height - 2, Math.min(w, 4), 2);
      }
    }
    c.restore();
  });
  words(v, f.findings, top, row);
}

/** Failures in words beside their mark, as far as there is room. */
function words(v: View, findings: Finding[], top: number, row: number): void {
  const { c } = v;
  const ink = inks();
  const free = USE_ROWS.map(() => v.left);
  const sorted = [...findings].sort((a, b) => a.from_chainage_m - b.from_chainage_m);
  for (const u of sorted) {
    const r = USE_ROWS.findIndex(([, checks]) => checks.includes(u.check));
    if (r < 0) continue;
    c.font = FONT_BOLD;
    const w = c.measureText(u.brief).width;
    const x1 = v.x(u.from_chainage_m);
    const x2 = v.x(u.to_chainage_m);
    if (x2 < v.left || x1 > v.right) continue;
    let x = x2 + 5;
    if (x + w > v.right) x = x1 - 5 - w;
    if (x < free[r]!) continue;
    const base = top + (r + 1) * row - 3;
    c.fillStyle = ink.paper;
    c.globalAlpha = 0.9;
    c.fillRect(x - 2, base - 11, w + 4, 14);
    c.globalAlpha = 1;
    label(c, u.brief, x, base, ink.failure, true);
    free[r] = Math.max(x + w + 6, x2);
  }
}
