"""Areas of all sections at every level, exactly: quadratics of the level from one corner to the next.

An outline knows between which levels it stands as it is (`outline_kernels.py`). From the lowest level on each side is
worked out at the beginning of a piece and within it, which gives its quadratic, and then right behind its end.
"""

from typing import NamedTuple

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.section.area_kernels import ROOM, side_at
from delgrun.core.section.outline_kernels import HIGH, TURNING

# Behind a piece's end the next one is looked for: so far past it which one that is is sure. [m]
STEP_M = 1e-7
# Levels so far from the ground are looked at. Further away nothing turns any more: the steepest batter (1 to 20) climbs
# 1 200 m as far as sections are cut. [m]
FAR_M = 1e4
# Where a segment turns (a batter about the edge of a reserve, one that ends at a level of its own), areas are no
# quadratics: fitted as well as this, a share of what they are far from the ground. [m2]
_FIT_M2 = 4e-8
_FIT = 1e-12
# Such a piece is no longer than this, or than that share of how far it is from the middle. [m]
_TURN_M, _TURN = 1.0, 0.125


class Pieces(NamedTuple):
    """Sums of a section's columns: piece p, `start[i]` <= p < `start[i + 1]` - 1, holds from `at[p]` to `at[p + 1]`.

    `at` (m,) levels over the section's base [m]; `area` (m, w, 3): value at the beginning, change and bend by metre of
    level of each sum. The last row of a section is only its end; its first and last piece go on for ever.
    """

    start: np.ndarray
    at: np.ndarray
    area: np.ndarray


@kernel
def _sweep(shapes, sides, side, shape, weigh, middle, low, high, at, area):
    """One side's pieces between two levels; their count, and both arrays, made longer where that is needed."""
    w, q = weigh.shape
    points, found = np.empty((ROOM, 6)), np.empty(8)
    v, r, v2, r2 = np.empty(q), np.empty(q), np.empty(q), np.empty(q)
    v3, r3 = np.empty(q), np.empty(q)
    m = 0
    z = low
    while z < high:
        side_at(shapes, sides, side, shape, z, points, found, v, r)
        end = min(max(found[HIGH], z), high)
        if found[TURNING] != 0.0:
            end = min(end, z + max(_TURN_M, _TURN * abs(z - middle)))
        while True:
            inner = z + 0.9 * (end - z)
            if inner <= z:
                v2[:], r2[:], inner = v, r, z + 1.0
            else:
                side_at(shapes, sides, side, shape, inner, points, found, v2, r2)
            d = inner - z
            if found[TURNING] == 0.0 or end - z < 1e-5:
                break
            # Held against what lies in the middle.
            side_at(shapes, sides, side, shape, z + d / 2, points, found, v3, r3)
            fits = True
            for c in range(q):
                miss = abs(v[c] + r[c] * d / 2 + (r2[c] - r[c]) * d / 8 - v3[c])
                fits = fits and miss <= _FIT_M2 + _FIT * abs(v3[c])
            if fits:
                break
            end = z + (end - z) / 2
        if m == at.shape[0]:
            longer, wider = np.empty(2 * m), np.empty((2 * m, w, 3))
            longer[:m], wider[:m] = at, area
            at, area = longer, wider
        at[m] = z
        for c in range(w):
            area[m, c, :] = 0.0
            for e in range(q):
                area[m, c, 0] += weigh[c, e] * v[e]
                area[m, c, 1] += weigh[c, e] * r[e]
                area[m, c, 2] += weigh[c, e] * (r2[e] - r[e]) / d
        m += 1
        z = end + STEP_M
    return m, at, area


@kernel
def pieces_of(shapes, sides, which, middle, weigh):
    """Pieces of all sections, both sides together, as far as `FAR_M` about a level `middle` (n,) of each.

    Parameters
    ----------
    weigh : (w, c) what each sum takes of each column of `area_kernels.side_at`.

    Returns
    -------
    Pieces: of a section without ground none, and no end.
    """
    n, w = middle.shape[0], weigh.shape[0]
    start = np.zeros(n + 1, np.int64)
    at, area = np.empty(256 * (n + 1)), np.empty((256 * (n + 1), w, 3))
    m = 0
    l_at, l_area = np.empty(256), np.empty((256, w, 3))
    r_at, r_area = np.empty(256), np.empty((256, w, 3))
    for i in range(n):
        start[i] = m
        if sides.start[2 * i + 1] - sides.start[2 * i] < 2 or sides.start[2 * i + 2] - sides.start[2 * i + 1] < 2:
            continue
        low, high = middle[i] - FAR_M, middle[i] + FAR_M
        lefts, l_at, l_area = _sweep(shapes, sides, 2 * i, which[i, 0], weigh, middle[i], low, high, l_at, l_area)
        rights, r_at, r_area = _sweep(shapes, sides, 2 * i + 1, which[i, 1], weigh, middle[i], low, high, r_at, r_area)
        if m + lefts + rights + 1 > at.shape[0]:
            longer, wider = np.empty(2 * (m + lefts + rights + 1)), np.empty((2 * (m + lefts + rights + 1), w, 3))
            longer[:m], wider[:m] = at[:m], area[:m]
            at, area = longer, wider
        a, b = 0, 0
        z = low
        while True:
            at[m] = z
            for c in range(w):
                d, e = z - l_at[a], z - r_at[b]
                p, q = l_area[a, c], r_area[b, c]
                area[m, c, 0] = p[0] + p[1] * d + p[2] * d * d / 2 + q[0] + q[1] * e + q[2] * e * e / 2
                area[m, c, 1] = p[1] + p[2] * d + q[1] + q[2] * e
                area[m, c, 2] = p[2] + q[2]
            m += 1
            nl = l_at[a + 1] if a + 1 < lefts else high
            nr = r_at[b + 1] if b + 1 < rights else high
            z = min(nl, nr)
            if z >= high:
                break
            if nl <= z:
                a += 1
            if nr <= z:
                b += 1
        at[m], area[m] = high, 0.0
        m += 1
    start[n] = m
    return start, at[:m].copy(), area[:m].copy()


@kernel
def areas_in(pieces, i, p, z, out):
    """The sums of section i at a level over its base, and its piece, looked for from p on; 0 without ground."""
    first, last = pieces.start[i], pieces.start[i + 1] - 2
    if last < first:
        out[:] = 0.0
        return p
    p = min(max(p, first), last)
    while p > first and z < pieces.at[p]:
        p -= 1
    while p < last and z >= pieces.at[p + 1]:
        p += 1
    d = z - pieces.at[p]
    for c in range(out.shape[0]):
        q = pieces.area[p, c]
        out[c] = q[0] + q[1] * d + q[2] * d * d / 2
    return p
