import TileLayer from 'ol/layer/Tile';
import TileGrid from 'ol/tilegrid/TileGrid';
import TileImage from 'ol/source/TileImage';
import type { Schemas } from '../../api/client';
import { GRID, PLANE, placeOf } from './grid';
import { TILE_PIXELS } from '../state/tiles';

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

  look(of: Backdrop | null, grid: string, shown: boolean, project: number): void {
    const own = of && ownOf(of);
    this.layer.setVisible(shown && (!!own || !!of?.address));
    if (own) {
      this.layer.setOpacity(of.opacity);
      this.#own(own, project);
      return;
    }
    if (!of?.address) return;
    this.layer.setOpacity(of.opacity);
    this.layer.setExtent(undefined);
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

  /** Tiles that the server keeps, down to the finest there is; finer than that they are enlarged. */
  #own({ number, extent, finest }: Own, project: number): void {
    const from = `${project} ${number}`;
    if (from === this.#from) return;
    this.#from = from;
    this.layer.setExtent(extent);
    const tileGrid = new TileGrid({
      origin: [0, 0],
      tileSize: TILE_PIXELS,
      resolutions: GRID.getResolutions().filter((resolution) => resolution >= 2 ** -finest),
    });
    this.layer.setSource(
      new TileImage({
        projection: PLANE,
        tileGrid,
        transition: 0,
        tileUrlFunction: (at) => {
          const [zoom, column, row] = placeOf(at);
          return `/api/projects/${project}/land/picture?picture=${number}&zoom=${zoom}&column=${column}&row=${row}`;
        },
      }),
    );
  }
}

interface Own {
  number: number;
  extent: [number, number, number, number];
  finest: number;
}

/** A picture of one's own, where there is one. */
export function ownOf(of: Backdrop): Own | null {
  const { picture, west_m, south_m, east_m, north_m, finest } = of;
  if (picture === null || west_m === null || south_m === null || east_m === null || north_m === null) return null;
  return { number: picture, extent: [west_m, south_m, east_m, north_m], finest: finest ?? 0 };
}

const NOTHING = { address: '', layers: '', picture: null, picture_name: '', finest: null };
/** No picture, at the first strength. */
export const NO_PICTURE: Backdrop = {
  ...NOTHING,
  opacity: 0.8,
  west_m: null,
  south_m: null,
  east_m: null,
  north_m: null,
};
