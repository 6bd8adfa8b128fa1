import type { Schemas } from '../../api/client';
import type { View } from './draw';
import { inks } from './ink';
import { paintMark } from '../scene';
import type { Scale } from './trace';

type Utility = Schemas['UtilityFigures'];

/** Utilities where they cross the centreline. */
export function drawUtilities(v: View, utilities: Utility[], y: Scale): void {
  const ink = inks();
  v.c.strokeStyle = ink.plumb;
  for (const of of utilities)
    for (const [s, z] of of.crossings)
      if (v.x(s!) >= v.left && v.x(s!) <= v.right)
        paintMark(v.c, of.what === 'overhead' ? 'wire' : 'pipe', v.x(s!), y(z!), ink.paper);
}
