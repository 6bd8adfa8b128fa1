import { bandsOf, levelsOf } from '../state/controls';
import { ipsOf, type Figured, type Still } from '../state/figures.svelte';
import { firstFrom } from '../lookup';

/** Least and greatest of ground, lines and level controls within a stretch of chainage. */
export function levelRange(terrain: Still, lines: Figured[], domain: [number, number]): [number, number] {
  let lo = Infinity;
  let hi = -Infinity;
  const take = (xs: ArrayLike<number> | undefined, ys: ArrayLike<number> | undefined) => {
    if (!xs || !ys) return;
    const to = Math.min(firstFrom(xs, domain[1]) + 1, xs.length);
    for (let i = Math.max(firstFrom(xs, domain[0]) - 1, 0); i < to; i++) {
      const z = ys[i]!;
      if (z < lo) lo = z;
      if (z > hi) hi = z;
    }
  };
  take(terrain.arrays.ground_chainage, terrain.arrays.ground_level);
  for (const f of lines) {
    take(f.arrays.line_chainage, f.arrays.line_level);
    for (const ip of ipsOf(f)) {
      if (ip.chainage_m < domain[0] || ip.chainage_m > domain[1]) continue;
      lo = Math.min(lo, ip.level_m);
      hi = Math.max(hi, ip.level_m);
    }
    for (const [s, z] of (f.products.utilities ?? []).flatMap((of) => of.crossings)) {
      if (s! < domain[0] || s! > domain[1]) continue;
      lo = Math.min(lo, z!);
      hi = Math.max(hi, z!);
    }
    for (const band of bandsOf(f)) {
      if (band.s[0]! > domain[1] || band.s[band.s.length - 1]! < domain[0]) continue;
      lo = Math.min(lo, ...levelsOf(band));
      hi = Math.max(hi, ...levelsOf(band));
    }
  }
  return lo <= hi ? [lo, hi] : [0, 10];
}

export const RATIOS = [1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 75, 100];

/** The largest even exaggeration of heights that still fits, and the levels it shows about the middle. */
export function exaggeration(
  range: [number, number],
  pixels: number,
  pxPerMetre: number,
): { ratio: number; levels: [number, number] } {
  const room = Math.max(range[1] - range[0], 2) * 1.08;
  const ratio = [...RATIOS].reverse().find((r) => r * pxPerMetre * room <= pixels) ?? 1;
  const shown = pixels / (ratio * pxPerMetre);
  const mid = (range[0] + range[1]) / 2;
  const span = Math.max(shown, room);
  return { ratio: span > shown ? pixels / (span * pxPerMetre) : ratio, levels: [mid - span / 2, mid + span / 2] };
}

/** Levels shown under a chosen exaggeration: about the middle where all fit, else about the level that is looked at. */
export function chosenRatio(
  range: [number, number],
  ratio: number,
  pixels: number,
  pxPerMetre: number,
  seen: number,
): { ratio: number; levels: [number, number] } {
  const span = pixels / (ratio * pxPerMetre);
  const fits = span >= (range[1] - range[0]) * 1.04;
  const mid = fits || Number.isNaN(seen) ? (range[0] + range[1]) / 2 : seen;
  return { ratio, levels: [mid - span / 2, mid + span / 2] };
}
