"""A grade line as numbers to move: levels and limits with their derivatives by every IP's parameters.

Parameter 3 j + 0, 1, 2 is chainage X, level Z and curve length L of IP j.
"""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.search.local import CREST, FALL, FLATTEST, GREATEST, KINK, LENGTH, RISE, SAG, SPACING, STRAIGHT

# Rows in metres of chainage or of grade are scaled to weigh like metres of level.
_PER_CHAINAGE = 0.05
_PER_GRADE = 30.0


@kernel
def jacobian(x, z, length, s):
    """Levels at chainages s and their derivatives.

    z = tangent polygon + A t^2 / (2 L), t = L/2 - |s - X|, inside a curve (docs/formulas.md#search).

    Returns
    -------
    (n,) levels, (n, 9) parameter numbers (-1 unused), (n, 9) derivatives
    """
    n, m = s.shape[0], x.shape[0]
    level = np.empty(n)
    col = np.full((n, 9), -1, np.int64)
    val = np.zeros((n, 9))
    j = 0
    for i in range(n):
        while j < m - 2 and s[i] > x[j + 1]:
            j += 1
        d = x[j + 1] - x[j]
        r = (s[i] - x[j]) / d
        g = (z[j + 1] - z[j]) / d
        level[i] = z[j] + g * (s[i] - x[j])
        k = -1
        for c in (j, j + 1):
            if 0 < c < m - 1 and length[c] > 0 and abs(s[i] - x[c]) < length[c] / 2:
                k = c
        base = k - 1 if k >= 0 else j
        for c in range(3 if k >= 0 else 2):
            for p in range(3):
                col[i, 3 * c + p] = 3 * (base + c) + p
        a = 3 * (j - base)
        val[i, a] = -g * (1 - r)
        val[i, a + 1] = 1 - r
        val[i, a + 3] = -g * r
        val[i, a + 4] = r
        if k >= 0:
            d_in, d_out = x[k] - x[k - 1], x[k + 1] - x[k]
            g_in, g_out = (z[k] - z[k - 1]) / d_in, (z[k + 1] - z[k]) / d_out
            change = g_out - g_in
            t = length[k] / 2 - abs(s[i] - x[k])
            q = t * t / (2 * length[k])
            level[i] += change * q
            val[i, 0] -= q * g_in / d_in
            val[i, 1] += q / d_in
            val[i, 3] += q * (g_out / d_out + g_in / d_in) + change * t / length[k] * (1.0 if j == k else -1.0)
            val[i, 4] -= q * (1 / d_out + 1 / d_in)
            val[i, 5] += change * (t / (2 * length[k]) - t * t / (2 * length[k] ** 2))
            val[i, 6] -= q * g_out / d_out
            val[i, 7] += q / d_out
    return level, col, val


@kernel
def _strictest(edges, values, which, a, b):
    """The strictest value of one limit on a stretch; ranges that are only met at its ends do not count."""
    if a < b:
        low, high = np.searchsorted(edges[which], a, side="right"), np.searchsorted(edges[which], b, side="left")
    else:
        low, high = np.searchsorted(edges[which], a, side="left"), np.searchsorted(edges[which], b, side="right")
    found = values[which, low]
    for k in range(low + 1, high + 1):
        found = max(found, values[which, k]) if which in GREATEST else min(found, values[which, k])
    return found


@kernel
def _least_over(edges, values, which, a, b, curve_before, curve_behind):
    """The least value on a tangent; where a range is met by a curve's end, the curve is in it with the same grade."""
    low, high = np.searchsorted(edges[which], a, side="right"), np.searchsorted(edges[which], b, side="left")
    if curve_before:
        low = np.searchsorted(edges[which], a, side="left")
    if curve_behind:
        high = np.searchsorted(edges[which], b, side="right")
    found = values[which, min(low, high)]
    for k in range(low, high + 1):
        found = min(found, values[which, k])
    return found


@kernel
def limits_at(x, length, edges, values):
    """(m, 9) limits of the tangent behind each IP and of the curve, or the kink, at it, by ranges: see `local.py`."""
    m = x.shape[0]
    out = np.zeros((m, 9))
    for j in range(m):
        start, end = x[j] - length[j] / 2, x[j] + length[j] / 2
        for which in (CREST, SAG, LENGTH):
            out[j, which] = _strictest(edges, values, which, start, end)
        out[j, KINK] = _strictest(edges, values, KINK, x[j], x[j])
        if j + 1 < m:
            after = max(x[j + 1] - length[j + 1] / 2, end)
            out[j, SPACING] = _strictest(edges, values, SPACING, x[j], x[j + 1])
            for which in (RISE, FALL):
                out[j, which] = _least_over(edges, values, which, end, after, length[j] > 0, length[j + 1] > 0)
            for which in (FLATTEST, STRAIGHT):
                out[j, which] = _strictest(edges, values, which, end, after)
    return out


@kernel
def _within_curves(x, length, edges):
    """How many ends of ranges of rise and fall lie within curves."""
    count = 0
    for j in range(1, x.shape[0] - 1):
        for which in (RISE, FALL):
            a = np.searchsorted(edges[which], x[j] - length[j] / 2, side="right")
            b = np.searchsorted(edges[which], x[j] + length[j] / 2, side="left")
            count += max(b - a, 0)
    return count


@kernel
def limit_rows(x, z, length, lim, edges, values, sides, margin, trust, moving):
    """Rows (7 sparse entries) and right-hand sides over changes of the parameters.

    `lim` (m, 9): the limits of the tangent behind each IP and of the curve at it; `edges` and `values` are where they
    come from, for grades within curves. Grades, flattest grades and the sharpness of curves are linear in the levels;
    with `moving`, the rows of chainage and length (spacing, overlap and shortest tangent, least length, `trust` (3,)
    box) come in as well and sharpness is linearised. `sides` (m - 1,): whether a tangent that must not be flat rises
    (1) or falls (-1). `margin` keeps levels that far inside, for rounding afterwards. [m]
    """
    m = x.shape[0]
    count = 16 * m + _within_curves(x, length, edges)
    col = np.full((count, 7), -1, np.int64)
    val = np.zeros((count, 7))
    rhs = np.zeros(count)
    r = 0
    for j in range(m - 1):
        d, dz = x[j + 1] - x[j], z[j + 1] - z[j]
        for side in (1.0, -1.0):
            col[r, 0], col[r, 1], col[r, 2], col[r, 3] = 3 * j, 3 * j + 1, 3 * j + 3, 3 * j + 4
            most = lim[j, RISE] if side > 0 else lim[j, FALL]
            val[r, 0], val[r, 1], val[r, 2], val[r, 3] = most, -side, -most, side
            rhs[r] = most * d - side * dz - margin
            r += 1
        least = lim[j, FLATTEST]
        if least > 0:
            side = sides[j]
            col[r, 0], col[r, 1], col[r, 2], col[r, 3] = 3 * j, 3 * j + 1, 3 * j + 3, 3 * j + 4
            val[r, 0], val[r, 1], val[r, 2], val[r, 3] = -least, side, least, -side
            rhs[r] = side * dz - least * d - margin
            r += 1
        if moving:
            # Between two curves there is a tangent of the least length, or where none is asked they may touch.
            curved = 0 < j < m - 2 and length[j] > 0 and length[j + 1] > 0
            straight = lim[j, STRAIGHT] if curved else 0.0
            col[r, 0], col[r, 1], col[r, 2], col[r, 3] = 3 * j, 3 * j + 3, 3 * j + 2, 3 * j + 5
            val[r, 0], val[r, 1] = _PER_CHAINAGE, -_PER_CHAINAGE
            val[r, 2] = val[r, 3] = _PER_CHAINAGE / 2
            rhs[r] = (d - (length[j] + length[j + 1]) / 2 - straight) * _PER_CHAINAGE
            r += 1
            if 0 < j < m - 2:
                col[r, 0], col[r, 1] = 3 * j, 3 * j + 3
                val[r, 0], val[r, 1] = _PER_CHAINAGE, -_PER_CHAINAGE
                rhs[r] = (d - lim[j, SPACING]) * _PER_CHAINAGE
                r += 1
    for j in range(1, m - 1):
        d_in, d_out = x[j] - x[j - 1], x[j + 1] - x[j]
        g_in, g_out = (z[j] - z[j - 1]) / d_in, (z[j + 1] - z[j]) / d_out
        change = g_out - g_in
        for side in (1.0, -1.0):
            bend = lim[j, SAG] if side > 0 else lim[j, CREST]
            for c in range(3):
                col[r, 2 * c], col[r, 2 * c + 1] = 3 * (j - 1 + c), 3 * (j - 1 + c) + 1
            val[r, 0], val[r, 1] = -g_in / d_in, 1 / d_in
            val[r, 2], val[r, 3] = g_out / d_out + g_in / d_in, -1 / d_in - 1 / d_out
            val[r, 4], val[r, 5] = -g_out / d_out, 1 / d_out
            # d(change): sag side as it stands, crest side turned round.
            for c in range(6):
                val[r, c] *= side * _PER_GRADE
            if moving and length[j] > 0:
                col[r, 6], val[r, 6] = 3 * j + 2, -bend * _PER_GRADE
            # Without a curve the change itself is limited.
            most = bend * length[j] if length[j] > 0 else lim[j, KINK]
            slack = most - side * change - margin * (1 / d_in + 1 / d_out)
            rhs[r] = slack * _PER_GRADE
            r += 1
        # Where a range begins within a curve, the curve itself is no steeper there than either side allows.
        for which in (RISE, FALL):
            side = 1.0 if which == RISE else -1.0
            a = np.searchsorted(edges[which], x[j] - length[j] / 2, side="right")
            b = np.searchsorted(edges[which], x[j] + length[j] / 2, side="left")
            for k in range(a, b):
                t = (edges[which, k] - x[j]) / length[j] + 0.5
                most = min(values[which, k], values[which, k + 1])
                for c in range(3):
                    col[r, 2 * c], col[r, 2 * c + 1] = 3 * (j - 1 + c), 3 * (j - 1 + c) + 1
                val[r, 0], val[r, 1] = (1 - t) * g_in / d_in, -(1 - t) / d_in
                val[r, 2] = -(1 - t) * g_in / d_in + t * g_out / d_out - change / length[j]
                val[r, 3] = (1 - t) / d_in - t / d_out
                val[r, 4], val[r, 5] = -t * g_out / d_out, t / d_out
                for c in range(6):
                    val[r, c] *= side * _PER_GRADE
                if moving:
                    turn = -change * (edges[which, k] - x[j]) / length[j] ** 2
                    col[r, 6], val[r, 6] = 3 * j + 2, side * turn * _PER_GRADE
                rhs[r] = (most - side * (g_in + change * t) - margin * ((1 - t) / d_in + t / d_out)) * _PER_GRADE
                r += 1
        if moving:
            if length[j] > 0:
                col[r, 0], val[r, 0] = 3 * j + 2, -_PER_CHAINAGE
                rhs[r] = (length[j] - lim[j, LENGTH]) * _PER_CHAINAGE
                r += 1
            for p in range(3 if length[j] > 0 else 2):
                for side in (1.0, -1.0):
                    scale = 1.0 if p == 1 else _PER_CHAINAGE
                    col[r, 0], val[r, 0] = 3 * j + p, side * scale
                    rhs[r] = trust[p] * scale
                    r += 1
    return col[:r].copy(), val[:r].copy(), rhs[:r].copy()


@kernel
def broken(x, z, length, edges, values):
    """How far the limits are broken in all, in metres weighed like levels; 0 for a line within them."""
    m = x.shape[0]
    box = np.zeros(3)
    sides = np.where(np.diff(z) >= 0, 1.0, -1.0)
    lim = limits_at(x, length, edges, values)
    _, _, rhs = limit_rows(x, z, length, lim, edges, values, sides, 0.0, box, True)
    total = 0.0
    for r in range(rhs.shape[0]):
        total += max(-rhs[r], 0.0)
    for j in range(m - 1):
        if x[j + 1] - x[j] < 1.0:
            total += 1e6
    return total


@kernel
def map_columns(col, val, to, factor):
    """Parameters to unknowns: `to` (3 m,) unknown or -1 where fixed, `factor` (3 m,) its share; in place."""
    for i in range(col.shape[0]):
        for p in range(col.shape[1]):
            c = col[i, p]
            if c >= 0:
                col[i, p] = to[c]
                val[i, p] *= factor[c]
