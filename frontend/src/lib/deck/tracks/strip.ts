import { fixed } from '../../format';
import { drawStrip, STRIP_REACH_M } from '../strip';
import type { TrackKind } from '../kind';
import { valueAt } from '../trace';

export const strip: TrackKind = {
  id: 'strip',
  name: 'Strip map',
  title: (w) => `Strip, ${STRIP_REACH_M} m to each side, contours each ${w.still?.strip.contour_interval_m ?? 1} m`,
  height: 112,
  needs: ['works'],
  draw: (v, w) => {
    if (w.still) drawStrip(v, w.still, w.shownFigures);
  },
  readout: (w) => {
    const [f, s] = [w.shownFigures, w.still?.arrays.section_chainage];
    if (!f?.arrays.left || !f.arrays.right || !s) return '';
    const left = valueAt(s, f.arrays.left, w.selection.plumb);
    const right = valueAt(s, f.arrays.right, w.selection.plumb);
    return `footprint ${fixed(-left, 1)} m left, ${fixed(right, 1)} m right`;
  },
};
