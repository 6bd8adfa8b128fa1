import { describe, expect, it } from 'vitest';
import { NO_BEND, type Draft, type PlanRow } from './planned';
import { spliced, stretchOf } from './stretch';

const TANGENT = 8;
const ARC = 15;

/** A stand-in for the server: a bend of fixed lengths at each corner, judged by its own and its neighbours' angles. */
function draft(ips: PlanRow[], startM: number): Draft {
  const e: number[] = [ips[0]!.easting_m];
  const n: number[] = [ips[0]!.northing_m];
  const [bends, starts]: [Draft['bends'], number[]] = [[], []];
  let s = startM;
  const angle = (i: number): number =>
    i > 0 && i < ips.length - 1 && ips[i]!.radius_m > 0
      ? Math.atan2(ips[i + 1]!.northing_m - ips[i]!.northing_m, ips[i + 1]!.easting_m - ips[i]!.easting_m) -
        Math.atan2(ips[i]!.northing_m - ips[i - 1]!.northing_m, ips[i]!.easting_m - ips[i - 1]!.easting_m)
      : 0;
  // One that joins is as it is by what the one before is.
  const own = (i: number): number => angle(i) + (ips[i]?.joins ? own(i - 1) : 0);
  ips.forEach((ip, i) => {
    if (i) s += Math.hypot(ip.easting_m - ips[i - 1]!.easting_m, ip.northing_m - ips[i - 1]!.northing_m);
    if (!angle(i)) return;
    starts.push(e.length);
    e.push(ip.easting_m, ip.easting_m + own(i));
    n.push(ip.northing_m, ip.northing_m - own(i));
    bends.push({
      bend: { ip: i, from_chainage_m: s - TANGENT, tangent_in_m: TANGENT, deflection: own(i) },
      speed: { ip: i },
    } as Draft['bends'][number]);
    s += ARC - 2 * TANGENT;
  });
  const last = ips[ips.length - 1]!;
  bends.forEach(
    (row, k) => (row.marks = [`${Math.max(bends[k - 1]?.bend.deflection ?? 0, bends[k + 1]?.bend.deflection ?? 0)}`]),
  );
  e.push(last.easting_m);
  n.push(last.northing_m);
  const arrays = {
    plan_e: Float64Array.from(e),
    plan_n: Float64Array.from(n),
    plan_starts: Float64Array.from(starts),
    ground_chainage: Float64Array.from([0, 1]),
  };
  return { problem: null, remedies: [], misfits: [], ips: null, advice: [], length_m: s - startM, bends, arrays };
}

describe('a stretch of a long centreline, asked about by itself', () => {
  // Corners, straights and bends that join, some of each.
  let seed = 7;
  const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
  const row = (i: number): PlanRow => {
    const corner = random() < 0.75 && i > 0 && i < 23;
    const joins = corner && random() < 0.3;
    return {
      ...NO_BEND,
      easting_m: 100 * i + 40 * random(),
      northing_m: 80 * random(),
      radius_m: corner ? 50 : 0,
      joins,
    };
  };

  it('gives what all of the line gives, wherever an IP moves', () => {
    for (let line = 0; line < 40; line++) {
      const ips = Array.from({ length: 24 }, (_, i) => row(i));
      for (let i = 1; i < 24; i++) if (!ips[i - 1]!.radius_m) ips[i]!.joins = false;
      const before = draft(ips, 1000);
      for (let moved = 0; moved < 24; moved++) {
        const after = ips.map((ip, i) => (i === moved ? { ...ip, northing_m: ip.northing_m - 25 } : ip));
        const all = draft(after, 1000);
        const stretch = stretchOf(before, 1000, after, moved);
        const found = spliced(before, 1000, stretch, draft(stretch.ips, stretch.startM));
        expect([...found.arrays.plan_e!]).toEqual([...all.arrays.plan_e!].map((v) => expect.closeTo(v, 9)));
        expect([...found.arrays.plan_n!]).toEqual([...all.arrays.plan_n!].map((v) => expect.closeTo(v, 9)));
        expect(found.length_m).toBeCloseTo(all.length_m!, 9);
        const moves = all.bends.filter((b) => b.bend.ip <= (stretch.to ?? 99));
        expect(found.bends.map((b) => b.bend.ip)).toEqual(all.bends.map((b) => b.bend.ip));
        moves.forEach((b, k) => {
          expect(found.bends[k]!.bend.from_chainage_m).toBeCloseTo(b.bend.from_chainage_m, 9);
          expect(found.bends[k]!.marks.map(Number)[0]).toBeCloseTo(Number(b.marks[0]), 9);
        });
        if (stretch.to !== null && moved > 4) expect(stretch.ips.length).toBeLessThan(24);
      }
    }
  });
});
