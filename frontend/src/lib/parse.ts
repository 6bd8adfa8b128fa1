import { FOOT_M } from '../api/fields';
import { never } from './never';
import { system, unitLength } from './system.svelte';

/** What a person may type, made SI. Throws with a reason that can stand beside the field. */

export type Kind = 'length' | 'chainage' | 'grade' | 'number' | 'text';

/** Kilometres and metres, and stations of a hundred feet: which of the two is told by the digits behind the plus. */
const CHAINAGE = /^([+-]?)(\d+)\+(\d{3}|\d{2})(\.\d+)?(?=$|[\s+-])/;

export class NotUnderstood extends Error {}

export function parse(text: string, kind: Kind): number {
  const plain = text
    .trim()
    .replaceAll('−', '-')
    .replaceAll('\u2009', '')
    .replace(/,(?=\d{3}\b)/g, '')
    .replace(',', '.');
  if (plain === '') throw new NotUnderstood('Type a value.');
  return kind === 'grade' ? parseGrade(plain) : parseSum(plain, kind);
}

function parseGrade(text: string): number {
  const ratio = /^([+-]?)\s*1\s*:\s*(\d+(?:\.\d+)?)$/.exec(text);
  if (ratio) {
    const over = Number(ratio[2]);
    if (over === 0) throw new NotUnderstood('1:0 is a wall, not a grade.');
    return (ratio[1] === '-' ? -1 : 1) / over;
  }
  return parseSum(text.replace(/%$/, ''), 'number') / 100;
}

/** Metres in a foot; of surveys where these are shown. */
const foot = (): number => FOOT_M[system() === 'us_survey' ? 'us_survey' : 'us'];

/** Terms joined by + and -, each with an optional unit; a number without one is in the unit that is shown. */
function parseSum(text: string, kind: Kind): number {
  const at = kind === 'chainage' ? CHAINAGE.exec(text) : null;
  const [station, unit] = at?.[3]!.length === 2 ? [100, foot()] : [1000, 1];
  let total = at ? (at[1] === '-' ? -1 : 1) * (Number(at[2]) * station + Number(at[3]! + (at[4] ?? ''))) * unit : 0;
  let rest = text.slice(at?.[0].length ?? 0).replace(/\s+/g, '');
  let first = at === null;
  const bare = kind === 'number' ? 1 : unitLength();
  while (rest !== '') {
    const term = /^([+-]?)(\d+(?:\.\d*)?|\.\d+)(mm|cm|km|mi|m|ft|')?/.exec(rest);
    if (!term || (!first && term[1] === '')) throw new NotUnderstood(`“${text}” is not understood: ${hint(kind)}.`);
    if (term[3] && kind === 'number') throw new NotUnderstood(`“${text}” has a unit where none fits.`);
    total += (term[1] === '-' ? -1 : 1) * Number(term[2]) * (term[3] ? metresIn(term[3]) : bare);
    rest = rest.slice(term[0].length);
    first = false;
  }
  return total;
}

function metresIn(unit: string): number {
  return { mm: 0.001, cm: 0.01, km: 1000, mi: 5280 * foot(), m: 1 }[unit] ?? foot();
}

function hint(kind: Kind): string {
  switch (kind) {
    case 'chainage':
      return system() === 'metric' ? 'try 1+234.5 or 1234.5' : 'try 12+34.56 or 1234.56';
    case 'grade':
      return 'try 3.2% or 1:12';
    case 'length':
      return 'try 120, 150 ft, 45 m or 100+20';
    case 'number':
      return 'type a number';
    case 'text':
      return 'type some words';
    default:
      return never(kind);
  }
}
