import { worded } from '../../system.svelte';
import { figure, told } from '../../units';
import type { Finding } from '../../../api/client';
import { CHECKS } from '../../../api/fields';
import { inks } from '../ink';
import { across, frame, type View } from '../draw';
import type { TrackKind } from '../kind';
import type { Work } from '../../state/work.svelte';
import { Labels } from '../labels';

// The tightest bend is so high where there is room, and none is lower. [px]
const [HIGHEST, LOWEST] = [18, 3];

type Bend = NonNullable<Work['still']>['ground']['bends'][number];

/** Radius at a chainage of a bend: on a transition it is larger, the nearer to its tangent. [m] */
function radiusAt(b: Bend, at: number): number {
  const into = b.transition_in_m ? (at - b.from_chainage_m) / b.transition_in_m : 1;
  const outOf = b.transition_out_m ? (b.to_chainage_m - at) / b.transition_out_m : 1;
  return b.radius_m / Math.max(Math.min(into, outOf, 1), 1e-9);
}

interface Stretch {
  from_chainage_m: number;
  to_chainage_m: number;
}

const COORDINATION: readonly string[] = CHECKS.filter((c) => c.group === 'coordination').map((c) => c.id);
export const isCoordination = (u: Finding): boolean => COORDINATION.includes(u.check);

/** Bends along the axis; where advice is due a bar lies at the foot. */
export function drawBends(v: View, all: Bend[], advice: Stretch[]): void {
  const { c } = v;
  const ink = inks();
  const labels = new Labels(v);
  c.save();
  frame(v);
  const mid = Math.round(v.h / 2) + 0.5;
  across(v, mid, ink.other);
  const highest = Math.min(HIGHEST, v.h / 2 - 3);
  const tightest = Math.min(...all.map((b) => b.radius_m));
  for (const b of all) {
    const x1 = v.x(b.from_chainage_m);
    const x2 = v.x(b.to_chainage_m);
    const right = b.deflection > 0;
    const high = (right ? 1 : -1) * Math.max((highest * tightest) / b.radius_m, LOWEST);
    c.beginPath();
    c.moveTo(x1, mid);
    c.lineTo(v.x(b.from_chainage_m + b.transition_in_m), mid + high);
    c.lineTo(Math.max(v.x(b.to_chainage_m - b.transition_out_m), x1 + 2), mid + high);
    c.lineTo(Math.max(x2, x1 + 2), mid);
    c.closePath();
    c.globalAlpha = 0.35;
    c.fillStyle = ink.other;
    c.fill();
    c.globalAlpha = 1;
    c.stroke();
    // On the free side of the axis, so that it never lies on its own bend.
    labels.put(`R ${figure('about', b.radius_m)}`, (x1 + x2) / 2, right ? mid - 8 : mid + 7, ink.faint);
  }
  c.fillStyle = ink.caution;
  for (const a of advice) {
    const x = v.x(a.from_chainage_m);
    c.fillRect(x, v.h - 2, Math.max(v.x(a.to_chainage_m) - x, 3), 2);
  }
  c.restore();
}

/** Curvature of the centreline: bends to the right lie below the axis, as they do on the strip, the higher the tighter. */
export const bends: TrackKind = {
  id: 'bends',
  name: 'Bends',
  height: 54,
  needs: [],
  groundOnly: true,
  draw: (v, w) => {
    if (w.still) drawBends(v, w.still.ground.bends, w.findings.filter(isCoordination));
  },
  readout: (w) => {
    const at = w.selection.plumb;
    const advised = w.findings.find((u) => isCoordination(u) && u.from_chainage_m <= at && at <= u.to_chainage_m);
    if (advised) return worded(advised.name);
    const b = w.still?.ground.bends.find((x) => x.from_chainage_m <= at && at <= x.to_chainage_m);
    if (!b) return 'straight';
    const radius = radiusAt(b, at);
    const says = `${told('about', b.radius_m)} to the ${b.deflection > 0 ? 'right' : 'left'}`;
    if (radius <= b.radius_m * (1 + 1e-9)) return `R ${says}`;
    return radius > 1e5 ? `transition to R ${says}` : `transition, R ${figure('about', radius)} of ${says}`;
  },
};
