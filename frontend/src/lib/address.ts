/** Where a page of a project stands: its step and its grade line, so that a reload or a way back finds them again. */
export interface Address {
  step: string | null;
  line: string | null;
}

export function addressOf(project: number, step: string, line: string | null): string {
  return `#/projects/${project}/${step}${line ? `/${line}` : ''}`;
}

export function addressIn(hash: string): Address {
  const [, step, line] = /^#\/projects\/\d+\/([a-z]+)(?:\/(line-\d+))?/.exec(hash) ?? [];
  return { step: step ?? null, line: line ?? null };
}
