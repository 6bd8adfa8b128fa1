import type { Draft, PlanRow } from './planned';
import { ended, told } from './planned';

/**
 * A stretch of a long centreline that can be asked about by itself while one IP moves: its IPs from `at` on, with the
 * chainage of the first. Bends change from the one at IP `from` to the one at IP `to`, which begins where it did; null
 * reaches to the line's end there.
 */
export interface Stretch {
  at: number;
  ips: PlanRow[];
  startM: number;
  from: number | null;
  to: number | null;
}

/** What has to be asked where an IP of a line moves that was known as a whole before. */
export function stretchOf(whole: Draft, startM: number, ips: PlanRow[], moved: number): Stretch {
  // Bends at the IP and beside it move, and whichever join these one behind the other.
  let last = moved + 1;
  while (ips[last + 1]?.joins) last++;
  const rows = whole.bends;
  const before = rows.findLastIndex((row) => row.bend.ip < moved - 1);
  const after = rows.findIndex((row) => row.bend.ip > last);
  // One bend more to each side: how much slower than these the others are is said of them.
  let at = Math.max((rows[before - 1]?.bend.ip ?? 1) - 1, 0);
  while (at > 0 && ips[at + 1]?.joins) at--;
  const end = after < 0 ? ips.length - 1 : Math.min((rows[after + 1]?.bend.ip ?? ips.length - 2) + 1, ips.length - 1);
  const first = rows.find((row) => row.bend.ip > at)?.bend;
  let start = startM;
  if (at > 0 && first) {
    start = first.from_chainage_m + first.tangent_in_m;
    for (let i = at; i < first.ip; i++) {
      const [a, b] = [ips[i]!, ips[i + 1]!];
      start -= Math.hypot(b.easting_m - a.easting_m, b.northing_m - a.northing_m);
    }
  }
  return {
    at,
    ips: ended(ips.slice(at, end + 1)),
    startM: start,
    from: before < 0 ? null : rows[before]!.bend.ip,
    to: after < 0 ? null : rows[after]!.bend.ip,
  };
}

/** The whole with what is known of the stretch in its place; what lies beyond only has other chainages. */
export function spliced(whole: Draft, startM: number, stretch: Stretch, part: Draft): Draft {
  const bends = part.bends.map((row) => ({
    ...row,
    bend: { ...row.bend, ip: row.bend.ip + stretch.at },
    speed: { ...row.speed, ip: row.speed.ip + stretch.at },
  }));
  const of = (rows: Draft['bends'], ip: number | null): number =>
    ip === null ? rows.length : rows.findIndex((row) => row.bend.ip === ip);
  const first = stretch.from === null ? [0, 0] : [of(whole.bends, stretch.from), of(bends, stretch.from)];
  const last = [of(whole.bends, stretch.to), of(bends, stretch.to)];
  const point = (d: Draft, i: number, none: number): number => (i < d.bends.length ? d.arrays.plan_starts![i]! : none);
  const [w, p] = [whole.arrays.plan_e!.length, part.arrays.plan_e!.length];
  const cut = [
    stretch.from === null ? 0 : point(whole, first[0]!, w),
    point(whole, last[0]!, w),
    stretch.from === null ? 0 : point(part, first[1]!, p),
    point(part, last[1]!, p),
  ] as const;
  const drawn = (name: 'plan_e' | 'plan_n'): Float64Array => {
    const [a, b] = [whole.arrays[name]!, part.arrays[name]!];
    const out = new Float64Array(cut[0] + cut[3] - cut[2] + w - cut[1]);
    out.set(a.subarray(0, cut[0]));
    out.set(b.subarray(cut[2], cut[3]), cut[0]);
    out.set(a.subarray(cut[1]), cut[0] + cut[3] - cut[2]);
    return out;
  };
  // The bend at the far end is judged by the stretch too, and begins where the line is longer by so much.
  const [was, is] = [whole.bends[last[0]!]?.bend, bends[last[1]!]?.bend];
  const longer = was && is ? is.from_chainage_m - was.from_chainage_m : 0;
  const end = was ? startM + whole.length_m! + longer : stretch.startM + part.length_m!;
  return {
    ...whole,
    ...told(part),
    length_m: end - startM,
    bends: [
      ...whole.bends.slice(0, first[0]),
      ...bends.slice(first[1], was ? last[1]! + 1 : undefined),
      ...whole.bends.slice(was ? last[0]! + 1 : whole.bends.length),
    ],
    arrays: { ...whole.arrays, plan_e: drawn('plan_e'), plan_n: drawn('plan_n') },
  };
}
