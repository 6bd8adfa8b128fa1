import { ROWS } from '../../../api/fields';
import { LIMIT_NAMES, rangesOf, type LimitRange } from '../../state/ranges';
import { worded } from '../../system.svelte';
import { told } from '../../units';
import type { TrackKind } from '../kind';
import RangeBars from '../RangeBars.svelte';

const FIELDS = ROWS.ranges.fields;

/** What a range sets, in words. */
export function rangeInWords(range: LimitRange): string {
  const set = LIMIT_NAMES.flatMap((name) => {
    const value = range[name];
    const field = FIELDS.find((f) => f.name === name)!;
    return value === null ? [] : [`${worded(field.label)} ${told(field.dimension, value)}`];
  });
  return set.join(', ') || 'as around it';
}

/** Where other limits hold: bars that are dragged, whole or by their ends. */
export const ranges: TrackKind = {
  id: 'ranges',
  name: 'Ranges',
  title: () => 'Ranges with limits of their own (drag a bar or its ends)',
  height: 48,
  when: (w) => rangesOf(w).length > 0,
  needs: [],
  component: RangeBars,
  readout: (w) => {
    const at = w.selection.plumb;
    const here = rangesOf(w).filter(({ range }) => range.from_m <= at && at <= range.to_m);
    return here.length
      ? here.map(({ range }) => range.words || rangeInWords(range)).join('; ')
      : 'limits of the whole length';
  },
};
