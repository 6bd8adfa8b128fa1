import type { Schemas } from '../../api/client';
import { fieldsOfRows } from '../../lib/fields/columns';
import { figure } from '../../lib/units';

// Transitions by their parameter: A² = R L; between two arcs L over the difference of their curvatures.

type Row = Schemas['CentrelineIpIn'];

const SIDES = { transition_in_m: 'A in', transition_out_m: 'A out' } as const;
type Side = keyof typeof SIDES;
const isSide = (key: string): key is Side => key in SIDES;
const millimetres = (v: number) => Math.round(1000 * v) / 1000;

/** How much the curvature changes along a transition of IP i. [1/m] */
function bent(all: Row[], i: number, side: Side, radius = all[i]?.radius_m ?? 0): number {
  const before = side === 'transition_in_m' && all[i]?.joins ? (all[i - 1]?.radius_m ?? 0) : 0;
  return radius > 0 ? Math.abs(1 / radius - (before > 0 ? 1 / before : 0)) : 0;
}

/** Columns of transitions as parameters instead of lengths. */
export function byParameter<C extends { key: string; title: string; show: (row: unknown, i: number) => string }>(
  columns: C[],
  all: () => Row[],
): C[] {
  return columns.map((c) => {
    const side = c.key;
    if (!isSide(side)) return c;
    const show = (row: unknown, i: number) => {
      const length = (row as Record<Side, number>)[side];
      const change = bent(all(), i, side);
      return c.show(row, i) === '' || !change ? '' : figure('length', Math.sqrt(length / change));
    };
    return { ...c, title: SIDES[side], show };
  });
}

/** Pasted parameters become lengths, in `rows` from row `at` and column `key` on. */
export function fromParameters(rows: Row[], at: number, key: string, cells: string[][]): void {
  const order = fieldsOfRows('centreline').map((f) => f.name);
  for (const side of Object.keys(SIDES) as Side[]) {
    const column = order.indexOf(side) - order.indexOf(key);
    cells.forEach((line, k) => {
      const row = rows[at + k]!;
      if (line[column]?.trim()) row[side] = millimetres(row[side] ** 2 * bent(rows, at + k, side));
    });
  }
}

/** What a typed cell changes: a parameter gives its length, and stays when the radius is typed. */
export function typedAsParameter(all: Row[], i: number, key: string, value: number): Partial<Row> {
  if (isSide(key)) return { [key]: millimetres(value ** 2 * bent(all, i, key)) };
  if (key !== 'radius_m') return { [key]: value };
  const own = all[i]!;
  const stays = (side: Side) => {
    const now = bent(all, i, side);
    return now ? millimetres((own[side] / now) * bent(all, i, side, value)) : own[side];
  };
  return {
    radius_m: value,
    transition_in_m: stays('transition_in_m'),
    transition_out_m: stays('transition_out_m'),
  };
}
