import { heightInWords, told } from '../../units';
import { grade } from '../../format';
import type { TrackKind } from '../kind';
import LongSection from '../LongSection.svelte';
import LongTools from '../LongTools.svelte';
import { drawLongSection } from '../long';
import { valueAt } from '../../lookup';

/** The long section: ground, grade line, other lines, failures; its handles stand over it. It takes the room left. */
export const long: TrackKind = {
  id: 'long',
  name: 'Long section',
  needs: ['line', 'uses', 'controls'],
  draw: (v, w) => drawLongSection(v, w),
  readout: (w) => {
    const [t, f, at] = [w.still, w.shownFigures, w.selection.plumb];
    if (!t) return '';
    const ground = valueAt(t.arrays.ground_chainage!, t.arrays.ground_level!, at);
    const level = f?.arrays.line_chainage ? valueAt(f.arrays.line_chainage, f.arrays.line_level!, at) : NaN;
    const parts = [Number.isNaN(ground) ? 'no ground' : `ground ${told('level', ground, 2)}`];
    if (!Number.isNaN(level)) {
      parts.push(`line ${told('level', level, 2)}`);
      if (!Number.isNaN(ground)) parts.push(heightInWords(level - ground));
      const s = w.figures.section;
      if (s?.at_m === at && typeof s.shown.grade === 'number') parts.push(grade(s.shown.grade));
    }
    return parts.join(', ');
  },
  tools: LongTools,
  component: LongSection,
};
