import { change, unitOf } from '../../units';
import type { TrackKind } from '../kind';
import { drawMass } from '../mass';
import { valueAt } from '../../lookup';

export const mass: TrackKind = {
  id: 'mass',
  name: 'Mass haul',
  title: () => `Mass haul, ${unitOf('volume')}`,
  height: 84,
  needs: ['mass'],
  draw: (v, w) => {
    const f = w.shownFigures;
    if (w.still && f?.arrays.mass) drawMass(v, w.still.arrays.section_chainage!, f.arrays.mass);
  },
  readout: (w) => {
    const [m, s] = [w.shownFigures?.arrays.mass, w.still?.arrays.section_chainage];
    return m && s ? `${change('volume', valueAt(s, m, w.selection.plumb))} ${unitOf('volume')}` : '';
  },
};
