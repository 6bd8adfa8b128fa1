/** What a line can be said to be, with its mark. */
export const STATUSES = [
  ['draft', 'a draft', ''],
  ['checking', 'for checking', '?'],
  ['final', 'final', '✓'],
] as const;

export type Status = (typeof STATUSES)[number][0];

export const marked = (status: Status) => STATUSES.find(([id]) => id === status)!;
