import type { Schemas } from '../../api/client';
import type { Work } from './work.svelte';

export type ShownSection = Schemas['SectionFigures'];
export type Reported = Schemas['Reported'];
/** One section and those that are pinned, many small ones, or the road in space. */
export type View = 'section' | 'sheet' | 'space';

/** So many sections are pinned at most; so many stand on a sheet. */
const [MOST_PINS, MOST_ON_SHEET] = [8, 40];

/** Walking through the sections of a line. */
export class Walk {
  view = $state<View>('section');
  /** Chainages of pinned sections: they follow whatever is dragged. */
  pins = $state.raw<number[]>([]);
  /** How much heights are exaggerated; ground to each side, 0: as far as the works go. [m] */
  times = $state(1);
  beside_m = $state(0);
  /** From the air, or from a driver's eye. */
  eye = $state<'air' | 'driver'>('air');
  /** The section from which somebody went to the map, to come back to. */
  cameFrom = $state<number | null>(null);

  pin(at: number): void {
    if (this.pins.some((p) => Math.abs(p - at) < 0.005)) this.free(at);
    else this.pins = [...this.pins, at].slice(-MOST_PINS).sort((a, b) => a - b);
  }

  free(at: number): void {
    this.pins = this.pins.filter((p) => Math.abs(p - at) >= 0.005);
  }
}

/** Where sections of the line are reported. */
export const reportedOf = (w: Work): Reported[] => w.figures.after?.products.stations ?? [];

/** What is at a chainage, if a section is reported there. */
export const whatIsAt = (w: Work, at: number): string =>
  reportedOf(w).find((r) => Math.abs(r.chainage_m - at) < 0.006)?.what ?? '';

/** Go on to the next section, or back to the one before. */
export function step(w: Work, way: 1 | -1): void {
  const [all, at] = [reportedOf(w), w.selection.plumb];
  const next = way > 0 ? all.find((r) => r.chainage_m > at + 1e-7) : all.findLast((r) => r.chainage_m < at - 1e-7);
  if (!next) return;
  w.selection.pinned = true;
  w.selection.setPlumb(next.chainage_m);
  w.selection.axes.reveal(next.chainage_m);
}

/** Sections of the stretch on screen, as many as a sheet holds. */
export function onSheet(w: Work): Reported[] {
  const [a, b] = w.selection.axes.domain;
  return reportedOf(w)
    .filter((r) => r.chainage_m >= a && r.chainage_m <= b)
    .slice(0, MOST_ON_SHEET);
}

/** How many of the stretch a sheet does not hold. */
export function beyondSheet(w: Work): number {
  const [a, b] = w.selection.axes.domain;
  const all = reportedOf(w).filter((r) => r.chainage_m >= a && r.chainage_m <= b);
  return Math.max(all.length - MOST_ON_SHEET, 0);
}
