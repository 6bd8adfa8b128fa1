import OlMap from 'ol/Map';
import View from 'ol/View';
import { defaults as interactionsOf } from 'ol/interaction/defaults';
import type BaseLayer from 'ol/layer/Base';
import type { Work } from '../state/work.svelte';
import { GRID, PLANE } from './grid';

type Place = [number, number];

/** A map of plane coordinates with these layers, in an element. */
export function mapIn(target: HTMLElement, layers: BaseLayer[]): OlMap {
  return new OlMap({
    target,
    layers,
    controls: [],
    interactions: interactionsOf({ altShiftDragRotate: false, pinchRotate: false }),
    view: new View({
      projection: PLANE,
      center: [0, 0],
      resolution: 1,
      maxResolution: GRID.getResolution(0),
      minResolution: 2 ** -9,
      constrainResolution: false,
      enableRotation: false,
    }),
  });
}

/** The box that is looked at first: the road in its steps, else all the ground. */
export function wholeBox(w: Work, typed: { easting_m: number; northing_m: number }[]): number[] | null {
  const line = w.still?.arrays;
  if ((line || typed.length > 1) && w.selection.step !== 'survey') {
    const e = [...(line?.plan_e ?? []), ...typed.map((ip) => ip.easting_m)];
    const n = [...(line?.plan_n ?? []), ...typed.map((ip) => ip.northing_m)];
    return [Math.min(...e) - 70, Math.min(...n) - 70, Math.max(...e) + 70, Math.max(...n) + 70];
  }
  const b = w.land.facts?.of?.box_m;
  return b ? [b[0]!, b[1]!, b[3]!, b[4]!] : null;
}

/** Go to a place, near enough to see it well; nothing moves where it is seen well already. */
export function goTo(view: View, [e, n]: Place): void {
  const box = view.calculateExtent();
  const seen = e > box[0]! && e < box[2]! && n > box[1]! && n < box[3]!;
  if (seen && (view.getResolution() ?? 1) <= 0.5) return;
  view.setCenter([e, n]);
  view.setResolution(Math.min(view.getResolution() ?? 1, 0.15));
}
