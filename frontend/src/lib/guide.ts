import { marked } from 'marked';
import { worded } from './system.svelte';

/** The pages of the guide in their order: a step's has its id. */
export const PAGES = [
  ['survey', 'Survey'],
  ['centreline', 'Centreline'],
  ['limits', 'Limits'],
  ['section', 'Section'],
  ['along', 'Along the road'],
  ['line', 'Grade line'],
  ['sections', 'Sections'],
  ['search', 'Search'],
  ['view', 'The screen'],
  ['sheets', 'Sheets'],
  ['projects', 'Projects'],
] as const;

export type PageId = (typeof PAGES)[number][0];

const TEXTS = import.meta.glob<string>('../../../docs/guide/*.md', { query: '?raw', import: 'default' });

/** A page as it is written, in the words of whoever reads. */
export async function written(page: PageId): Promise<string> {
  return worded(await TEXTS[`../../../docs/guide/${page}.md`]!());
}

/** The same as HTML: our own text, nothing of a file or a person is in it. */
export async function shown(page: PageId): Promise<string> {
  return marked.parse(await written(page), { async: false });
}
