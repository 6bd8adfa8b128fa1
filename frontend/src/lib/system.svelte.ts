import { FOOT_M, WORDS_IN_FEET, type System } from '../api/fields';

/** What numbers are shown in: the project's own system, or the one a person reads every project in. */
const KEY = 'delgrun-units';
export const SYSTEMS: [System, string][] = [
  ['metric', 'metres'],
  ['us', 'feet'],
  ['us_survey', 'US survey feet'],
];

const known = (text: unknown): System | null => SYSTEMS.find(([name]) => name === text)?.[0] ?? null;

let own = $state<System | null>(known(globalThis.localStorage?.getItem(KEY)));
let ofProject = $state<System>('metric');

export const system = (): System => own ?? ofProject;
export const ownSystem = (): System | null => own;

/** Read all projects in a system, or each in its own (null). */
export function readIn(chosen: System | null): void {
  own = chosen;
  if (chosen) globalThis.localStorage?.setItem(KEY, chosen);
  else globalThis.localStorage?.removeItem(KEY);
}

/** The project that is open is in this system. */
export function openIn(theirs: string | undefined): void {
  ofProject = known(theirs) ?? 'metric';
}

/** Metres in a unit of length as shown. */
export function unitLength(): number {
  const s = system();
  return s === 'metric' ? 1 : FOOT_M[s];
}

// What stands in quotation marks is somebody's own.
const WORD = new RegExp(
  `“[^”]*”|${Object.keys(WORDS_IN_FEET)
    .map((word) => `(?<![\\w-])${word}(?![\\w-])`)
    .join('|')}`,
  'gi',
);

/** Words of the program in those of the practice that is shown. */
export function worded(text: string): string {
  if (system() === 'metric') return text;
  return text.replace(WORD, (word) => {
    const other = (WORDS_IN_FEET as Record<string, string>)[word.toLowerCase()];
    if (!other) return word;
    return word[0] === word[0]!.toUpperCase() ? other[0]!.toUpperCase() + other.slice(1) : other;
  });
}
