import TileLayer from 'ol/layer/Tile';
import ImageTile from 'ol/source/ImageTile';
import { inks } from '../deck/ink';
import type { Compared } from '../state/land.svelte';
import { GRID, placeOf, PLANE } from './grid';
import { rgb } from './shade';
import { fetched } from '../state/tiles';

/** Differences up to this are told apart by their depth of colour. [m] */
export function deepest(of: Compared['of']): number {
  const most = Math.max(of?.most_above_m ?? 0, -(of?.most_below_m ?? 0));
  return Math.min(Math.max(most, 0.02), 2);
}

// Smaller differences are none.
const NONE_M = 0.0005;

/**
 * A picture of one pixel a cell, north up: raised ground in one ink, lowered in another.
 *
 * @param most what has the deepest colour [m]
 */
export function tinted(level: ArrayLike<number>, cells: number, most: number, up: string, down: string): ImageData {
  const image = new ImageData(cells, cells);
  const [raised, lowered] = [rgb(up), rgb(down)];
  for (let r = 0; r < cells; r++) {
    for (let k = 0; k < cells; k++) {
      const z = level[r * cells + k]!;
      if (Number.isNaN(z) || Math.abs(z) < NONE_M) continue;
      const out = 4 * ((cells - 1 - r) * cells + k);
      image.data.set(z > 0 ? raised : lowered, out);
      image.data[out + 3] = Math.round(255 * (0.25 + 0.65 * Math.min(Math.abs(z) / most, 1)));
    }
  }
  return image;
}

/** Where the ground is above or below the one it is held against. */
export class DifferenceLayer {
  readonly layer: TileLayer;
  #of: Compared | null = null;

  constructor() {
    const source = new ImageTile({
      projection: PLANE,
      tileGrid: GRID,
      transition: 0,
      loader: async (z, x, y) => {
        const [zoom, column, row] = placeOf([z, x, y]);
        const canvas = document.createElement('canvas');
        const of = this.#of;
        if (!of) return canvas;
        const { revision, slot } = of.against;
        const { arrays, cells } = await fetched(of.ground.project, 'difference/tile', {
          revision: of.ground.revision,
          against_revision: revision,
          ...(slot ? { against_slot: slot } : {}),
          zoom,
          column,
          row,
        });
        canvas.width = canvas.height = cells;
        const { fill, cut } = inks();
        canvas.getContext('2d')!.putImageData(tinted(arrays.level!, cells, deepest(of.of), fill, cut), 0, 0);
        return canvas;
      },
    });
    this.layer = new TileLayer({ source, visible: false });
  }

  look(of: Compared | null): void {
    this.#of = of?.of ? of : null;
    this.layer.setVisible(this.#of !== null);
    this.layer.getSource()?.refresh();
  }
}
