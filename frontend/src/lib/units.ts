import { DIMENSIONS, type DimensionName } from '../api/fields';
import { chainage, fixed, signed } from './format';
import { NotUnderstood, parse } from './parse';

/** The front end's side of the one table of dimensions: how a value is shown and how it is typed. */
export type Value = number | string;

/** A value as it stands in a field, without its unit. */
export function show(dimension: DimensionName, value: Value): string {
  if (typeof value === 'string') return value;
  if (dimension === 'chainage') return chainage(value);
  const d = DIMENSIONS[dimension];
  const scaled = value * d.scale;
  if (d.digits === null) return String(Number(scaled.toFixed(6)));
  return d.signed ? signed(scaled, d.digits) : fixed(scaled, d.digits);
}

/** What was typed, made SI; throws NotUnderstood with a reason that can stand beside the field. */
export function understand(dimension: DimensionName, text: string): Value {
  const d = DIMENSIONS[dimension];
  if (d.typed !== 'text') return parse(text, d.typed);
  if (dimension !== 'currency') return text.trim();
  const code = text.trim().toUpperCase();
  if (!/^[A-Z]{3}$/.test(code)) throw new NotUnderstood('A currency is a code of three letters, as EUR.');
  return code;
}

export const unitOf = (dimension: DimensionName): string => DIMENSIONS[dimension].unit;
