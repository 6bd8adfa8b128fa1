import type { Arrays } from '../../../api/binary';
import type { ProductName } from '../../../api/fields';
import { sameCase } from '../../state/figures.svelte';
import { told } from '../../units';
import { frame, label, type View } from '../draw';
import { inks } from '../ink';
import type { TrackKind } from '../kind';
import type { Work } from '../../state/work.svelte';
import { valueAt } from '../../lookup';

/** Sight of the line on screen, once it is there: at each eye, NaN where one sees to the end. */
function sightOf(w: Work, name: string) {
  const a = w.shownFigures?.arrays ?? {};
  const [s, ahead, needed, back, backNeeded] = ['at', 'ahead', 'ahead_needed', 'back', 'back_needed'].map(
    (part) => a[`${name}_${part}`],
  );
  return s && ahead && needed && back && backNeeded
    ? {
        s,
        ways: [
          { name: 'ahead', seen: ahead, needed, up: 1 },
          { name: 'back', seen: back, needed: backNeeded, up: -1 },
        ],
      }
    : null;
}

/** One way: what is seen as a band from the middle, what is needed as a line, and the lack between them hatched. */
function drawWay(
  v: View,
  s: ArrayLike<number>,
  seen: ArrayLike<number>,
  needed: ArrayLike<number>,
  y: (m: number) => number,
) {
  const { c } = v;
  const ink = inks();
  const band = new Path2D();
  const lack = new Path2D();
  for (let i = 0; i + 1 < s.length; i++) {
    const [a, b] = [v.x(s[i]!), v.x(s[i + 1]!)];
    if (b < v.left || a > v.right) continue;
    // Who sees to the end sees as much as the track shows.
    const [p, q] = [y(seen[i]! || Infinity), y(seen[i + 1]! || Infinity)];
    band.moveTo(a, y(0));
    band.lineTo(a, p);
    band.lineTo(b, q);
    band.lineTo(b, y(0));
    if (!(seen[i]! < needed[i]! || seen[i + 1]! < needed[i + 1]!)) continue;
    lack.moveTo(a, p);
    lack.lineTo(a, y(needed[i]!));
    lack.lineTo(b, y(needed[i + 1]!));
    lack.lineTo(b, q);
  }
  c.globalAlpha = 0.55;
  c.fillStyle = ink.fine;
  c.fill(band);
  c.globalAlpha = 1;
  c.fillStyle = ink.failureHatch;
  c.fill(lack);
  c.strokeStyle = ink.plumb;
  c.lineWidth = 1;
  c.setLineDash([4, 3]);
  c.beginPath();
  for (let i = 0; i < s.length; i++) c.lineTo(v.x(s[i]!), y(needed[i]!));
  c.stroke();
  c.setLineDash([]);
}

/** Sight past bends of the line on screen; it follows once the hand rests. */
function spaceOf(w: Work): Arrays | null {
  const after = w.figures.after;
  return after?.products.space && sameCase(after.of, w.case) ? after.arrays : null;
}

/** How far one sees past bends, where less than along the line itself. */
function drawSpace(v: View, w: Work, y: (m: number, up: number) => number): void {
  const a = spaceOf(w);
  if (!a) return;
  v.c.strokeStyle = inks().line;
  v.c.lineWidth = 1.5;
  for (const [seen, up] of [
    [a.space_ahead!, 1],
    [a.space_back!, -1],
  ] as const) {
    v.c.beginPath();
    let pen = false;
    for (let i = 0; i < seen.length; i++) {
      const on = !Number.isNaN(seen[i]!);
      if (on && pen) v.c.lineTo(v.x(a.space_at![i]!), y(seen[i]!, up));
      else if (on) v.c.moveTo(v.x(a.space_at![i]!), y(seen[i]!, up));
      pen = on;
    }
    v.c.stroke();
  }
}

/** How far one sees from each place, ahead above the middle and back below it, against what is needed. */
const sightTrack = (id: ProductName, name: string, title: string, inSpace = false): TrackKind => ({
  id,
  name,
  title: (w) => {
    const space = !inSpace ? '' : spaceOf(w) ? '; line: past bends' : '; past bends: on its way';
    return `${title}, ahead above and back below (dashed: needed; hatched: lacking${space})`;
  },
  height: 84,
  needs: inSpace ? [id, 'space'] : [id],
  draw: (v, w) => {
    const of = sightOf(w, id);
    if (!of) return;
    const ink = inks();
    const mid = v.h / 2;
    let most = 1;
    for (const { needed } of of.ways) for (let i = 0; i < needed.length; i++) most = Math.max(most, needed[i]!);
    const room = mid - 3;
    v.c.textAlign = 'right';
    label(v.c, 'ahead', v.left - 8, 15, ink.faint);
    label(v.c, 'back', v.left - 8, v.h - 7, ink.faint);
    v.c.textAlign = 'left';
    v.c.save();
    frame(v);
    for (const { seen, needed, up } of of.ways)
      drawWay(v, of.s, seen, needed, (m) => mid - up * Math.min(m / (1.8 * most), 1) * room);
    if (inSpace) drawSpace(v, w, (m, up) => mid - up * Math.min(m / (1.8 * most), 1) * room);
    v.c.strokeStyle = ink.faint;
    v.c.beginPath();
    v.c.moveTo(v.left, Math.round(mid) + 0.5);
    v.c.lineTo(v.right, Math.round(mid) + 0.5);
    v.c.stroke();
    v.c.restore();
  },
  readout: (w) => {
    const of = sightOf(w, id);
    if (!of) return '';
    const at = w.selection.plumb;
    return of.ways
      .map(({ name, seen, needed }) => {
        const far = valueAt(of.s, seen, at);
        return `${name} ${Number.isNaN(far) ? 'to the end' : told('about', far)} of ${told('about', valueAt(of.s, needed, at))}`;
      })
      .join(', ');
  },
});

export const sight = sightTrack('sight', 'Stopping sight', 'Stopping sight', true);
export const headlight = sightTrack('headlight', 'Headlight sight', 'What headlights reach');
export const intermediate = sightTrack('intermediate', 'Intermediate sight', 'Intermediate sight, of two on one lane');
export const passing = sightTrack('passing', 'Passing sight', 'Passing sight');
