/** Chainage equations of the road that is looked at: where what is written along it goes on from another value. */
export interface Equation {
  at_m: number;
  ahead_m: number;
}
interface Stretch {
  from: number;
  to: number;
  /** What is written, less the chainage that runs on. */
  shift: number;
}

// Values that are nearer are one. [m]
const SAME_M = 5e-4;

let stretches = $state.raw<Stretch[]>([{ from: -Infinity, to: Infinity, shift: 0 }]);

export function writeBy(equations: Equation[]): void {
  const rows = [...equations].sort((a, b) => a.at_m - b.at_m);
  stretches = [{ at_m: -Infinity, ahead_m: -Infinity }, ...rows].map(({ at_m, ahead_m }, k) => ({
    from: at_m,
    to: rows[k]?.at_m ?? Infinity,
    shift: k ? ahead_m - at_m : 0,
  }));
}

/** What is written at a chainage, and the number of its stretch where the same value is written on another one too. */
export function written(at: number): { value: number; stretch: number | null } {
  if (stretches.length === 1) return { value: at, stretch: null };
  const k = stretches.findLastIndex((s) => s.from <= at + SAME_M);
  const value = at + stretches[k]!.shift;
  return { value, stretch: found(value).length > 1 ? k + 1 : null };
}

/** What is written just before an equation. */
export function back(at: number): number {
  const before = stretches.findLast((s) => s.from < at - SAME_M);
  return at + (before?.shift ?? 0);
}

/** Chainages at which a value is written. */
export function found(value: number): number[] {
  return stretches
    .filter((s) => value - s.shift >= s.from - SAME_M && value - s.shift < s.to - SAME_M)
    .map((s) => Math.max(value - s.shift, s.from));
}

/** The chainage of a value on one stretch, counted from 1. */
export function onStretch(value: number, stretch: number): number | null {
  const s = stretches[stretch - 1];
  return s ? value - s.shift : null;
}

/** Chainages between two at which whole multiples of a step are written. */
export function even(from: number, to: number, step: number): number[] {
  const out: number[] = [];
  for (const s of stretches) {
    const [low, high] = [Math.max(from, s.from), Math.min(to, s.to - SAME_M)];
    for (let v = Math.ceil((low + s.shift) / step - 1e-9) * step; v <= high + s.shift + 1e-6; v += step)
      out.push(Math.max(v - s.shift, low));
  }
  return out;
}
