import { told } from '../../units';
import { drawStrip, STRIP_REACH_M } from '../strip';
import type { TrackKind } from '../kind';
import { valueAt } from '../../lookup';

export const strip: TrackKind = {
  id: 'strip',
  name: 'Strip map',
  title: (w) =>
    `Strip, ${told('about', STRIP_REACH_M)} to each side, contours each ${told('size', w.still?.strip.contour_interval_m ?? 1)}`,
  height: 84,
  needs: ['works'],
  draw: (v, w) => {
    if (w.still) drawStrip(v, w.still, w.shownFigures);
  },
  readout: (w) => {
    const [f, s] = [w.shownFigures, w.still?.arrays.section_chainage];
    if (!f?.arrays.left || !f.arrays.right || !s) return '';
    const left = valueAt(s, f.arrays.left, w.selection.plumb);
    const right = valueAt(s, f.arrays.right, w.selection.plumb);
    return `footprint ${told('length', -left, 1)} left, ${told('length', right, 1)} right`;
  },
};
