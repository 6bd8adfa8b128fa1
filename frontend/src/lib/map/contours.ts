import RenderFeature from 'ol/render/Feature';
import type { LandTile } from '../state/tiles';

/**
 * The contours of a tile as features: `level`, and `main` for every fifth.
 *
 * @param smooth round their corners, for drawing only
 */
export function contourFeatures(tile: LandTile, interval: number, smooth: boolean): RenderFeature[] {
  const { line, line_start: start, line_level: level } = tile.arrays;
  const [e, n] = tile.corner;
  const out: RenderFeature[] = [];
  for (let i = 0; i < level!.length; i++) {
    const [from, to] = [2 * start![i]!, 2 * start![i + 1]!];
    if (to - from < 4) continue;
    let flat: number[] = [];
    for (let k = from; k < to; k += 2) flat.push(line![k]! + e, line![k + 1]! + n);
    if (smooth) flat = rounded(rounded(flat));
    const step = level![i]! / (5 * interval);
    const main = Math.abs(step - Math.round(step)) < 1e-6;
    out.push(new RenderFeature('LineString', flat, [], 2, { kind: 'contour', level: level![i]!, main }, undefined));
  }
  return out;
}

/** Corners cut at a quarter of each piece (Chaikin, 1974); ends stay, a ring stays closed. */
export function rounded(flat: number[]): number[] {
  const last = flat.length - 2;
  if (last < 4) return flat;
  const ring = flat[0] === flat[last] && flat[1] === flat[last + 1];
  const out: number[] = ring ? [] : [flat[0]!, flat[1]!];
  for (let k = 0; k < last; k += 2) {
    const [x, y, u, v] = [flat[k]!, flat[k + 1]!, flat[k + 2]!, flat[k + 3]!];
    out.push(0.75 * x + 0.25 * u, 0.75 * y + 0.25 * v, 0.25 * x + 0.75 * u, 0.25 * y + 0.75 * v);
  }
  if (ring) out.push(out[0]!, out[1]!);
  else out.push(flat[last]!, flat[last + 1]!);
  return out;
}

/** Triangles, breaklines and points of a tile. */
export function surveyFeatures(tile: LandTile): RenderFeature[] {
  const { edge, side, point, point_row: row } = tile.arrays;
  const [e, n] = tile.corner;
  const out: RenderFeature[] = [];
  for (const [pieces, kind] of [
    [side!, 'side'],
    [edge!, 'breakline'],
  ] as const) {
    for (let i = 0; i < pieces.length; i += 4) {
      const flat = [pieces[i]! + e, pieces[i + 1]! + n, pieces[i + 2]! + e, pieces[i + 3]! + n];
      out.push(new RenderFeature('LineString', flat, [], 2, { kind }, undefined));
    }
  }
  for (let i = 0; i < row!.length; i++) {
    const flat = [point![3 * i]! + e, point![3 * i + 1]! + n];
    const says = { kind: 'point', level: point![3 * i + 2]!, row: row![i]! };
    out.push(new RenderFeature('Point', flat, [], 2, says, undefined));
  }
  return out;
}
