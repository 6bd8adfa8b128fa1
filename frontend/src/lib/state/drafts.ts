import type { Kept } from './drawing.svelte';

const key = (project: number) => `delgrun-centreline-${project}`;

// A line of many IPs is not written with every move of the pointer.
const REST_MS = 250;
let waiting: ReturnType<typeof setTimeout> | undefined;

/** Keep what is typed of a project's centreline on this machine, once the hand rests; forget it where nothing is. */
export function keepDraft(project: number, kept: Kept | null): void {
  clearTimeout(waiting);
  waiting = undefined;
  if (kept) waiting = setTimeout(() => localStorage.setItem(key(project), JSON.stringify(kept)), REST_MS);
  else localStorage.removeItem(key(project));
}

/** What was typed in a page that was closed; null where nothing was. */
export function keptDraft(project: number): Kept | null {
  try {
    const found = JSON.parse(localStorage.getItem(key(project)) ?? 'null') as Kept | null;
    return found && (found.rows === null || Array.isArray(found.rows)) ? found : null;
  } catch {
    // What somebody else wrote there is no draft.
    return null;
  }
}
