import { DIMENSIONS, type DimensionName } from '../api/fields';
import { chainage, fixed, plainChainage, signed } from './format';
import { NotUnderstood, parse } from './parse';
import { found, onStretch } from './stations.svelte';

/** The front end's side of the one table of dimensions: how a value is shown and how it is typed. */
export type Value = number | string;

/** A value as it stands in a field, without its unit. */
export function show(dimension: DimensionName, value: Value): string {
  if (typeof value === 'string') return value;
  if (dimension === 'chainage') return chainage(value);
  if (dimension === 'station') return plainChainage(value);
  const d = DIMENSIONS[dimension];
  const scaled = value * d.scale;
  if (d.digits === null) return String(Number(scaled.toFixed(6)));
  return d.signed ? signed(scaled, d.digits) : fixed(scaled, d.digits);
}

/** Units that may stand behind a number which is no length, and what one of them is in the dimension's own. */
const OTHER_UNITS: Partial<Record<DimensionName, Record<string, number>>> = {
  speed: { 'km/h': 1, kmh: 1, mph: 1.609344 },
  k: { 'm/%': 1, 'ft/%': 0.3048 },
};

/** What was typed, made SI; throws NotUnderstood with a reason that can stand beside the field. */
export function understand(dimension: DimensionName, text: string): Value {
  const d = DIMENSIONS[dimension];
  if (dimension === 'chainage') return chainageOf(text);
  for (const [unit, factor] of Object.entries(OTHER_UNITS[dimension] ?? {})) {
    const bare = text.trim().toLowerCase();
    if (bare.endsWith(unit)) return parse(bare.slice(0, -unit.length), 'number') * factor;
  }
  if (d.typed !== 'text') return parse(text, d.typed);
  if (dimension !== 'currency') return text.trim();
  const code = text.trim().toUpperCase();
  if (!/^[A-Z]{3}$/.test(code)) throw new NotUnderstood('A currency is a code of three letters, as EUR.');
  return code;
}

/** A chainage from what is written there; where that is written twice, the number of its stretch stands behind it. */
function chainageOf(text: string): number {
  const marked = /^(.*)\((\d+)\)\s*$/.exec(text.trim());
  const value = parse(marked ? marked[1]! : text, 'chainage');
  if (marked) {
    const at = onStretch(value, Number(marked[2]));
    if (at === null) throw new NotUnderstood(`There is no stretch ${marked[2]} of this road.`);
    return at;
  }
  const all = found(value);
  if (all.length > 1)
    throw new NotUnderstood(`“${text.trim()}” is written twice: ${all.map((at) => chainage(at)).join(' or ')}.`);
  if (!all.length) throw new NotUnderstood(`“${text.trim()}” is written nowhere along this road.`);
  return all[0]!;
}

export const unitOf = (dimension: DimensionName): string => DIMENSIONS[dimension].unit;
