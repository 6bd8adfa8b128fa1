import { percent } from '../../format';
import type { TrackKind } from '../kind';
import { CHECKS } from '../../../api/fields';
import { drawUse } from '../use';

const ADVICE: ReadonlySet<string> = new Set(CHECKS.filter((c) => c.advice).map((c) => c.id));

export const use: TrackKind = {
  id: 'use',
  name: 'Use of limits',
  title: () => 'Use of limits (notched: over 90 %)',
  height: 116,
  needs: ['uses'],
  draw: (v, w) => {
    const f = w.shownFigures;
    if (f) drawUse(v, f.uses, f.findings);
  },
  readout: (w) => {
    const at = w.selection.plumb;
    const here = (w.shownFigures?.uses ?? []).filter((u) => u.from_chainage_m <= at && at <= u.to_chainage_m);
    // A limit is one thing, advice another: the ledger counts the first only.
    const most = (advice: boolean) => {
      const use = here.reduce((a, u) => (ADVICE.has(u.check) === advice ? Math.max(a, u.use ?? 0) : a), 0);
      return use > 9.99 ? 'over 999 %' : percent(use, 0);
    };
    const told = here.some((u) => ADVICE.has(u.check) && (u.use ?? 0) > 1) ? `; advice: ${most(true)}` : '';
    return here.length ? `up to ${most(false)} of a limit used here${told}` : '';
  },
};
