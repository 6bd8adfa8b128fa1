"""Depth tables made convex in the height, as an interior-point method needs them."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def convex_tables(table):
    """(n, count, 2) control values of cut and fill: the greatest convex ones, from 0 on, below those of `table`.

    Beside a kink (where the edge of the formation meets the ground) a spline's slope overshoots, and a method that
    looks at slopes comes to rest there, metres from the least. Where batters pass bumps, areas are not convex at all.
    """
    n, count = table.shape[0], table.shape[1]
    out = np.empty((n, count, 2), np.float32)
    hull = np.empty(count, np.int64)
    value = np.empty(count)
    for i in range(n):
        for c in range(2):
            for k in range(count):
                value[k] = max(table[i, k, c], 0.0)
            m = 0
            for k in range(count):
                while m >= 2:
                    a, b = hull[m - 2], hull[m - 1]
                    if (value[b] - value[a]) * (k - a) < (value[k] - value[a]) * (b - a):
                        break
                    m -= 1
                hull[m] = k
                m += 1
            for h in range(m - 1):
                a, b = hull[h], hull[h + 1]
                for k in range(a, b):
                    out[i, k, c] = value[a] + (value[b] - value[a]) * (k - a) / (b - a)
            out[i, count - 1, c] = value[count - 1]
    return out
