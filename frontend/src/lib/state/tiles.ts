import { ApiError, type Schemas } from '../../api/client';
import { KeptArrays, type Arrays } from '../../api/binary';

export const TILE_PIXELS = 256;

/** A tile of the ground as it is sent: coordinates are less its south-west `corner`. */
export interface LandTile {
  corner: [number, number];
  cells: number;
  arrays: Arrays;
}

/** Whose ground is meant: a project as of a revision; `key` names what the ground is made of. */
export interface Ground {
  project: number;
  revision: number;
  key: string;
}

const MOST_KEPT = 240;
const MOST_NAMES = 4 * MOST_KEPT;
const MOST_AHEAD = 12;
const AGAIN_MS = 700;
const BINARY = { headers: { Accept: 'application/octet-stream' } };

/** Tiles that have come, by ground and place; asked for once, however many layers want them. */
export class TileStore {
  ground: Ground | null = null;
  #kept = new Map<string, Promise<LandTile>>();
  /** Of the tile that was asked for last. */
  #zoom = 0;

  /** @param interval contours at a zoom, in metres; 0 for none */
  get(zoom: number, column: number, row: number, interval: number): Promise<LandTile> {
    const ground = this.ground;
    if (!ground) return Promise.reject(new Error('There is no ground yet.'));
    this.#zoom = zoom;
    const key = `${ground.key} ${zoom} ${column} ${row} ${interval}`;
    const kept = this.#kept.get(key);
    // The newest last, so that the oldest go first.
    this.#kept.delete(key);
    const tile =
      kept ??
      fetched(ground.project, 'tile', {
        revision: ground.revision,
        zoom,
        column,
        row,
        interval_m: interval,
      });
    this.#kept.set(key, tile);
    tile.catch(() => this.#kept.delete(key));
    for (const old of this.#kept.keys()) {
      // One tile may be that of several grounds.
      const many = this.#kept.size > MOST_KEPT && new Set(this.#kept.values()).size > MOST_KEPT;
      if (!many && this.#kept.size <= MOST_NAMES) break;
      this.#kept.delete(old);
    }
    return tile;
  }

  /** Whether a tile of a ground, by its key, has been asked for. */
  has(ground: string, zoom: number, column: number, row: number, interval: number): boolean {
    return this.#kept.has(`${ground} ${zoom} ${column} ${row} ${interval}`);
  }

  /** Whether a tile is the same one in two grounds, by their keys. */
  isSame(one: string, other: string, zoom: number, column: number, row: number, interval: number): boolean {
    const place = `${zoom} ${column} ${row} ${interval}`;
    const kept = this.#kept.get(`${one} ${place}`);
    return kept !== undefined && kept === this.#kept.get(`${other} ${place}`);
  }

  /**
   * Ask for tiles that are touched where the ground changes within these boxes (west, south, east, north), all at
   * once: the newest of the zoom that is looked at. One that does not come is asked for when it is drawn.
   */
  async ahead(ground: Ground, boxes: number[][]): Promise<void> {
    const before = this.ground;
    if (!before || before.project !== ground.project) return;
    const wanted = [...this.#kept.keys()].map(placed).filter((p) => {
      return (
        p.of === before.key && p.zoom === this.#zoom && touches(p, boxes) && !this.#kept.has(`${ground.key} ${p.at}`)
      );
    });
    const places = wanted.slice(-MOST_AHEAD).filter((p) => p.interval === wanted.at(-1)!.interval);
    if (!places.length) return;
    const query = new URLSearchParams({
      revision: String(ground.revision),
      zoom: String(this.#zoom),
      interval_m: String(places[0]!.interval),
      places: places.map((p) => `${p.column},${p.row}`).join(';'),
    });
    const response = await fetch(`/api/projects/${ground.project}/land/tiles?${query}`, BINARY).catch(() => null);
    if (!response?.ok) return;
    const { tiles, arrays } = new KeptArrays().unpack<{ tiles: Omit<LandTile, 'arrays'>[] }>(
      await response.arrayBuffer(),
    );
    const own: Arrays[] = tiles.map(() => ({}));
    for (const [name, values] of Object.entries(arrays)) {
      const [i, of] = name.split('.') as [string, string];
      own[Number(i)]![of] = values;
    }
    places.forEach((p, i) =>
      this.#kept.set(`${ground.key} ${p.at}`, Promise.resolve({ ...tiles[i]!, arrays: own[i]! })),
    );
  }

  /** The ground has changed within these boxes only: all other tiles hold still. */
  change(ground: Ground, boxes: number[][] | null): void {
    const before = this.ground;
    this.ground = ground;
    if (!before || before.project !== ground.project || !boxes) return;
    for (const [key, tile] of [...this.#kept]) {
      const place = placed(key);
      if (place.of !== before.key || touches(place, boxes)) continue;
      const now = `${ground.key} ${place.at}`;
      this.#kept.delete(now);
      this.#kept.set(now, tile);
    }
  }
}

interface Placed {
  of: string;
  /** All of its name but the ground. */
  at: string;
  zoom: number;
  column: number;
  row: number;
  interval: number;
}

/** What the key of a tile says. */
function placed(key: string): Placed {
  const [of, ...at] = key.split(' ') as [string, string, string, string, string];
  const [zoom, column, row, interval] = at.map(Number) as [number, number, number, number];
  return { of, at: at.join(' '), zoom, column, row, interval };
}

/** Whether contours and shade of a tile, which reach a cell beyond it, touch one of these boxes. */
function touches({ zoom, column, row }: Placed, boxes: number[][]): boolean {
  const side = TILE_PIXELS * 2 ** -zoom;
  const [west, south, margin] = [column * side, row * side, side / 64];
  return boxes.some(
    ([w, s, e, n]) =>
      w! <= west + side + margin && e! >= west - margin && s! <= south + side + margin && n! >= south - margin,
  );
}

/** A tile of the ground, or of what is worked out with it; a server that is away is waited for. */
export async function fetched(
  project: number,
  what: 'tile' | 'difference/tile',
  asked: Record<string, string | number>,
): Promise<LandTile> {
  const query = new URLSearchParams(Object.entries(asked).map(([k, v]) => [k, String(v)]));
  for (;;) {
    let response: Response;
    try {
      response = await fetch(`/api/projects/${project}/land/${what}?${query}`, BINARY);
    } catch {
      response = new Response(null, { status: 503 });
    }
    if (response.ok) return new KeptArrays().unpack<LandTile>(await response.arrayBuffer());
    if (response.status !== 503) throw new ApiError(response.status, { message: 'A piece of the map did not come.' });
    // The server is away for a moment.
    await new Promise((again) => setTimeout(again, AGAIN_MS));
  }
}

type GroundChange = Schemas['ChangeFigures'];

/** Boxes of the changes that only one of two grounds has. */
export function boxesOf(before: GroundChange[], after: GroundChange[]): number[][] {
  const name = (c: GroundChange) => `${c.slot} ${c.made_at} ${c.what}`;
  const [had, has] = [new Set(before.map(name)), new Set(after.map(name))];
  return [...before.filter((c) => !has.has(name(c))), ...after.filter((c) => !had.has(name(c)))]
    .map((c) => c.box_m)
    .filter((b) => b.length === 4);
}

/** Points that changes by hand are about, by place and level. */
export function decidedBy(points: Schemas['LandFigures']['decided']): Set<string> {
  return new Set(points.map((p) => p.join(' ')));
}
