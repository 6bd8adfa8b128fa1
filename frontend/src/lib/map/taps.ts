import type MapBrowserEvent from 'ol/MapBrowserEvent';
import type { Tool } from '../state/hand.svelte';
import { changeRows } from '../state/rows';
import type { SpotMark } from '../state/spots.svelte';
import type { Work } from '../state/work.svelte';
import { placeAt } from './road';

type Place = [number, number];

/** What the map is to whom clicks it: the tool in hand, and what is shown there. */
export interface Tapped {
  tool: Tool | 'look';
  /** Metres of a pixel. */
  pixel: number;
  /** Whether the ground is changed by hand here, and suspects are shown. */
  hunts: boolean;
  road: boolean;
}

/** A click uses the tool in hand; else it takes a suspect, or puts the plumb line at the nearest chainage. */
export function tap(w: Work, e: MapBrowserEvent, on: Tapped): void {
  const [x, y] = e.coordinate as Place;
  if (on.tool === 'spot') return mark(w, [x, y], 10 * on.pixel);
  if (on.tool !== 'look') return void w.hand.click(x, y, 12 * on.pixel);
  const near = on.hunts
    ? w.suspects.find(({ s }) => Math.hypot(s.easting_m - x, s.northing_m - y) < 10 * on.pixel)
    : undefined;
  if (near) w.hunt.pick(near.i, e.originalEvent.ctrlKey || e.originalEvent.shiftKey);
  else if (on.road) plumb(w, [x, y]);
}

/** A level is written where there is none yet; one that is there is taken away. */
function mark(w: Work, [e, n]: Place, reach: number): void {
  const near = (m: SpotMark) => Math.hypot(m.easting_m - e, m.northing_m - n) < reach;
  const fresh = { easting_m: Math.round(1000 * e) / 1000, northing_m: Math.round(1000 * n) / 1000 };
  w.act(
    changeRows<SpotMark>(w, 'spots', 'the spot level', (rows) =>
      rows.some(near) ? rows.filter((m) => !near(m)) : [...rows, fresh],
    ),
  );
}

function plumb(w: Work, [x, y]: Place): void {
  const still = w.still;
  if (!still) return;
  const cs = still.arrays.plan_chainage!;
  let [best, least] = [0, Infinity];
  for (let i = 0; i < cs.length; i++) {
    const p = placeAt(still, cs[i]!);
    const d = Math.hypot(p[0] - x, p[1] - y);
    if (d < least) [least, best] = [d, i];
  }
  w.selection.setPlumb(cs[best]!);
  w.selection.axes.reveal(cs[best]!);
  w.selection.pinned = true;
}

/** Keys of the tool in hand, which then are nobody else's. */
export function toolKey(w: Work, tool: Tool | 'look', e: KeyboardEvent): void {
  if (tool === 'look') return;
  if (tool === 'draw') {
    if (e.key === 'Backspace') w.drawing.takeBack();
    else if (e.key === 'Enter' || e.key === 'Escape') w.hand.take('look');
    else return;
    e.preventDefault();
  } else if (e.key === 'Enter') void w.hand.endLine('');
  else if (e.key === 'Escape') w.hand.drop();
  else return;
  e.stopPropagation();
}
