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
const AGAIN_MS = 700;

/** Tiles that have come, by ground and place; asked for once, however many layers want them. */
export class TileStore {
  ground: Ground | null = null;
  #kept = new Map<string, Promise<LandTile>>();

  /** @param interval contours at a zoom, in metres; 0 for none */
  get(zoom: number, column: number, row: number, interval: number): Promise<LandTile> {
    const ground = this.ground;
    if (!ground) return Promise.reject(new Error('There is no ground yet.'));
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
      if (this.#kept.size <= MOST_KEPT) break;
      this.#kept.delete(old);
    }
    return tile;
  }

  /** The ground has changed within these boxes (west, south, east, north) only: all other tiles hold still. */
  change(ground: Ground, boxes: number[][] | null): void {
    const before = this.ground;
    this.ground = ground;
    if (!before || before.project !== ground.project || !boxes) return;
    for (const [key, tile] of [...this.#kept]) {
      const [of, zoom, column, row] = key.split(' ') as [string, string, string, string];
      if (of !== before.key) continue;
      const side = TILE_PIXELS * 2 ** -zoom;
      const [west, south] = [Number(column) * side, Number(row) * side];
      // Contours and shade of a tile reach a cell beyond it.
      const margin = side / 64;
      const touched = boxes.some(
        ([w, s, e, n]) =>
          w! <= west + side + margin && e! >= west - margin && s! <= south + side + margin && n! >= south - margin,
      );
      if (!touched) this.#kept.set(key.replace(before.key, ground.key), tile);
    }
  }
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
      response = await fetch(`/api/projects/${project}/land/${what}?${query}`, {
        headers: { Accept: 'application/octet-stream' },
      });
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
