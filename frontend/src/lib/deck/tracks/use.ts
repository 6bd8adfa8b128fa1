import { percent } from '../../format';
import type { TrackKind } from '../kind';
import { drawUse } from '../use';

export const use: TrackKind = {
  id: 'use',
  name: 'Use of limits',
  title: () => 'Use of limits (notched: over 90 %)',
  height: 96,
  needs: ['uses'],
  draw: (v, w) => {
    const f = w.shownFigures;
    if (f) drawUse(v, f.uses, f.findings);
  },
  readout: (w) => {
    const at = w.selection.plumb;
    const here = (w.shownFigures?.uses ?? []).filter((u) => u.from_chainage_m <= at && at <= u.to_chainage_m);
    const most = here.reduce((a, u) => Math.max(a, u.use ?? 0), 0);
    return here.length ? `up to ${most > 9.99 ? 'over 999 %' : percent(most, 0)} of a limit used here` : '';
  },
};
