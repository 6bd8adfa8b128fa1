import { DIMENSIONS, FOOT_M, type DimensionName, type System } from '../api/fields';
import { chainage, fixed, plainChainage, signed, whole } from './format';
import { NotUnderstood, parse } from './parse';
import { found, onStretch } from './stations.svelte';
import { system, unitLength } from './system.svelte';

/** The front end's side of the one table of dimensions: how a value is shown and how it is typed. */
export type Value = number | string;

function shownIn(dimension: DimensionName, s: System) {
  const d = DIMENSIONS[dimension];
  if (s === 'metric' || d.us === null) return { unit: d.unit, factor: d.scale, digits: d.digits, most: 6 };
  const { unit, scale, feet, digits, most } = d.us;
  // The foot of old surveys is told from the other, where it stands by itself.
  return { unit: s === 'us_survey' && unit === 'ft' ? 'ftUS' : unit, factor: scale / FOOT_M[s] ** feet, digits, most };
}

/** From SI to what is shown. */
export const factorOf = (dimension: DimensionName): number => shownIn(dimension, system()).factor;
export const unitOf = (dimension: DimensionName): string => shownIn(dimension, system()).unit;

/** A value as it stands in a field, without its unit. */
export function show(dimension: DimensionName, value: Value): string {
  if (typeof value === 'string') return value;
  if (dimension === 'chainage') return chainage(value);
  if (dimension === 'station') return plainChainage(value);
  const { factor, digits, most } = shownIn(dimension, system());
  const scaled = value * factor;
  if (digits === null) return String(Number(scaled.toFixed(most)));
  return DIMENSIONS[dimension].signed ? signed(scaled, digits) : fixed(scaled, digits);
}

/** A number of a dimension as a person reads it, without its unit; of whole ones each three digits stand apart. */
export function figure(dimension: DimensionName, value: number, digits?: number): string {
  const shown = shownIn(dimension, system());
  const places = digits ?? shown.digits;
  if (places === null) return show(dimension, value);
  const scaled = value * shown.factor;
  return shown.digits === 0 && places === 0 ? whole(scaled) : fixed(scaled, places);
}

/** The same with its unit. */
export function told(dimension: DimensionName, value: number, digits?: number): string {
  return `${figure(dimension, value, digits)} ${unitOf(dimension)}`.trimEnd();
}

/** A slope as its practice writes it: 1 : 2, or 2 : 1 (horizontal to vertical) in feet. */
export const steepness = (run: number): string =>
  system() === 'metric' ? `1 : ${show('batter', run)}` : `${show('batter', run)} : 1`;

/** In few digits, without its unit: 10, 32.8. */
export const few = (dimension: DimensionName, value: number): string =>
  String(Number((value * factorOf(dimension)).toFixed(1)));

/** The same with its unit. */
export const brief = (dimension: DimensionName, value: number): string =>
  `${few(dimension, value)} ${unitOf(dimension)}`.trimEnd();

/** A speed that something allows: whole ones of the unit shown, never more than it is. */
export const allowed = (kmh: number): string => String(Math.floor(kmh * factorOf('speed') + 1e-6));

/** With a sign before what is more than nothing, without its unit. */
export function change(dimension: DimensionName, value: number, digits?: number): string {
  const text = figure(dimension, value, digits);
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** How far apart rows of a table stand until another distance is typed. [m] */
export const usualInterval = (): number => (system() === 'metric' ? 20 : 50 * unitLength());

/** How a line lies to the ground, as a person would say it. */
export function heightInWords(metres: number): string {
  const text = figure('length', Math.abs(metres));
  if (Number(text) === 0) return 'on the ground';
  return `${text} ${unitOf('length')} ${metres < 0 ? 'below' : 'above'} ground`;
}

/** Other ways to write a unit. */
const SPELLINGS: [RegExp, string][] = [
  [/kmh$/, 'km/h'],
  [/mi\/h$/, 'mph'],
  [/yd3$/, 'yd³'],
  [/m3$/, 'm³'],
];

/** What was typed, made SI; throws NotUnderstood with a reason that can stand beside the field. */
export function understand(dimension: DimensionName, text: string): Value {
  const d = DIMENSIONS[dimension];
  if (dimension === 'chainage') return chainageOf(text);
  if (d.typed === 'text') {
    if (dimension !== 'currency') return text.trim();
    const code = text.trim().toUpperCase();
    if (!/^[A-Z]{3}$/.test(code)) throw new NotUnderstood('A currency is a code of three letters, as EUR.');
    return code;
  }
  if (d.typed !== 'number' || d.us === null) return parse(text, d.typed);
  // Either system's unit may stand behind the number.
  const bare = SPELLINGS.reduce((t, [from, to]) => t.replace(from, to), text.replace(/\s/g, '').toLowerCase());
  const feet = system() === 'metric' ? 'us' : system();
  for (const s of ['metric', feet] as const) {
    const { unit: written, factor } = shownIn(dimension, s);
    const unit = written.replace(/\s/g, '').toLowerCase();
    if (unit && bare.endsWith(unit)) return parse(bare.slice(0, -unit.length), 'number') / factor;
  }
  return parse(text, 'number') / factorOf(dimension);
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
