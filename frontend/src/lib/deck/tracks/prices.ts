import { unitLength } from '../../system.svelte';
import { unitOf } from '../../units';
import { signedWhole } from '../../format';
import { sameCase } from '../../state/figures.svelte';
import type { Work } from '../../state/work.svelte';
import type { ProductName } from '../../../api/fields';
import { across, frame, label } from '../draw';
import { inks } from '../ink';
import type { TrackKind } from '../kind';
import { firstFrom } from '../../lookup';

/** What a metre one way or the other costs, section by section: the arrays that say it, and what the ways are called. */
interface Ways {
  product: ProductName;
  over: { array: string; name: string };
  under: { array: string; name: string };
}

/** Prices of both ways, where they are those of the line on screen. */
function pricesOf(w: Work, ways: Ways) {
  const [after, s] = [w.figures.after, w.still?.arrays.section_chainage];
  const [over, under] = [after?.arrays[ways.over.array], after?.arrays[ways.under.array]];
  return s && over && under && sameCase(after!.of, w.case) && over.length === s.length ? { s, over, under } : null;
}

/** A track of what a metre saves: bars of the first way lie above, of the second below. */
function saved(id: string, name: string, what: string, ways: Ways): TrackKind {
  return {
    id,
    name,
    title: (w) => `Saved by a metre ${what}, ${w.project?.cost?.currency ?? ''} / ${unitOf('length')}`,
    height: 70,
    needs: [ways.product],
    draw: (v, w) => {
      const p = pricesOf(w, ways);
      if (!p) return;
      const { c } = v;
      const ink = inks();
      const mid = Math.round(v.h / 2) + 0.5;
      let most = 1e-9;
      for (const side of [p.over, p.under]) for (const z of side) if (-z > most) most = -z;
      const up = (v.h / 2 - 6) / most;
      c.textAlign = 'right';
      label(c, ways.over.name, v.left - 8, 14, ink.faint);
      label(c, ways.under.name, v.left - 8, v.h - 6, ink.faint);
      c.textAlign = 'left';
      c.save();
      frame(v);
      c.fillStyle = ink.fine;
      for (const [side, sign] of [
        [p.over, -1],
        [p.under, 1],
      ] as const)
        for (let i = 0; i < p.s.length; i++) {
          const gained = -side[i]!;
          if (!(gained > 0)) continue;
          // On whole pixels: bars that share one would show as stripes.
          const from = Math.round(v.x(i ? (p.s[i - 1]! + p.s[i]!) / 2 : p.s[i]!));
          const to = Math.round(v.x(i + 1 < p.s.length ? (p.s[i]! + p.s[i + 1]!) / 2 : p.s[i]!));
          c.fillRect(from, mid, Math.max(to - from, 1), sign * gained * up);
        }
      across(v, mid, ink.faint);
      c.restore();
    },
    readout: (w) => {
      const p = pricesOf(w, ways);
      if (!p) return w.line ? 'is worked out' : '';
      const i = Math.min(firstFrom(p.s, w.selection.plumb), p.s.length - 1);
      // By the metre moved, in either system; of road by the unit shown.
      const says = (z: number) => (Number.isNaN(z) ? 'no ground' : signedWhole(z * unitLength()));
      const one = unitLength() === 1 ? 'metre' : 'foot';
      return `a metre ${ways.over.name}: ${says(p.over[i]!)}, ${ways.under.name}: ${says(p.under[i]!)} a ${one} of road`;
    },
  };
}

/** What a metre sideways saves; to the left above, to the right below, as they do on the strip. */
export const shift = saved('shift', 'Price of offset', 'sideways', {
  product: 'shift',
  over: { array: 'shift_left', name: 'left' },
  under: { array: 'shift_right', name: 'right' },
});

/** What a metre of level saves. */
export const level = saved('level', 'Price of level', 'up or down', {
  product: 'level',
  over: { array: 'level_up', name: 'up' },
  under: { array: 'level_down', name: 'down' },
});
