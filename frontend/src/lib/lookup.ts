/** Looking things up in rows of rising values. */

/** First index whose value is not below `at`, in rising values. */
export function firstFrom(values: ArrayLike<number>, at: number): number {
  let lo = 0;
  let hi = values.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (values[mid]! < at) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** Value at `at` on the straight lines between rising abscissae; NaN outside. */
export function valueAt(xs: ArrayLike<number>, ys: ArrayLike<number>, at: number): number {
  const n = xs.length;
  if (n === 0 || at < xs[0]! - 1e-3 || at > xs[n - 1]! + 1e-3) return NaN;
  const i = Math.min(Math.max(firstFrom(xs, at), 1), n - 1);
  const a = xs[i - 1]!;
  const b = xs[i]!;
  const t = b > a ? Math.min(Math.max((at - a) / (b - a), 0), 1) : 0;
  return ys[i - 1]! * (1 - t) + ys[i]! * t;
}
