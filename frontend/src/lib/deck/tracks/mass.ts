import { signedWhole } from '../../format';
import type { TrackKind } from '../kind';
import { drawMass } from '../mass';
import { valueAt } from '../trace';

export const mass: TrackKind = {
  id: 'mass',
  name: 'Mass haul',
  title: () => 'Mass haul, m³',
  height: 84,
  needs: ['mass'],
  draw: (v, w) => {
    const f = w.shownFigures;
    if (w.still && f?.arrays.mass) drawMass(v, w.still.arrays.section_chainage!, f.arrays.mass);
  },
  readout: (w) => {
    const [m, s] = [w.shownFigures?.arrays.mass, w.still?.arrays.section_chainage];
    return m && s ? `${signedWhole(valueAt(s, m, w.selection.plumb))} m³` : '';
  },
};
