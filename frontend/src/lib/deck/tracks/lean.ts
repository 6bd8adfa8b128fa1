import { valueAt } from '../../lookup';
import { told } from '../../units';
import type { Work } from '../../state/work.svelte';
import { across, frame, label, type View } from '../draw';
import { inks } from '../ink';
import type { TrackKind } from '../kind';
import { Labels } from '../labels';
import { trace } from '../trace';

type Arrays = Record<string, ArrayLike<number>>;

function draw(v: View, w: Work): void {
  const still = w.still;
  const lean = still?.products.lean;
  const a = still?.arrays as Arrays | undefined;
  if (!still || !lean || !a?.lean_chainage) return;
  const { c } = v;
  const ink = inks();
  const most = Math.max(lean.steepest, 0.01);
  const mid = Math.round(v.h / 2) + 0.5;
  const up = (v.h / 2 - 13) / most;
  // An edge that lies higher than the middle of the road is drawn higher.
  const y = (fall: number) => mid + fall * up;
  c.textAlign = 'right';
  label(c, `+${told('fall', most)}`, v.left - 8, y(-most) + 4, ink.faint);
  label(c, '0', v.left - 8, mid + 4, ink.faint);
  label(c, `−${told('fall', most)}`, v.left - 8, y(most) + 4, ink.faint);
  c.textAlign = 'left';
  c.save();
  frame(v);
  across(v, mid, ink.grid);
  // Widening as a band at the foot of its side: to the left above, to the right below.
  c.fillStyle = ink.layerTint;
  for (const [name, edge, way] of [
    ['wide_left', 0, 1],
    ['wide_right', v.h, -1],
  ] as const) {
    const wide = a[name]!;
    const s = a.lean_chainage;
    c.beginPath();
    c.moveTo(v.x(s[0]!), edge);
    for (let i = 0; i < s.length; i++) c.lineTo(v.x(s[i]!), edge + way * Math.min(wide[i]! * 6, 12));
    c.lineTo(v.x(s[s.length - 1]!), edge);
    c.closePath();
    c.fill();
  }
  for (const [name, dash, colour] of [
    ['lean_left', [6, 3], ink.plumb],
    ['lean_right', [], ink.line],
  ] as const) {
    c.setLineDash([...dash]);
    c.strokeStyle = colour;
    c.lineWidth = 1.5;
    c.beginPath();
    trace(c, a.lean_chainage, a[name]!, v.x, y, v.domain);
    c.stroke();
  }
  c.setLineDash([]);
  c.lineWidth = 1;
  const labels = new Labels(v);
  // How much each bend is banked, over the higher edge.
  for (const key of lean.keys) {
    if (key.what !== 'full') continue;
    const x = v.x(key.chainage_m);
    const [l, r] = (['lean_left', 'lean_right'] as const).map((n) => valueAt(a.lean_chainage!, a[n]!, key.chainage_m));
    if (x > v.left && x < v.right)
      labels.put(told('percent', Math.max(-l!, -r!), 1), x + 18, y(Math.min(l!, r!)) - 4, ink.faint);
  }
  labels.put('left edge', v.left + 34, 12, ink.plumb);
  labels.put('right edge', v.left + 96, 12, ink.line);
  c.restore();
}

/** How the edges of the lanes lie against the middle of the road, left and right apart, and how much it widens. */
export const lean: TrackKind = {
  id: 'lean',
  name: 'Superelevation',
  title: () => 'Superelevation: edges of the lanes against the middle of the road',
  height: 86,
  needs: [],
  groundOnly: true,
  draw,
  readout: (w) => {
    const [a, at] = [w.still?.arrays as Arrays | undefined, w.selection.plumb];
    if (!a?.lean_chainage) return '';
    const side = (name: string) => {
      const fall = valueAt(a.lean_chainage!, a[`lean_${name}`]!, at);
      const wide = valueAt(a.lean_chainage!, a[`wide_${name}`]!, at);
      const leans = `${name} ${fall < -1e-6 ? 'rises' : 'falls'} ${told('percent', Math.abs(fall))}`;
      return wide > 0.005 ? `${leans}, ${told('length', wide)} wider` : leans;
    };
    return `${side('left')}; ${side('right')}`;
  },
};
