import PointerInteraction from 'ol/interaction/Pointer';
import type MapBrowserEvent from 'ol/MapBrowserEvent';
import type { Schemas } from '../../api/client';

/** A centreline as it is typed: its IPs, how it lies (null where it can't), whether it is saved so. */
export interface Plan {
  ips: Schemas['CentrelineIpIn'][];
  line: number[][] | null;
  saved: boolean;
  current: number | null;
}

// So near a handle it is taken hold of. [px]
const REACH = 9;

/** The IP whose handle is nearest to a pixel, where one is near enough. */
export function ipAt(
  plan: Plan | null,
  pixel: number[],
  at: (place: [number, number]) => number[] | null,
): number | null {
  let [best, found] = [REACH, null as number | null];
  plan?.ips.forEach((ip, i) => {
    const [x, y] = at([ip.easting_m, ip.northing_m]) ?? [Infinity, Infinity];
    const away = Math.max(Math.abs(x! - pixel[0]!), Math.abs(y! - pixel[1]!));
    if (away <= best) [best, found] = [away, i];
  });
  return found;
}

/** Takes IPs of the centreline that is typed along with the pointer. */
export function draggingIps(
  plan: () => Plan | null,
  take: (ip: number) => void,
  move: (ip: number, easting_m: number, northing_m: number) => void,
): PointerInteraction {
  let held: number | null = null;
  const over = (e: MapBrowserEvent): number | null => ipAt(plan(), e.pixel, (p) => e.map.getPixelFromCoordinate(p));
  return new PointerInteraction({
    handleDownEvent: (e) => {
      held = over(e);
      if (held !== null) take(held);
      return held !== null;
    },
    handleDragEvent: (e) => {
      const [easting, northing] = e.coordinate as [number, number];
      if (held !== null) move(held, Math.round(easting * 1000) / 1000, Math.round(northing * 1000) / 1000);
    },
    handleMoveEvent: (e) => {
      const target = e.map.getTargetElement();
      if (target) target.style.cursor = over(e) === null ? '' : 'move';
    },
    handleUpEvent: () => {
      held = null;
      return false;
    },
  });
}
