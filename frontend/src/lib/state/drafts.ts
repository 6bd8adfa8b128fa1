import type { Kept } from './drawing.svelte';

const key = (project: number) => `delgrun-centreline-${project}`;

/** Keep what is typed of a project's centreline on this machine, or forget it where nothing is. */
export function keepDraft(project: number, kept: Kept | null): void {
  if (kept) localStorage.setItem(key(project), JSON.stringify(kept));
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
