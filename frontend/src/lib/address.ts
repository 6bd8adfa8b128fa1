import { SHEETS, type SheetName } from '../api/fields';

/** Where a page of a project stands: its step and its grade line, so that a reload or a way back finds them again. */
export interface Address {
  step: string | null;
  line: string | null;
}

export function addressOf(project: number, step: string, line: string | null): string {
  return `#/projects/${project}/${step}${line ? `/${line}` : ''}`;
}

/** Of a line's sheets of one kind, on a page of their own. */
export const sheetAddress = (project: number, sheet: SheetName, line: string): string =>
  `#/projects/${project}/sheet/${sheet}/${line}`;

/** Pages that have the window to themselves: a checker's summary, and sheets. */
export interface Aside {
  project: number | null;
  summary: string | null;
  sheet: { name: SheetName; slot: string } | null;
}

export function asideIn(hash: string): Aside {
  const [, project, summary, name, slot] =
    /^#\/projects\/(\d+)(?:\/summary\/(line-\d+)|\/sheet\/([a-z-]+)\/(line-\d+))?/.exec(hash) ?? [];
  const sheet = SHEETS.find((s) => s.name === name);
  return {
    project: Number(project ?? 0) || null,
    summary: summary ?? null,
    sheet: sheet && slot ? { name: sheet.name, slot } : null,
  };
}

export function addressIn(hash: string): Address {
  const [, step, line] = /^#\/projects\/\d+\/([a-z]+)(?:\/(line-\d+))?/.exec(hash) ?? [];
  return { step: step ?? null, line: line ?? null };
}
