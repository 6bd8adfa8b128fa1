import type { Shading } from '../state/map.svelte';
/** Shades of a tile's levels: a low light, how steep it is, or how high. */

/** Slopes a designer asks for, as rise over run, each with what it is called and how dark it is drawn. */
export const SLOPES: [above: number, says: string, dark: number][] = [
  [0, 'under 5 %', 0],
  [0.05, '5 to 10 %', 0.1],
  [0.1, '10 to 20 %', 0.2],
  [0.2, '20 to 33 %', 0.32],
  [1 / 3, '1:3 to 1:2', 0.46],
  [0.5, '1:2 to 1:1.5', 0.6],
  [1 / 1.5, '1:1.5 to 1:1', 0.75],
  [1, 'over 1:1', 0.92],
];

// Light from the north-west, half-way up the sky (the map-maker's custom), on ground drawn this much steeper.
const LIGHT = [-0.5, 0.5, Math.SQRT1_2] as const;
const STEEPER = 2.5;

/** Red, green and blue of a colour written as #rrggbb. */
export function rgb(colour: string): [number, number, number] {
  return [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16)) as [number, number, number];
}

/**
 * A picture of one pixel a cell, north up.
 *
 * @param level (cells + 2) squared levels from the south-west, NaN without ground
 * @param cell side of a cell [m]
 * @param range lowest and highest ground [m]
 */
export function shaded(
  level: ArrayLike<number>,
  cells: number,
  cell: number,
  shading: Shading,
  colour: string,
  range: [number, number],
): HTMLCanvasElement {
  const inner = cells - 2;
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = inner;
  const c = canvas.getContext('2d')!;
  const image = c.createImageData(inner, inner);
  const [red, green, blue] = rgb(colour);
  // A pixel at once: opacity, blue, green, red.
  const pixels = new Uint32Array(image.data.buffer);
  const ink = (blue << 16) | (green << 8) | red;
  const [low, span] = [range[0], Math.max(range[1] - range[0], 1e-6)];
  const perCell = STEEPER / (2 * cell);
  for (let r = 0; r < inner; r++) {
    for (let k = 0; k < inner; k++) {
      const at = (r + 1) * cells + k + 1;
      const z = level[at]!;
      if (Number.isNaN(z)) continue;
      if (shading === 'hill') {
        // Nearly all pixels of nearly all maps: a quarter of the time of asking for each slope with its gaps.
        const x = (level[at + 1]! - level[at - 1]!) * perCell;
        const y = (level[at + cells]! - level[at - cells]!) * perCell;
        if (x + y === x + y) {
          pixels[(inner - 1 - r) * inner + k] = ((255 * lit(x, y) + 0.5) << 24) | ink;
          continue;
        }
      }
      const dark = shading === 'level' ? 0.06 + (0.72 * (z - low)) / span : darkness(level, at, cells, cell, shading);
      pixels[(inner - 1 - r) * inner + k] = ((255 * Math.min(Math.max(dark, 0), 0.9) + 0.5) << 24) | ink;
    }
  }
  c.putImageData(image, 0, 0);
  return canvas;
}

function darkness(level: ArrayLike<number>, at: number, cells: number, cell: number, shading: Shading): number {
  let along = (level[at + 1]! - level[at - 1]!) / (2 * cell);
  let up = (level[at + cells]! - level[at - cells]!) / (2 * cell);
  if (Number.isNaN(along)) along = oneSided(level, at, 1, cell);
  if (Number.isNaN(up)) up = oneSided(level, at, cells, cell);
  if (shading === 'slope') {
    const slope = Math.hypot(along, up);
    let dark = 0;
    for (const [above, , shade] of SLOPES) if (slope >= above) dark = shade;
    return 0.04 + dark;
  }
  return lit(along * STEEPER, up * STEEPER);
}

/** Darker where less light falls, for slopes eastwards and northwards; a bare tint says "ground", also where it is level. */
function lit(x: number, y: number): number {
  const light = (LIGHT[2] - x * LIGHT[0] - y * LIGHT[1]) / Math.sqrt(x * x + y * y + 1);
  return Math.min(0.1 + 0.9 * Math.max(0.74 - light, 0), 0.9);
}

/** Slope in one direction beside a gap. */
function oneSided(level: ArrayLike<number>, at: number, step: number, cell: number): number {
  const [before, here, after] = [level[at - step]!, level[at]!, level[at + step]!];
  if (!Number.isNaN(after)) return (after - here) / cell;
  return Number.isNaN(before) ? 0 : (here - before) / cell;
}
