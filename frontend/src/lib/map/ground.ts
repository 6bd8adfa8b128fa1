import { NAMES } from './painted';
import { figure, few } from '../units';
import TileLayer from 'ol/layer/Tile';
import VectorTileLayer from 'ol/layer/VectorTile';
import type RenderFeature from 'ol/render/Feature';
import type CanvasTileLayerRenderer from 'ol/renderer/canvas/TileLayer';
import ImageTile from 'ol/source/ImageTile';
import VectorTileSource from 'ol/source/VectorTile';
import Fill from 'ol/style/Fill';
import RegularShape from 'ol/style/RegularShape';
import Stroke from 'ol/style/Stroke';
import Style from 'ol/style/Style';
import Text from 'ol/style/Text';
import type Tile from 'ol/Tile';
import { getCacheKey } from 'ol/tilecoord';
import TileState from 'ol/TileState';
import type VectorTile from 'ol/VectorTile';
import { FONT, inks } from '../deck/ink';
import { contourFeatures, surveyFeatures } from './contours';
import { GRID, intervalAt, placeOf, PLANE } from './grid';
import { shaded } from './shade';
import type { Shading } from '../state/map.svelte';
import { TILE_PIXELS, type LandTile, type TileStore } from '../state/tiles';

/** How the ground is drawn. */
export interface GroundLook {
  shading: Shading;
  smooth: boolean;
  interval: number;
  range: [number, number];
  /** Usual distance between surveyed points [m]. */
  spacing: number;
}

/** What of the ground is switched on. */
export interface GroundShows {
  contours: boolean;
  breaklines: boolean;
  points: boolean;
  triangles: boolean;
}

// Points nearer together than this could not be told apart. [px]
const POINTS_APART = 16;

type Place = ReturnType<typeof placeOf>;
type Draws = (tile: LandTile, interval: number) => RenderFeature[];

/** Sources whose tiles are drawn anew where they go by another name; the old ones stand until the new ones are there. */
class NamedImages extends ImageTile {
  name = '';
  override getKey(): string {
    return this.name;
  }
}
class NamedVectors extends VectorTileSource<RenderFeature> {
  name = '';
  override getKey(): string {
    return this.name;
  }
}

/**
 * Give a layer's source another name: tiles that `hold` still are not drawn anew.
 *
 * @param here whether what is new about a tile has come already: such tiles are made at once
 * @returns when they are made
 */
async function rename(
  layer: TileLayer | VectorTileLayer,
  name: string,
  hold: (place: Place) => boolean,
  here: (place: Place) => boolean,
): Promise<void> {
  const source = layer.getSource() as NamedImages | NamedVectors;
  const cache = (layer.getRenderer() as CanvasTileLayerRenderer | null)?.getTileCache();
  const before = source.name;
  source.name = name;
  const kept: [key: string, tile: Tile][] = [];
  cache?.forEach((tile: Tile, key: string) => kept.push([key, tile]));
  const made: Promise<void>[] = [];
  for (const [key, tile] of kept) {
    const [z, x, y] = tile.tileCoord as [number, number, number];
    if (tile.getState() !== TileState.LOADED || key !== getCacheKey(source, before, z, x, y)) continue;
    const [other, place] = [getCacheKey(source, name, z, x, y), placeOf([z, x, y])];
    if (hold(place)) {
      if (cache!.containsKey(other)) cache!.remove(other);
      cache!.remove(key);
      cache!.set(other, tile);
    } else if (here(place) && !cache!.containsKey(other)) {
      const fresh = source.getTile(z, x, y, window.devicePixelRatio, PLANE) as Tile;
      cache!.set(other, fresh);
      made.push(loaded(fresh));
    }
  }
  await Promise.all(made);
}

function loaded(tile: Tile): Promise<void> {
  return new Promise((done) => {
    const look = (): void => {
      if (tile.getState() < TileState.LOADED) return;
      tile.removeEventListener('change', look);
      done();
    };
    tile.addEventListener('change', look);
    tile.load();
  });
}

/** What was drawn of a tile, as long as the tile is kept: of most of them a change leaves the drawing as it was. */
class Drawn<T> {
  readonly #kept = new WeakMap<LandTile, { as: string; drawing: T }>();

  get(tile: LandTile, as: string, draw: () => T): T {
    const kept = this.#kept.get(tile);
    if (kept?.as === as) return kept.drawing;
    const drawing = draw();
    this.#kept.set(tile, { as, drawing });
    return drawing;
  }
}

/** The ground's layers: shade below, contours over it, breaklines and points on top. All take the same tiles. */
export class GroundLayers {
  #look: GroundLook = { shading: 'hill', smooth: false, interval: 1, range: [0, 1], spacing: 1 };
  readonly relief: TileLayer;
  readonly contours: VectorTileLayer;
  readonly survey: VectorTileLayer;
  #drawn = '';
  #marks = '';
  #ground = '';
  #shows: GroundShows = { contours: true, breaklines: true, points: true, triangles: false };

  constructor(private readonly tiles: TileStore) {
    const shades = new Drawn<HTMLCanvasElement>();
    this.relief = new TileLayer({
      source: new NamedImages({
        projection: PLANE,
        tileGrid: GRID,
        transition: 0,
        loader: async (z, x, y) => {
          const place = placeOf([z, x, y]);
          const tile = await this.#tile(place);
          const { shading, range } = this.#look;
          const ink = inks().relief;
          // Only shades by level depend on what the levels of all the ground are.
          const as = JSON.stringify([shading, ink, shading === 'level' ? range : null]);
          return shades.get(tile, as, () => {
            const cell = (2 ** -place[0] * TILE_PIXELS) / (tile.cells - 2);
            return shaded(tile.arrays.level!, tile.cells, cell, shading, ink, range);
          });
        },
      }),
    });
    const [lines, marks] = [new Drawn<RenderFeature[]>(), new Drawn<RenderFeature[]>()];
    this.contours = this.#vector((tile, interval) => {
      const { smooth } = this.#look;
      return lines.get(tile, `${interval} ${smooth}`, () => contourFeatures(tile, interval, smooth));
    });
    this.contours.setStyle(contourStyle());
    this.survey = this.#vector((tile) => marks.get(tile, '', () => surveyFeatures(tile)));
    this.survey.setStyle((f, resolution) => this.#surveyStyle(f as RenderFeature, resolution));
  }

  get all(): [TileLayer, VectorTileLayer, VectorTileLayer] {
    return [this.relief, this.contours, this.survey];
  }

  /**
   * Where nothing but the ground is another one, what of it holds still stays as it is drawn.
   *
   * @param ground its key
   * @returns when the map is to be rendered
   */
  async look(look: GroundLook, ground: string, theme: string, shows: GroundShows): Promise<void> {
    this.#look = look;
    this.relief.setVisible(look.shading !== 'none');
    this.contours.setVisible(shows.contours);
    this.survey.setVisible(shows.breaklines || shows.points || shows.triangles);
    this.#shows = shows;
    const marks = JSON.stringify([shows, look.spacing.toPrecision(2), theme]);
    if (marks !== this.#marks) this.survey.changed();
    this.#marks = marks;
    const { shading, smooth, interval, range } = look;
    const drawn = JSON.stringify([shading, smooth, interval, shading === 'level' ? range : null, theme]);
    const before = this.#ground;
    if (drawn === this.#drawn && ground === before) return;
    const at = (place: Place): [...Place, number] => [...place, intervalAt(place[0], interval)];
    const alike = drawn === this.#drawn;
    const hold = (place: Place): boolean => alike && this.tiles.isSame(before, ground, ...at(place));
    const here = (place: Place): boolean => alike && this.tiles.has(ground, ...at(place));
    if (!alike) this.contours.setStyle(contourStyle());
    [this.#drawn, this.#ground] = [drawn, ground];
    // Each its own name: of tiles that go by the same one the library's queue loads one after the other.
    await Promise.all(this.all.map((layer, i) => rename(layer, `${i} ${drawn} ${ground}`, hold, here)));
  }

  #tile(place: Place): ReturnType<TileStore['get']> {
    return this.tiles.get(...place, intervalAt(place[0], this.#look.interval));
  }

  #vector(draws: Draws): VectorTileLayer {
    const source: NamedVectors = new NamedVectors({
      projection: PLANE,
      tileGrid: GRID,
      // The zoom that the shades have: one tile serves all layers.
      zDirection: 0,
      transition: 0,
      tileUrlFunction: (at) => `${at.join()} ${source.name}`,
      tileLoadFunction: (loaded) => {
        const tile = loaded as VectorTile<RenderFeature>;
        tile.setLoader(() => {
          const place = placeOf(tile.tileCoord);
          this.#tile(place)
            .then((land) => tile.setFeatures(draws(land, intervalAt(place[0], this.#look.interval))))
            .catch(() => tile.onError());
        });
      },
    });
    return new VectorTileLayer({ source, renderMode: 'hybrid', declutter: NAMES, renderBuffer: 40 });
  }

  #surveyStyle(f: RenderFeature, resolution: number): Style | undefined {
    if (f.get('kind') === 'breakline') return this.#shows.breaklines ? breaklineStyle() : undefined;
    if (f.get('kind') === 'side') return this.#shows.triangles ? sideStyle() : undefined;
    const apart = this.#look.spacing / resolution;
    return this.#shows.points && apart >= POINTS_APART ? pointStyle(f.get('level') as number, apart > 60) : undefined;
  }
}

function halo(text: string, colour: string, paper: string, more: object = {}): Text {
  const [fill, stroke] = [new Fill({ color: colour }), new Stroke({ color: paper, width: 3 })];
  return new Text({ font: FONT, text, fill, stroke, ...more });
}

/** Contours thin, every fifth heavier with its level along it, the right way up. */
function contourStyle(): (f: unknown) => Style {
  const ink = inks();
  const minor = new Style({ stroke: new Stroke({ color: ink.contour, width: 1 }) });
  const main = new Map<number, Style>();
  return (feature) => {
    const f = feature as RenderFeature;
    if (!f.get('main')) return minor;
    const level = f.get('level') as number;
    let style = main.get(level);
    if (!style) {
      const says = few('length', level);
      style = new Style({
        stroke: new Stroke({ color: ink.contourMain, width: 1.6 }),
        text: halo(says, ink.faint, ink.paper, { placement: 'line', maxAngle: 0.5, repeat: 260 }),
      });
      main.set(level, style);
    }
    return style;
  };
}

function sideStyle(): Style {
  return new Style({ stroke: new Stroke({ color: inks().other, width: 0.6 }) });
}

function breaklineStyle(): Style {
  return new Style({ stroke: new Stroke({ color: inks().ground, width: 1.4 }) });
}

function pointStyle(level: number, written: boolean): Style {
  const ink = inks();
  return new Style({
    image: new RegularShape({
      points: 4,
      radius: 4,
      radius2: 0,
      stroke: new Stroke({ color: ink.ground, width: 1.2 }),
    }),
    ...(written ? { text: halo(figure('level', level, 2), ink.faint, ink.paper, { offsetY: -9 }) } : {}),
  });
}
