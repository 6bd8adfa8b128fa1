import type { Place } from '../state/hand.svelte';

/** What picked points measure; levels are known only where there is ground. */
export interface Measured {
  /** In plan. [m] */
  length: number;
  last: number;
  /** Clockwise from north. [rad] */
  bearing: number;
  /** Of the ring they make. [m2] */
  area: number | null;
  /** From the first to the last. [m] */
  rise: number | null;
  grade: number | null;
}

/** Lengths, area, rise and grade of two picked points or more; null for fewer. */
export function measure(line: Place[]): Measured | null {
  if (line.length < 2) return null;
  const leg = ([a, b]: Place, [c, d]: Place): number => Math.hypot(c - a, d - b);
  const legs = line.slice(1).map((p, i) => leg(line[i]!, p));
  const length = legs.reduce((sum, l) => sum + l, 0);
  const [from, before, to] = [line[0]!, line.at(-2)!, line.at(-1)!];
  const twice = line.reduce((sum, [x, y], i) => {
    const [u, v] = line[(i + 1) % line.length]!;
    // From the first point on, so that large coordinates leave their digits to the area.
    return sum + (x - from[0]) * (v - from[1]) - (u - from[0]) * (y - from[1]);
  }, 0);
  const rise = to[2] - from[2];
  const bearing = (Math.atan2(to[0] - before[0], to[1] - before[1]) + 2 * Math.PI) % (2 * Math.PI);
  return {
    length,
    last: legs.at(-1)!,
    bearing,
    area: line.length > 2 ? Math.abs(twice) / 2 : null,
    rise: Number.isNaN(rise) ? null : rise,
    grade: Number.isNaN(rise) || !length ? null : rise / length,
  };
}
