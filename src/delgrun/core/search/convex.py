"""Areas of sections as smooth, convex curves of the height: what an interior-point method takes its steps by."""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.section.pieces import areas_in

# Rows of a curve lie so far apart in height, and reach so far below and above the ground. [m]
ROW_M = 0.025
REACH_M = 30.0


@kernel
def convex_rows(pieces, middle, lowest, step, count):
    """(n, count, w) control values of sums by height over `middle` (n,): the greatest convex ones, from 0 on.

    Row k stands for the height lowest + k * step. They are the control values of a quadratic B-spline, each less an
    eighth of its second difference, which makes the spline exact wherever the area is quadratic. Beside a kink (where
    the edge of the formation meets the ground) a spline's slope overshoots, and a method that looks at slopes comes to
    rest there, metres from the least. Where batters pass bumps, areas are not convex at all.
    """
    n, w = middle.shape[0], pieces.area.shape[1]
    out = np.zeros((n, count, w), np.float32)
    hull = np.empty(count, np.int64)
    exact, value, area = np.empty((count, w)), np.empty(count), np.empty(w)
    for i in range(n):
        if pieces.start[i + 1] - pieces.start[i] < 2:
            continue
        p = pieces.start[i]
        for k in range(count):
            p = areas_in(pieces, i, p, middle[i] + lowest + k * step, area)
            exact[k] = area
        for c in range(w):
            for k in range(count):
                bend = 0.0
                if 0 < k < count - 1:
                    bend = exact[k - 1, c] - 2 * exact[k, c] + exact[k + 1, c]
                value[k] = max(exact[k, c] - bend / 8, 0.0)
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


@kernel
def spline(table, i, c, u):
    """Value of column c of section i at row position u, its slope and its bend per row.

    Quadratic B-spline of the rows; past the ends it goes on straight.
    """
    count = table.shape[1]
    k = min(max(int(np.floor(u + 0.5)), 1), count - 2)
    t = min(max(u - k, -0.5), 0.5)
    a, b, d = table[i, k - 1, c], table[i, k, c], table[i, k + 1, c]
    slope = d * (0.5 + t) - a * (0.5 - t) - 2 * t * b
    value = a * (0.5 - t) ** 2 / 2 + b * (0.75 - t * t) + d * (0.5 + t) ** 2 / 2
    past = u - k - t
    return value + past * slope, slope, (a - 2 * b + d if past == 0.0 else 0.0)
