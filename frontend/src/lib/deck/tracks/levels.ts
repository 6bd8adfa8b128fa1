import { fixed } from '../../format';
import { inks } from '../ink';
import { label, niceStep } from '../draw';
import type { TrackKind } from '../kind';
import { valueAt } from '../trace';

/** Levels as numbers at even chainages: ground, grade line and the difference, as a long section is annotated. */
export const levels: TrackKind = {
  id: 'levels',
  name: 'Levels as numbers',
  title: () => 'Levels, m',
  height: 76,
  needs: ['line'],
  draw: (v, w) => {
    const [t, f] = [w.still, w.shownFigures];
    if (!t) return;
    const { c } = v;
    const ink = inks();
    const rows: [string, string, (s: number) => number][] = [
      ['ground', ink.ground, (s) => valueAt(t.arrays.ground_chainage!, t.arrays.ground_level!, s)],
      [
        'line',
        ink.line,
        (s) => (f?.arrays.line_chainage ? valueAt(f.arrays.line_chainage, f.arrays.line_level!, s) : NaN),
      ],
      ['depth', ink.faint, (s) => rows[1]![2](s) - rows[0]![2](s)],
    ];
    const step = niceStep(v.domain[1] - v.domain[0], (v.right - v.left) / 70);
    rows.forEach(([name, colour, at], r) => {
      const y = 14 + r * 17;
      c.textAlign = 'right';
      label(c, name, v.left - 8, y, ink.faint);
      c.textAlign = 'center';
      for (let s = Math.ceil(v.domain[0] / step) * step; s <= v.domain[1]; s += step) {
        const value = at(s);
        const x = v.x(s);
        if (Number.isNaN(value) || x < v.left + 24 || x > v.right - 24) continue;
        label(c, fixed(value, 2), x, y, colour);
      }
    });
    c.textAlign = 'left';
  },
};
