import { builtAt, placed } from '../../state/along';
import type { Work } from '../../state/work.svelte';
import AlongBars from '../AlongBars.svelte';
import type { TrackKind } from '../kind';

const any = (w: Work) => (['ranges', 'lanes', 'changes'] as const).some((list) => placed(w, list).length > 0);

/** Which section is built where: bars that are dragged, whole or by their ends. */
export const along: TrackKind = {
  id: 'along',
  name: 'Sections along the road',
  title: () => 'Sections along the road (drag a bar or its ends)',
  height: 74,
  when: any,
  needs: [],
  component: AlongBars,
  readout: (w) => builtAt(w, w.selection.plumb),
};
