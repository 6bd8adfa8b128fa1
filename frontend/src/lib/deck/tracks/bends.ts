import { whole } from '../../format';
import { inks } from '../ink';
import { frame } from '../draw';
import type { TrackKind } from '../kind';
import { Labels } from '../labels';

/** Bends of the centreline: those to the right lie below the axis, as they do on the strip. */
export const bends: TrackKind = {
  id: 'bends',
  name: 'Bends',
  height: 54,
  needs: [],
  groundOnly: true,
  draw: (v, w) => {
    if (!w.still) return;
    const { c } = v;
    const ink = inks();
    const labels = new Labels(v);
    c.save();
    frame(v);
    const mid = Math.round(v.h / 2) + 0.5;
    c.strokeStyle = ink.other;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(v.left, mid);
    c.lineTo(v.right, mid);
    c.stroke();
    for (const b of w.still.ground.bends) {
      const x1 = v.x(b.from_chainage_m);
      const x2 = v.x(b.to_chainage_m);
      const right = b.deflection > 0;
      c.beginPath();
      c.rect(x1, right ? mid : mid - 8, Math.max(x2 - x1, 2), 8);
      c.globalAlpha = 0.35;
      c.fillStyle = ink.other;
      c.fill();
      c.globalAlpha = 1;
      c.stroke();
      // On the free side of the axis, so that it never lies on its own bend.
      labels.put(`R ${whole(b.radius_m)}`, (x1 + x2) / 2, right ? mid - 8 : mid + 8, ink.faint);
    }
    c.restore();
  },
  readout: (w) => {
    const at = w.selection.plumb;
    const b = w.still?.ground.bends.find((x) => x.from_chainage_m <= at && at <= x.to_chainage_m);
    return b ? `R ${whole(b.radius_m)} m to the ${b.deflection > 0 ? 'right' : 'left'}` : 'straight';
  },
};
