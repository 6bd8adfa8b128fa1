/** What an IP may snap to while it is dragged: chainages (with what is there), and levels at the chainage it has then. */
export interface SnapTo {
  chainages: [at: number, says: string][];
  levels: (at: number) => [level: number, says: string][];
}

/** A point is drawn to what is nearer than this. [px] */
const NEAR_PX = 9;

interface Point {
  chainage_m: number;
  level_m: number;
}

/**
 * A place drawn to the nearest chainage and then the nearest level, each if it is near enough on screen; and to what.
 *
 * @param perMetre pixels for a metre of road, and for a metre of height
 * @param free which of the two may change
 */
export function snapped(
  at: Point,
  to: SnapTo,
  perMetre: { along: number; up: number },
  free: { chainage: boolean; level: boolean },
): Point & { says: string } {
  const said: string[] = [];
  let { chainage_m, level_m } = at;
  if (free.chainage) {
    const found = nearest(chainage_m, to.chainages, perMetre.along);
    if (found) {
      chainage_m = found[0];
      said.push(found[1]);
    }
  }
  if (free.level) {
    const found = nearest(level_m, to.levels(chainage_m), perMetre.up);
    if (found) {
      level_m = found[0];
      said.push(found[1]);
    }
  }
  return { chainage_m, level_m, says: said.join(', ') };
}

function nearest(value: number, all: [number, string][], perMetre: number): [number, string] | null {
  let best: [number, string] | null = null;
  for (const one of all) {
    const away = Math.abs(one[0] - value) * perMetre;
    if (away <= NEAR_PX && (!best || away < Math.abs(best[0] - value) * perMetre)) best = one;
  }
  return best;
}
