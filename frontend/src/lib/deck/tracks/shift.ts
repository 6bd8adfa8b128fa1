import { unitLength } from '../../system.svelte';
import { unitOf } from '../../units';
import { signedWhole } from '../../format';
import { sameCase } from '../../state/figures.svelte';
import type { Work } from '../../state/work.svelte';
import { frame, label } from '../draw';
import { inks } from '../ink';
import type { TrackKind } from '../kind';
import { firstFrom } from '../../lookup';

/** Prices of both sides, where they are those of the line on screen. */
function pricesOf(w: Work) {
  const [after, s] = [w.figures.after, w.still?.arrays.section_chainage];
  const { shift_left: left, shift_right: right } = after?.arrays ?? {};
  return s && left && right && sameCase(after!.of, w.case) && left.length === s.length ? { s, left, right } : null;
}

/** What a metre sideways saves: bars to the left lie above, to the right below, as they do on the strip. */
export const shift: TrackKind = {
  id: 'shift',
  name: 'Price of offset',
  title: (w) => `Saved by a metre sideways, ${w.project?.cost?.currency ?? ''} / ${unitOf('length')}`,
  height: 70,
  needs: ['shift'],
  draw: (v, w) => {
    const p = pricesOf(w);
    if (!p) return;
    const { c } = v;
    const ink = inks();
    const mid = Math.round(v.h / 2) + 0.5;
    let most = 1e-9;
    for (const side of [p.left, p.right]) for (const z of side) if (-z > most) most = -z;
    const up = (v.h / 2 - 6) / most;
    c.textAlign = 'right';
    label(c, 'left', v.left - 8, 14, ink.faint);
    label(c, 'right', v.left - 8, v.h - 6, ink.faint);
    c.textAlign = 'left';
    c.save();
    frame(v);
    c.fillStyle = ink.fine;
    for (const [side, sign] of [
      [p.left, -1],
      [p.right, 1],
    ] as const)
      for (let i = 0; i < p.s.length; i++) {
        const saved = -side[i]!;
        if (!(saved > 0)) continue;
        const from = v.x(i ? (p.s[i - 1]! + p.s[i]!) / 2 : p.s[i]!);
        const to = v.x(i + 1 < p.s.length ? (p.s[i]! + p.s[i + 1]!) / 2 : p.s[i]!);
        c.fillRect(from, mid, Math.max(to - from, 1), sign * saved * up);
      }
    c.strokeStyle = ink.faint;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(v.left, mid);
    c.lineTo(v.right, mid);
    c.stroke();
    c.restore();
  },
  readout: (w) => {
    const p = pricesOf(w);
    if (!p) return w.line ? 'is worked out' : '';
    const i = Math.min(firstFrom(p.s, w.selection.plumb), p.s.length - 1);
    // By the metre sideways, in either system; of road by the unit shown.
    const says = (z: number) => (Number.isNaN(z) ? 'no ground' : signedWhole(z * unitLength()));
    const one = unitLength() === 1 ? 'metre' : 'foot';
    return `a metre to the left ${says(p.left[i]!)}, to the right ${says(p.right[i]!)} a ${one} of road`;
  },
};
