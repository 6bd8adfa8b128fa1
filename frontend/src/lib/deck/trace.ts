import { firstFrom } from '../lookup';

/** Polylines of many points, thinned to what the pixels can show. */

export type Scale = (value: number) => number;

/**
 * Add a polyline to the path. Where several points share a pixel column only the first, least, greatest
 * and last are kept, so that no spike is lost. `gap` marks points not joined to the one before.
 */
export function trace(
  c: CanvasRenderingContext2D | Path2D,
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
  x: Scale,
  y: Scale,
  range: [number, number],
  gap?: ArrayLike<number>,
): void {
  const from = Math.max(firstFrom(xs, range[0]) - 1, 0);
  const to = Math.min(firstFrom(xs, range[1]) + 1, xs.length);
  let pen = false;
  let column = NaN;
  let least = 0;
  let most = 0;
  let last = 0;
  const flush = () => {
    if (Number.isNaN(column)) return;
    if (least < last || most > last) {
      c.lineTo(column, least);
      c.lineTo(column, most);
      c.lineTo(column, last);
    }
  };
  for (let i = from; i < to; i++) {
    const px = x(xs[i]!);
    const py = y(ys[i]!);
    if (Number.isNaN(py)) {
      flush();
      pen = false;
      column = NaN;
      continue;
    }
    if (!pen || (gap && gap[i]! > 0)) {
      flush();
      c.moveTo(px, py);
      pen = true;
    } else if (Math.floor(px) === Math.floor(column)) {
      least = Math.min(least, py);
      most = Math.max(most, py);
      last = py;
      continue;
    } else {
      flush();
      c.lineTo(px, py);
    }
    column = px;
    least = most = last = py;
  }
  flush();
}
