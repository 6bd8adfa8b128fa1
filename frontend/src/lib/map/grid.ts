import Projection from 'ol/proj/Projection';
import TileGrid from 'ol/tilegrid/TileGrid';
import { TILE_PIXELS } from '../state/tiles';

/** The project's own plane, in metres east and north; no place on a globe is meant. */
export const PLANE = new Projection({ code: 'delgrun:plane', units: 'm', extent: [-1e8, -1e8, 1e8, 1e8] });

const [COARSEST, FINEST] = [-8, 8];

/** The grid of tiles, as the server has it: zoom z has pixels of 2**-z metres. */
export const GRID = new TileGrid({
  origin: [0, 0],
  tileSize: TILE_PIXELS,
  resolutions: Array.from({ length: FINEST - COARSEST + 1 }, (_, i) => 2 ** -(i + COARSEST)),
});

/** Zoom, column and row of ours for a tile of the map library, whose rows count southwards from the origin. */
export function placeOf([z, x, y]: readonly number[]): [zoom: number, column: number, row: number] {
  return [z! + COARSEST, x!, -y! - 1];
}

/**
 * Interval of the contours drawn at a zoom: the ground's own, or every fifth, or every twenty-fifth of them, so that
 * on usual slopes they are some pixels apart.
 */
export function intervalAt(zoom: number, own: number): number {
  let interval = own;
  for (let turn = 0; turn < 3; turn++) {
    if (2 ** zoom * interval >= 0.7) return interval;
    interval *= 5;
  }
  return 0;
}
