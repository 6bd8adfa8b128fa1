import { never } from './never';

/** What a person may type, made SI. Throws with a reason that can stand beside the field. */

export type Kind = 'length' | 'chainage' | 'grade' | 'number' | 'text';

const FOOT = 0.3048;
const CHAINAGE = /^([+-]?)(\d+)\+(\d{3}(?:\.\d+)?)/;

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

/** Terms joined by + and -, each with an optional unit. */
function parseSum(text: string, kind: Kind): number {
  let rest = text.replace(/\s+/g, '');
  let total = 0;
  let first = true;
  while (rest !== '') {
    if (first && kind === 'chainage') {
      const at = CHAINAGE.exec(rest);
      if (at) {
        total = (at[1] === '-' ? -1 : 1) * (Number(at[2]) * 1000 + Number(at[3]));
        rest = rest.slice(at[0].length);
        first = false;
        continue;
      }
    }
    const term = /^([+-]?)(\d+(?:\.\d*)?|\.\d+)(mm|cm|km|m|ft)?/.exec(rest);
    if (!term || (!first && term[1] === '')) throw new NotUnderstood(`“${text}” is not understood: ${hint(kind)}.`);
    if (term[3] && kind === 'number') throw new NotUnderstood(`“${text}” has a unit where none fits.`);
    const unit = { mm: 0.001, cm: 0.01, km: 1000, m: 1, ft: FOOT }[term[3] ?? 'm'] ?? 1;
    total += (term[1] === '-' ? -1 : 1) * Number(term[2]) * unit;
    rest = rest.slice(term[0].length);
    first = false;
  }
  return total;
}

function hint(kind: Kind): string {
  switch (kind) {
    case 'chainage':
      return 'try 1+234.5 or 1234.5';
    case 'grade':
      return 'try 3.2% or 1:12';
    case 'length':
      return 'try 120, 150 ft or 100+20';
    case 'number':
      return 'type a number';
    case 'text':
      return 'type some words';
    default:
      return never(kind);
  }
}
