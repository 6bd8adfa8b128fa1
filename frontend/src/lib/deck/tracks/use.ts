import type { TrackKind } from '../kind';
import { CHECKS } from '../../../api/fields';
import type { Use } from '../../../api/client';
import { worded } from '../../system.svelte';
import { used } from '../../used';
import { findingsOf } from '../../state/figures.svelte';
import { drawUse } from '../use';

const ADVICE: ReadonlySet<string> = new Set(CHECKS.filter((c) => c.advice).map((c) => c.id));
const NAMES = new Map(CHECKS.map((c) => [c.id as string, c.name as string]));

export const use: TrackKind = {
  id: 'use',
  name: 'Use of limits',
  title: () => 'Use of limits (notched: over 90 %)',
  height: 116,
  needs: ['uses'],
  draw: (v, w) => {
    const f = w.shownFigures;
    if (f) drawUse(v, f.products.uses?.uses ?? [], findingsOf(f));
  },
  readout: (w) => {
    const at = w.selection.plumb;
    const f = w.shownFigures;
    const here = (f?.products.uses?.uses ?? []).filter((u) => u.from_chainage_m <= at && at <= u.to_chainage_m);
    // A limit is one thing, advice another: the ledger counts the first only.
    const most = (advice: boolean) =>
      here
        .filter((u) => ADVICE.has(u.check) === advice)
        .reduce<Use | null>((a, u) => (a && (a.use ?? 0) >= (u.use ?? 0) ? a : u), null);
    const told = (u: Use) => {
      const found = findingsOf(f).find((b) => b.check === u.check && b.ip === u.ip);
      return `${worded(NAMES.get(u.check)!)}, ${used(u.use, found?.brief)}`;
    };
    const [limit, advice] = [most(false), most(true)];
    const said = limit ? [`most used here: ${told(limit)}`] : [];
    if (advice && (advice.use ?? 0) > 1) said.push(`advice: ${told(advice)}`);
    return said.join('; ');
  },
};
