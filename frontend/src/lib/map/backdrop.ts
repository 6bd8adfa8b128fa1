import TileLayer from 'ol/layer/Tile';
import TileImage from 'ol/source/TileImage';
import type { Schemas } from '../../api/client';
import { GRID, PLANE } from './grid';
import { TILE_PIXELS } from './tiles';

export type Backdrop = Schemas['Backdrop'];
/** The made-up picture that ships with the program; it answers as a Web Map Service does. */
export const STANDIN = '/standins/aerial';

/**
 * What a Web Map Service is asked for a picture of a box (OGC, WMS 1.1.1, GetMap).
 *
 * @param grid the project's coordinate system; empty: local
 */
export function mapOf(of: Backdrop, grid: string, box: readonly number[]): string {
  const query = new URLSearchParams({
    SERVICE: 'WMS',
    VERSION: '1.1.1',
    REQUEST: 'GetMap',
    LAYERS: of.layers,
    STYLES: '',
    SRS: grid || 'LOCAL',
    BBOX: box.join(),
    WIDTH: String(TILE_PIXELS),
    HEIGHT: String(TILE_PIXELS),
    FORMAT: 'image/png',
    TRANSPARENT: 'TRUE',
  });
  return `${of.address}${of.address.includes('?') ? '&' : '?'}${query}`;
}

/** A picture from a Web Map Service, under everything else. */
export class BackdropLayer {
  readonly layer = new TileLayer({ visible: false });
  #from = '';

  look(of: Backdrop | null, grid: string, shown: boolean): void {
    this.layer.setVisible(shown && !!of?.address);
    if (!of?.address) return;
    this.layer.setOpacity(of.opacity);
    const from = `${of.address} ${of.layers} ${grid}`;
    if (from === this.#from) return;
    this.#from = from;
    this.layer.setSource(
      new TileImage({
        projection: PLANE,
        tileGrid: GRID,
        transition: 0,
        tileUrlFunction: (at) => mapOf(of, grid, GRID.getTileCoordExtent(at)),
      }),
    );
  }
}
