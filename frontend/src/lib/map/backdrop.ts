import TileLayer from 'ol/layer/Tile';
import TileWMS from 'ol/source/TileWMS';
import type { Schemas } from '../../api/client';
import { GRID, PLANE } from './grid';

export type Backdrop = Schemas['Backdrop'];
/** The made-up picture that ships with the program; it answers as a Web Map Service does. */
export const STANDIN = '/standins/aerial';

/** A picture from a Web Map Service, under everything else. */
export class BackdropLayer {
  readonly layer = new TileLayer({ visible: false });
  #from = '';

  /** @param grid the project's coordinate system, as services are asked for it; empty: local */
  look(of: Backdrop | null, grid: string, shown: boolean): void {
    this.layer.setVisible(shown && !!of?.address);
    if (!of?.address) return;
    this.layer.setOpacity(of.opacity);
    const from = `${of.address} ${of.layers} ${grid}`;
    if (from === this.#from) return;
    this.#from = from;
    this.layer.setSource(
      new TileWMS({
        url: of.address,
        projection: PLANE,
        tileGrid: GRID,
        transition: 0,
        params: { VERSION: '1.1.1', LAYERS: of.layers, SRS: grid || 'LOCAL', FORMAT: 'image/png' },
      }),
    );
  }
}
