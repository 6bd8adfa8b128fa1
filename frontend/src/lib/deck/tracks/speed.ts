import type { Schemas } from '../../../api/client';
import { allowed, figure, told, unitOf } from '../../units';
import { frame, label, type View } from '../draw';
import { inks } from '../ink';
import type { TrackKind } from '../kind';
import { Labels } from '../labels';
import { firstFrom, valueAt } from '../../lookup';
import { trace } from '../trace';

type Allowed = Schemas['SpeedFigures']['allowed'][number];

/** Speeds are drawn from here to a fifth over the design speed. [km/h] */
const SLOWEST = 20;

const covers = (a: Allowed, at: number) => a.from_m <= at && at <= a.to_m;

/** The slowest of what allows a speed at a chainage. */
function least(all: Allowed[], at: number): Allowed | null {
  return all.filter((a) => covers(a, at)).reduce<Allowed | null>((b, a) => (b && b.kmh <= a.kmh ? b : a), null);
}

/** The fastest design speed over what allows a speed. */
function fastest(s: ArrayLike<number>, design: ArrayLike<number>, a: Allowed): number {
  let most = valueAt(s, design, (a.from_m + a.to_m) / 2);
  for (let i = firstFrom(s, a.from_m); i < s.length && s[i]! <= a.to_m; i++) most = Math.max(most, design[i]!);
  return most;
}

/** What allows a speed, as a bar at it: what is slower than the design speed is hatched, and a curve says its speed. */
function drawAllowed(v: View, all: Allowed[], designAt: (a: Allowed) => number, y: (kmh: number) => number): void {
  const { c } = v;
  const ink = inks();
  const labels = new Labels(v);
  for (const a of all) {
    const design = designAt(a);
    const [x1, x2] = [v.x(a.from_m), Math.max(v.x(a.to_m), v.x(a.from_m) + 3)];
    const py = y(a.kmh);
    if (a.kmh < design - 0.5) {
      c.fillStyle = ink.failureHatch;
      c.fillRect(x1, y(design), x2 - x1, py - y(design));
    }
    c.strokeStyle = a.kmh < design - 0.5 ? ink.failure : ink.ground;
    c.lineWidth = a.kind === 'bend' ? 3 : 2;
    c.setLineDash(a.kind === 'bend' ? [] : [3, 2]);
    c.beginPath();
    c.moveTo(x1, py);
    c.lineTo(x2, py);
    c.stroke();
    c.setLineDash([]);
    if (a.kmh < 1.2 * design)
      labels.put(
        `${a.kind} ${allowed(a.kmh)}`,
        (x1 + x2) / 2,
        a.kmh < design ? [py + 9, py - 7] : [py - 7, py + 9],
        ink.faint,
        {
          halo: ink.paper,
        },
      );
  }
}

/** What bends, crests and sags allow beside the design speed, and how a truck keeps up. */
export const speed: TrackKind = {
  id: 'speed',
  name: 'Speed',
  title: () =>
    `Speed, ${unitOf('speed')} (thick: bends, dashed: crests and sags; thin: truck, solid ahead, dotted back)`,
  height: 100,
  needs: ['speeds'],
  draw: (v, w) => {
    const [of, f] = [w.shownFigures?.products.speeds, w.shownFigures];
    const { truck_at: s, truck_ahead: ahead, truck_back: back, design } = f?.arrays ?? {};
    if (!of || !s || !ahead || !back || !design) return;
    const { c } = v;
    const ink = inks();
    const most = 1.25 * Math.max(of.design_kmh, of.truck_comes_with_kmh);
    const y = (kmh: number) =>
      v.h - 4 - ((Math.min(Math.max(kmh, SLOWEST), most) - SLOWEST) / (most - SLOWEST)) * (v.h - 8);
    c.textAlign = 'right';
    label(c, figure('speed', of.design_kmh, 0), v.left - 8, y(of.design_kmh) + 4, ink.plumb, true);
    label(c, figure('speed', SLOWEST, 0), v.left - 8, v.h - 3, ink.faint);
    c.textAlign = 'left';
    c.save();
    frame(v);
    c.strokeStyle = ink.plumb;
    c.lineWidth = 1;
    c.setLineDash([6, 3]);
    c.beginPath();
    trace(c, s, design, v.x, y, v.domain);
    c.stroke();
    c.strokeStyle = ink.other;
    c.lineWidth = 1.2;
    for (const [run, dash] of [
      [ahead, []],
      [back, [1, 3]],
    ] as const) {
      c.setLineDash([...dash]);
      c.beginPath();
      trace(c, s, run, v.x, y, v.domain);
      c.stroke();
    }
    c.setLineDash([]);
    drawAllowed(v, of.allowed, (a) => fastest(s, design, a), y);
    c.restore();
  },
  readout: (w) => {
    const [of, f] = [w.shownFigures?.products.speeds, w.shownFigures];
    const { truck_at: s, truck_ahead: ahead, truck_back: back } = f?.arrays ?? {};
    if (!of || !s || !ahead || !back) return '';
    const at = w.selection.plumb;
    const slowest = least(of.allowed, at);
    const road = slowest
      ? `the ${slowest.kind} allows ${allowed(slowest.kmh)} ${unitOf('speed')}`
      : 'nothing here is slow';
    return `${road}; truck ahead ${told('about_speed', valueAt(s, ahead, at))}, back ${told('about_speed', valueAt(s, back, at))}`;
  },
};
