import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../../api/client';
import { mapOf, NO_PICTURE } from './backdrop';
import { deepest, tinted } from './difference';
import { measure } from './measure';
import { contourFeatures, rounded, surveyFeatures } from './contours';
import { GRID, intervalAt, placeOf } from './grid';
import { ipAt } from './ips';
import { compass } from './says';
import { SLOPES } from './shade';
import { boxesOf, decidedBy, TileStore, type LandTile } from '../state/tiles';

type GroundChange = Schemas['ChangeFigures'];

const change = (slot: string, made_at: string, box_m: number[]) =>
  ({ slot, made_at, what: 'exclude', box_m }) as unknown as GroundChange;

/** A binary answer with one array. */
function answer(values: number[], head: object = { corner: [0, 0], cells: 2 }, name = 'level'): ArrayBuffer {
  const text = JSON.stringify({ ...head, arrays: [[name, values.length, 'd', 'f8', 0]] });
  const size = text.length + ((8 - ((text.length + 4) % 8)) % 8);
  const data = new ArrayBuffer(4 + size + 8 * values.length);
  new DataView(data).setUint32(0, size, true);
  new Uint8Array(data, 4, size).set(new TextEncoder().encode(text.padEnd(size)));
  new Float64Array(data, 4 + size).set(values);
  return data;
}

const tile = (arrays: Record<string, number[]>): LandTile => ({
  corner: [1000, 2000],
  cells: 3,
  arrays: Object.fromEntries(Object.entries(arrays).map(([k, v]) => [k, Float64Array.from(v)])),
});

afterEach(() => vi.unstubAllGlobals());

describe('tiles of the ground', () => {
  const ground = (key: string) => ({ project: 1, revision: 3, key });

  it('are asked for once, however many layers want them', async () => {
    const asked = vi.fn<(url: string) => Promise<Response>>(() => Promise.resolve(new Response(answer([1, 2]))));
    vi.stubGlobal('fetch', asked);
    const store = new TileStore();
    store.ground = ground('a');
    const [one, other] = await Promise.all([store.get(0, 4, 5, 1), store.get(0, 4, 5, 1)]);
    expect(one).toBe(other);
    expect(Array.from(one.arrays.level!)).toEqual([1, 2]);
    expect(asked).toHaveBeenCalledTimes(1);
    await store.get(0, 4, 5, 5);
    expect(asked).toHaveBeenCalledTimes(2);
    expect(asked.mock.calls[0]![0]).toContain('revision=3&zoom=0&column=4&row=5&interval_m=1');
  });

  it('hold still outside the boxes in which the ground has changed', async () => {
    const asked = vi.fn(() => Promise.resolve(new Response(answer([1]))));
    vi.stubGlobal('fetch', asked);
    const store = new TileStore();
    store.ground = ground('a');
    await Promise.all([store.get(0, 0, 0, 1), store.get(0, 9, 0, 1)]);
    // Tile (9, 0) at a metre a pixel begins 2304 m east.
    store.change(ground('b'), [[2400, 10, 2410, 20]]);
    await Promise.all([store.get(0, 0, 0, 1), store.get(0, 9, 0, 1)]);
    expect(asked).toHaveBeenCalledTimes(3);
    // Another survey: nothing holds.
    store.change(ground('c'), null);
    await store.get(0, 0, 0, 1);
    expect(asked).toHaveBeenCalledTimes(4);
  });

  it('that a change touches are asked for together, and are there when it is drawn', async () => {
    const asked = vi.fn<(url: string) => Promise<Response>>(() => Promise.resolve(new Response(answer([1]))));
    vi.stubGlobal('fetch', asked);
    const store = new TileStore();
    store.ground = ground('a');
    await Promise.all([store.get(-1, 4, 0, 1), store.get(0, 0, 0, 1), store.get(0, 9, 0, 1)]);
    asked.mockImplementation(() =>
      Promise.resolve(new Response(answer([7], { tiles: [{ corner: [2304, 0], cells: 2 }] }, '0.level'))),
    );
    const boxes = [[2400, 10, 2410, 20]];
    await store.ahead(ground('b'), boxes);
    expect(asked).toHaveBeenCalledTimes(4);
    expect(asked.mock.lastCall![0]).toContain(`zoom=0&interval_m=1&places=${encodeURIComponent('9,0')}`);
    store.change(ground('b'), boxes);
    const [still, other] = await Promise.all([store.get(0, 0, 0, 1), store.get(0, 9, 0, 1)]);
    expect([still.arrays.level![0], other.arrays.level![0], other.corner]).toEqual([1, 7, [2304, 0]]);
    expect([store.isSame('a', 'b', 0, 0, 0, 1), store.isSame('a', 'b', 0, 9, 0, 1)]).toEqual([true, false]);
    expect(asked).toHaveBeenCalledTimes(4);
  });

  it('that did not come are asked for again', async () => {
    let turn = 0;
    vi.stubGlobal('fetch', () => {
      turn += 1;
      return Promise.resolve(turn === 1 ? new Response('{}', { status: 422 }) : new Response(answer([7])));
    });
    const store = new TileStore();
    store.ground = ground('a');
    await expect(store.get(0, 0, 0, 1)).rejects.toThrow('did not come');
    await expect(store.get(0, 0, 0, 1)).resolves.toMatchObject({ cells: 2 });
  });

  it('differ where only one of two grounds has a change, also under a name that was used before', () => {
    const [a, b] = [change('ground-1', 't1', [0, 0, 1, 1]), change('ground-2', 't2', [5, 5, 6, 6])];
    const again = change('ground-2', 't3', [8, 8, 9, 9]);
    expect(boxesOf([a], [a, b])).toEqual([[5, 5, 6, 6]]);
    expect(boxesOf([a, b], [a, again])).toEqual([
      [5, 5, 6, 6],
      [8, 8, 9, 9],
    ]);
    expect(boxesOf([a], [a, change('ground-3', 't4', [])])).toEqual([]);
  });

  it('lie on one grid whose rows count northwards', () => {
    expect(placeOf([8, 3, -6])).toEqual([0, 3, 5]);
    expect(GRID.getResolution(8)).toBe(1);
    expect(decidedBy([[1.5, 2, 3.25]]).has('1.5 2 3.25')).toBe(true);
  });
});

describe('contours', () => {
  it('are fewer the farther away', () => {
    expect([3, 0, -1, -3, -6, -8].map((zoom) => intervalAt(zoom, 1))).toEqual([1, 1, 5, 25, 0, 0]);
  });

  it('of every fifth interval are main ones, at their own places', () => {
    const lines = { line: [0, 0, 1, 1, 2, 2, 5, 5, 6, 6], line_start: [0, 3, 5], line_level: [100, 101] };
    const made = contourFeatures(tile(lines), 1, false);
    expect(made.map((f) => [f.get('level'), f.get('main')])).toEqual([
      [100, true],
      [101, false],
    ]);
    expect(made[0]!.getFlatCoordinates()).toEqual([1000, 2000, 1001, 2001, 1002, 2002]);
  });

  it('are rounded between their ends, and rings stay closed', () => {
    expect(rounded([0, 0, 4, 0])).toEqual([0, 0, 4, 0]);
    const bend = rounded([0, 0, 4, 0, 4, 4]);
    expect([bend.slice(0, 2), bend.slice(-2)]).toEqual([
      [0, 0],
      [4, 4],
    ]);
    // The corner itself is cut, by a quarter of each side at most.
    expect(Math.min(...bend.filter((_, i) => i % 2 === 0).map((x, i) => Math.hypot(x - 4, bend[2 * i + 1]!)))).toBe(1);
    const ring = rounded([0, 0, 4, 0, 4, 4, 0, 0]);
    expect(ring.slice(0, 2)).toEqual(ring.slice(-2));
  });

  it('come with breaklines, triangles and points', () => {
    const made = surveyFeatures(tile({ edge: [0, 0, 1, 1], side: [1, 1, 2, 2], point: [3, 4, 50.5], point_row: [17] }));
    expect(made.map((f) => f.get('kind'))).toEqual(['side', 'breakline', 'point']);
    expect([made[2]!.getFlatCoordinates(), made[2]!.get('level'), made[2]!.get('row')]).toEqual([
      [1003, 2004],
      50.5,
      17,
    ]);
  });
});

it('slopes get darker as they get steeper, and a bearing has its wind', () => {
  const dark = SLOPES.map(([, , shade]) => shade);
  expect([...dark].sort((a, b) => a - b)).toEqual(dark);
  expect([0, Math.PI / 2, Math.PI, 2 * Math.PI - 0.1].map(compass)).toEqual(['N', 'E', 'S', 'N']);
});

describe('measuring', () => {
  it('a square of a hectare at large coordinates, with its rise', () => {
    const [e, n] = [500_000, 4_200_000];
    const m = measure([
      [e, n, 100],
      [e + 100, n, 101],
      [e + 100, n + 100, NaN],
      [e, n + 100, 103],
    ])!;
    expect([m.length, m.last, m.area, m.rise, m.grade]).toEqual([300, 100, 10_000, 3, 0.01]);
    expect(m.bearing).toBeCloseTo(1.5 * Math.PI, 9);
    expect(measure([[0, 0, 0]])).toBeNull();
  });
});

describe('the picture under the map', () => {
  it('is asked for in the project’s own grid, whatever the address holds already', () => {
    const of = { ...NO_PICTURE, address: 'https://maps.example/wms?key=7', layers: 'ortho', opacity: 1 };
    const url = new URL(mapOf(of, 'EPSG:25832', [0, 256, 512, 768]));
    const asked = Object.fromEntries(url.searchParams);
    expect(asked).toMatchObject({ key: '7', SRS: 'EPSG:25832', BBOX: '0,256,512,768', LAYERS: 'ortho', WIDTH: '256' });
  });
});

describe('what lies between two grounds', () => {
  it('is tinted by sign and depth, north up, and left free where it is nothing or unknown', () => {
    vi.stubGlobal(
      'ImageData',
      class {
        data;
        constructor(w: number, h: number) {
          this.data = new Uint8ClampedArray(4 * w * h);
        }
      },
    );
    const level = [1, -0.5, 0, NaN];
    const { data } = tinted(level, 2, 1, '#102030', '#405060');
    const pixel = (at: number) => [...data.slice(4 * at, 4 * at + 4)];
    // The first row of levels is the southern one, the last of the picture.
    expect([pixel(2), pixel(3)]).toEqual([
      [0x10, 0x20, 0x30, Math.round(255 * 0.9)],
      [0x40, 0x50, 0x60, Math.round(255 * 0.575)],
    ]);
    expect([pixel(0)[3], pixel(1)[3]]).toEqual([0, 0]);
    vi.unstubAllGlobals();
  });

  it('is deepest at its extremes, within what can be told apart', () => {
    const of = (above: number, below: number) => deepest({ most_above_m: above, most_below_m: below } as never);
    expect([of(0.3, -0.7), of(0, 0), of(25, -1)]).toEqual([0.7, 0.02, 2]);
  });
});

describe('a handle of an IP', () => {
  const ip = (easting_m: number, northing_m: number) => ({
    easting_m,
    northing_m,
    radius_m: 0,
    transition_in_m: 0,
    transition_out_m: 0,
    superelevation: null,
    joins: false,
  });
  const plan = { ips: [ip(0, 0), ip(12, 0), ip(100, 50)], line: null, saved: true, current: null, bends: [] };
  // Two pixels a metre, north up.
  const at = ([e, n]: [number, number]) => [2 * e, 400 - 2 * n];

  it('is the nearest one that the pointer is on', () => {
    expect(ipAt(plan, [3, 398], at)).toBe(0);
    expect(ipAt(plan, [17, 402], at)).toBe(1);
    expect(ipAt(plan, [200, 300], at)).toBe(2);
    expect(ipAt(plan, [212, 300], at)).toBeNull();
    expect(ipAt(null, [0, 400], at)).toBeNull();
    expect(ipAt(plan, [0, 400], () => null)).toBeNull();
  });
});
