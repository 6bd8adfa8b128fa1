import { grade } from '../format';

/** How a dragged IP may move: freely, only up and down, only along, or on its grade in or out. */
export type Way = 'free' | 'upright' | 'level' | 'in' | 'out';

/** Where an IP stood when it was taken, and its grades; null where it has none on a side. */
export interface Taken {
  chainage_m: number;
  level_m: number;
  grade_in: number | null;
  grade_out: number | null;
}

export interface Keys {
  shift: boolean;
  ctrl: boolean;
  alt: boolean;
}

/** Shift keeps to the axis that the pointer went further on (in pixels); Ctrl to the grade in, with Shift the one out. */
export function wayOf({ shift, ctrl }: Pick<Keys, 'shift' | 'ctrl'>, dx: number, dy: number, taken: Taken): Way {
  if (ctrl) {
    const way = shift ? 'out' : 'in';
    return (shift ? taken.grade_out : taken.grade_in) === null ? 'free' : way;
  }
  if (!shift) return 'free';
  return Math.abs(dx) > Math.abs(dy) ? 'level' : 'upright';
}

/** The place of the IP where the pointer is, kept to its way. */
export function onWay(way: Way, taken: Taken, at: { chainage_m: number; level_m: number }): typeof at {
  const along = at.chainage_m - taken.chainage_m;
  switch (way) {
    case 'free':
      return at;
    case 'upright':
      return { chainage_m: taken.chainage_m, level_m: at.level_m };
    case 'level':
      return { chainage_m: at.chainage_m, level_m: taken.level_m };
    case 'in':
      return { chainage_m: at.chainage_m, level_m: taken.level_m + (taken.grade_in ?? 0) * along };
    case 'out':
      return { chainage_m: at.chainage_m, level_m: taken.level_m + (taken.grade_out ?? 0) * along };
  }
}

export function wordsOf(way: Way, taken: Taken): string {
  switch (way) {
    case 'free':
      return '';
    case 'upright':
      return 'up and down only';
    case 'level':
      return 'along only';
    case 'in':
      return `on the grade in, ${grade(taken.grade_in ?? 0)}`;
    case 'out':
      return `on the grade out, ${grade(taken.grade_out ?? 0)}`;
  }
}
