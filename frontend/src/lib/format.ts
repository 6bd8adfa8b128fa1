/** Numbers as a person reads them. Inside everything is SI; a percentage exists only here and where one is typed. */

import { written } from './stations.svelte';
import { system, unitLength } from './system.svelte';

const MINUS = '−';

export function fixed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  return (value < 0 && Number(text) !== 0 ? MINUS : '') + text;
}

export function signed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  if (Number(text) === 0) return text;
  return (value < 0 ? MINUS : '+') + text;
}

/** A chainage as it is written along the road: with the number of its stretch where it is written twice. */
export function chainage(at: number, digits = 2): string {
  const { value, stretch } = written(at);
  return plainChainage(value, digits) + (stretch === null ? '' : ` (${stretch})`);
}

/** 1234.5 m is 1+234.50; in feet, stations of a hundred: 1234.56 ft is 12+34.56. */
export function plainChainage(value: number, digits = 2): string {
  const [station, wide] = system() === 'metric' ? [1000, 3] : [100, 2];
  const scale = 10 ** digits;
  const all = Math.round((Math.abs(value) / unitLength()) * scale);
  const many = Math.floor(all / (station * scale));
  const rest = (all - many * station * scale) / scale;
  const [whole, part] = rest.toFixed(digits).split('.');
  return `${value < 0 && all > 0 ? MINUS : ''}${many}+${whole!.padStart(wide, '0')}${part ? `.${part}` : ''}`;
}

/** What IP i of a line is called, whose last is `last`. */
export const ipName = (i: number, last: number): string => (i === 0 ? 'Start' : i === last ? 'End' : `IP ${i}`);

export function grade(value: number, digits = 2): string {
  return `${signed(100 * value, digits)} %`;
}

/** Whole units with thin spaces between thousands. */
export function whole(value: number): string {
  const text = Math.round(Math.abs(value))
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, '\u2009');
  return (Math.round(value) < 0 ? MINUS : '') + text;
}

export function signedWhole(value: number): string {
  return Math.round(value) > 0 ? `+${whole(value)}` : whole(value);
}

export function percent(share: number, digits = 1): string {
  return `${fixed(100 * share, digits)} %`;
}

/** Megabytes, for progress. */
export function megabytes(bytes: number): string {
  return fixed(bytes / 1e6, 1);
}
