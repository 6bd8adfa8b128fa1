/** The track of limit use: how much of each limit is used where, failures by texture and in words. */

import type { Finding, Use } from '../../api/client';
import { CHECKS } from '../../api/fields';
import { frame, label, type View } from './draw';
import { inks } from './ink';
import { Labels, widthOf } from './labels';

/** Rows of the track and the checks that share each, as the checks say themselves. */
export const USE_ROWS: [string, string[]][] = [...new Set(CHECKS.flatMap((c) => c.row ?? []))].map((row) => [
  row,
  CHECKS.filter((c) => c.row === row).map((c) => c.id),
]);
const CAUTION = 0.9;

/** Rows that have something to show; without any line, none is left out. */
function rowsOf(uses: Use[]): [string, string[]][] {
  const there = new Set<string>(uses.map((u) => u.check));
  const rows = USE_ROWS.filter(([, checks]) => checks.some((check) => there.has(check)));
  return rows.length ? rows : USE_ROWS;
}

export function drawUse(v: View, uses: Use[], findings: Finding[]): void {
  const { c } = v;
  const ink = inks();
  const top = 2;
  const rows = rowsOf(uses);
  const row = (v.h - top - 2) / rows.length;
  // Where rows are lower than words, every other one, or fewer, is named.
  const named = Math.ceil(9 / row);
  const failing = new Map(findings.map((u) => [`${u.check} ${u.ip}`, u.advice]));
  const rowAt = new Map(rows.flatMap(([, checks], r) => checks.map((check) => [check, r])));
  const inRow: Use[][] = rows.map(() => []);
  for (const u of uses) inRow[rowAt.get(u.check) ?? -1]?.push(u);
  rows.forEach(([name], r) => {
    const base = top + (r + 1) * row - 2;
    c.textAlign = 'right';
    if (r % named === 0) label(c, name, v.left - 8, base, ink.faint);
    c.textAlign = 'left';
    c.save();
    frame(v);
    c.strokeStyle = ink.grid;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(v.left, Math.round(base) + 0.5);
    c.lineTo(v.right, Math.round(base) + 0.5);
    c.stroke();
    for (const u of inRow[r]!) {
      const x1 = v.x(u.from_chainage_m);
      const w = Math.max(v.x(u.to_chainage_m) - x1 - 1, 2);
      const advice = failing.get(`${u.check} ${u.ip}`);
      const fails = advice === false;
      const share = u.use ?? 1;
      const height = fails ? row - 3 : Math.max(Math.min(share, 1) * (row - 4), 1);
      c.fillStyle = fails ? ink.failureHatch : share > CAUTION ? ink.caution : ink.fine;
      c.globalAlpha = fails ? 1 : 0.8;
      c.fillRect(x1, base - height, w, height);
      c.globalAlpha = 1;
      if (fails) {
        c.strokeStyle = ink.failure;
        c.strokeRect(x1 + 0.5, base - height + 0.5, w - 1, height - 1);
      } else if (advice) {
        // Advice that is not kept: the caution's colour, and a dotted edge as on its card.
        c.strokeStyle = ink.caution;
        c.setLineDash([2, 2]);
        c.strokeRect(x1 + 0.5, base - height + 0.5, w - 1, height - 1);
        c.setLineDash([]);
      } else if (share > CAUTION) {
        // A notch on top says "nearly used up" to whoever does not see the colour.
        c.fillRect(x1, base - height - 2, Math.min(w, 4), 2);
      }
    }
    c.restore();
  });
  words(v, rows, findings, top, row);
}

/** Failures in words beside their mark, as far as there is room. */
function words(v: View, rows: [string, string[]][], findings: Finding[], top: number, row: number): void {
  const ink = inks();
  const labels = new Labels(v);
  const placed = findings
    .map((u) => ({ u, r: rows.findIndex(([, checks]) => checks.includes(u.check)) }))
    .filter(({ u, r }) => r >= 0 && v.x(u.to_chainage_m) >= v.left && v.x(u.from_chainage_m) <= v.right);
  const colour = (u: Finding) => (u.advice ? ink.caution : ink.failure);
  const middle = (r: number) => top + (r + 0.5) * row - 1;
  for (const { u, r } of placed)
    labels.keepClear(v.x(u.from_chainage_m), middle(r) - 5, v.x(u.to_chainage_m), middle(r) + 5);
  for (const { u, r } of placed.sort((a, b) => a.u.from_chainage_m - b.u.from_chainage_m)) {
    const style = { from: 'left', bold: true, ground: ink.paper } as const;
    const w = () => widthOf(v.c, u.brief, true);
    if (labels.put(u.brief, v.x(u.to_chainage_m) + 6, middle(r), colour(u), style)) continue;
    labels.put(u.brief, v.x(u.from_chainage_m) - 8 - w(), middle(r), colour(u), style);
  }
}
