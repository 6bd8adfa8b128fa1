import { SvelteSet } from 'svelte/reactivity';

export const TRACKS: [string, string][] = [
  ['strip', 'Strip'],
  ['bends', 'Bends'],
  ['use', 'Use of limits'],
  ['mass', 'Mass haul'],
  ['ips', 'IP table'],
];
const KEY = 'delgrun-hidden-tracks';
let shared: { has: (name: string) => boolean; toggle: (name: string) => void } | null = null;

/** Which tracks are hidden, remembered in this browser. */
export function hiddenTracks() {
  if (shared) return shared;
  const names = new SvelteSet<string>(JSON.parse(localStorage.getItem(KEY) ?? '[]') as string[]);
  shared = {
    has: (name) => names.has(name),
    toggle: (name) => {
      if (!names.delete(name)) names.add(name);
      localStorage.setItem(KEY, JSON.stringify([...names]));
    },
  };
  return shared;
}
