import type { Plan } from '../state/planned';
import PointerInteraction from 'ol/interaction/Pointer';
import type MapBrowserEvent from 'ol/MapBrowserEvent';
import type { Drawing } from '../state/drawing.svelte';

type ToPixel = (place: [number, number]) => number[] | null;

// So near a handle it is taken hold of. [px]
const REACH = 9;

function nearest(places: [number, number][], pixel: number[], at: ToPixel): number | null {
  let [best, found] = [REACH, null as number | null];
  places.forEach((place, i) => {
    const [x, y] = at(place) ?? [Infinity, Infinity];
    const away = Math.max(Math.abs(x! - pixel[0]!), Math.abs(y! - pixel[1]!));
    if (away <= best) [best, found] = [away, i];
  });
  return found;
}

/** Halfway between IPs: what is dragged there becomes one. */
export function middles(plan: Plan): [number, number][] {
  return plan.ips.slice(1).map((b, i) => {
    const a = plan.ips[i]!;
    return [(a.easting_m + b.easting_m) / 2, (a.northing_m + b.northing_m) / 2];
  });
}

/** The IP whose handle is nearest to a pixel, where one is near enough. */
export function ipAt(plan: Plan | null, pixel: number[], at: ToPixel): number | null {
  return (
    plan &&
    nearest(
      plan.ips.map((ip) => [ip.easting_m, ip.northing_m]),
      pixel,
      at,
    )
  );
}

/** Takes IPs of the centreline along with the pointer; one taken between two IPs is a new one. */
export function draggingIps(drawing: () => Drawing | null): PointerInteraction {
  let held: number | null = null;
  const over = (e: MapBrowserEvent): { ip: number | null; between: number | null } => {
    const plan = drawing()?.plan ?? null;
    const at: ToPixel = (p) => e.map.getPixelFromCoordinate(p);
    const ip = ipAt(plan, e.pixel, at);
    const open = ip === null && plan && (!plan.saved || plan.current !== null);
    return { ip, between: open ? nearest(middles(plan), e.pixel, at) : null };
  };
  return new PointerInteraction({
    handleDownEvent: (e) => {
      const { ip, between } = over(e);
      const d = drawing();
      held = ip ?? (between === null ? null : between + 1);
      if (held === null || !d) return false;
      d.take(held);
      if (between !== null) d.insertAt(held, ...(e.coordinate as [number, number]));
      return true;
    },
    handleDragEvent: (e) => {
      if (held !== null) drawing()?.move(held, ...(e.coordinate as [number, number]));
    },
    handleMoveEvent: (e) => {
      const target = e.map.getTargetElement();
      const { ip, between } = over(e);
      if (target) target.style.cursor = ip !== null ? 'move' : between !== null ? 'copy' : '';
    },
    handleUpEvent: () => {
      held = null;
      drawing()?.release();
      return false;
    },
  });
}
