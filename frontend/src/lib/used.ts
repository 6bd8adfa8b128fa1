import { percent } from './format';

/** Beyond this a share says nothing any more: cover of 0.02 m where 0.90 m are asked is "4500 %". */
const MOST = 9.99;

/** How much of a limit is used: a share, or, where that says nothing, what `brief` says in the limit's own unit. */
export function used(use: number | null | undefined, brief = ''): string {
  if (use !== null && use !== undefined && use <= MOST) return percent(use, 0);
  return brief || '–';
}
