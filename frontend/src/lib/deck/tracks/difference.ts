import { figure, unitOf } from '../../units';
import type { Figured } from '../../state/figures.svelte';
import type { Work } from '../../state/work.svelte';
import { frame, label, niceStep } from '../draw';
import { DASHES, inks, lineInk } from '../ink';
import type { TrackKind } from '../kind';
import { valueAt } from '../../lookup';
import { trace } from '../trace';

/** How far the present line lies above each line that is drawn over it. */
function differences(w: Work): { name: string; colour: number; s: ArrayLike<number>; dz: Float64Array }[] {
  const own = w.shownFigures?.arrays;
  if (!own?.line_chainage) return [];
  return Object.entries(w.over.shown).flatMap(([slot, other]: [string, Figured]) => {
    const line = w.project?.lines.find((l) => l.slot === slot);
    if (!line || slot === w.selection.slot) return [];
    // At the chainages of both: each is bent at its own.
    const s = Float64Array.from([...own.line_chainage!, ...other.arrays.line_chainage!]).sort();
    const dz = s.map(
      (at) =>
        valueAt(own.line_chainage!, own.line_level!, at) -
        valueAt(other.arrays.line_chainage!, other.arrays.line_level!, at),
    );
    return [{ name: line.name, colour: line.colour, s, dz }];
  });
}

export const difference: TrackKind = {
  id: 'difference',
  name: 'Difference to the lines drawn over it',
  title: () => `Above the lines drawn over it, ${unitOf('level')}`,
  height: 70,
  needs: ['line'],
  when: (w) => Object.keys(w.over.shown).some((slot) => slot !== w.selection.slot),
  draw: (v, w) => {
    const all = differences(w);
    const { c } = v;
    const ink = inks();
    let [lo, hi] = [0, 0];
    for (const { s, dz } of all)
      dz.forEach((d, i) => {
        if (s[i]! < v.domain[0] || s[i]! > v.domain[1] || Number.isNaN(d)) return;
        lo = Math.min(lo, d);
        hi = Math.max(hi, d);
      });
    const air = Math.max(hi - lo, 0.1) * 0.1;
    [lo, hi] = [lo - air, hi + air];
    const y = (d: number) => 4 + ((hi - d) / (hi - lo)) * (v.h - 8);
    const step = niceStep(hi - lo, v.h / 20);
    c.textAlign = 'right';
    for (let d = Math.ceil(lo / step) * step; d <= hi; d += step) {
      if (y(d) > 7 && y(d) < v.h - 5)
        label(c, figure('length', d, step < 0.1 ? 2 : 1), v.left - 8, y(d) + 4, ink.faint);
    }
    c.textAlign = 'left';
    c.save();
    frame(v);
    c.strokeStyle = ink.faint;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(v.left, Math.round(y(0)) + 0.5);
    c.lineTo(v.right, Math.round(y(0)) + 0.5);
    c.stroke();
    for (const { colour, s, dz } of all) {
      c.strokeStyle = lineInk(colour);
      c.lineWidth = 1.5;
      c.setLineDash(DASHES[colour % DASHES.length]!);
      c.beginPath();
      trace(c, s, dz, v.x, y, v.domain);
      c.stroke();
    }
    c.restore();
  },
  readout: (w) =>
    differences(w)
      .map(({ name, s, dz }) => {
        const d = valueAt(s, dz, w.selection.plumb);
        const much = figure('length', Math.abs(d));
        if (Number.isNaN(d)) return '';
        return Number(much) === 0
          ? `as “${name}”`
          : `${much} ${unitOf('length')} ${d > 0 ? 'above' : 'below'} “${name}”`;
      })
      .filter((text) => text)
      .join(', '),
};
