import { longView } from '../lib/deck/long';
import { ALL } from '../lib/deck/tracks';
import type { Shown } from '../lib/state/shown';
import { STEPS } from '.';

/** What the page shows of a project. */
export const SHOWN: Shown = { tracks: ALL, steps: STEPS, long: longView };
