"""Compiled: what an outline cuts and fills, at one section and at all of them."""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.section.outline_kernels import (
    ALONG,
    CAUGHT,
    CUT,
    CUT_BENCH,
    FILL,
    FILL_BENCH,
    KIND,
    SLOPE,
    VX,
    VY,
    WALL,
    X,
    Y,
    keep,
    outline,
    rise,
)

# An outline has no more corners: benches two metres high and one wide need sixty on ground to 60 m.
ROOM = 400


@kernel
def _positive(width, left, right, turn):
    """Area over nothing of a straight line from `left` to `right` that rises by `turn`, and where it has that."""
    if left >= 0.0 and right >= 0.0:
        return width * (left + right) / 2, 0.0, width
    if left > 0.0:
        # By its slope and not by its ends: right after a corner these are a ten-millionth of a metre apart.
        wide = min(left / -turn, width) if turn < 0.0 else width
        return left * wide / 2, 0.0, wide
    if right > 0.0:
        wide = min(right / turn, width) if turn > 0.0 else width
        return right * wide / 2, width - wide, width
    return 0.0, 0.0, 0.0


@kernel
def measure(sides, side, points, n, z, found, values, rates):
    """Areas between an outline and the ground, and how they change with the level.

    Parameters
    ----------
    points, n, found : the outline's corners and what was found on its way, as `outline` fills them; the levels in
        `found` are narrowed to where these areas are quadratic.
    values, rates : (k + 1,) filled: cut below each of k tops from the stripped ground on [m2], fill over the stripped
        ground, and what each gains by a metre of level [m2/m].

    Notes
    -----
    Across the formation there is cut and fill; a batter in cut has cut only, one in fill fill only. What changes with
    the level is the width that is cut or filled, as the outline moves there, and what its ends sweep.
    """
    a, b = sides.start[side], sides.start[side + 1]
    xs, tops = sides.x, sides.tops
    count = tops.shape[1] - 1
    values[:] = 0.0
    rates[:] = 0.0
    j = a
    for i in range(1, n):
        kind = int(points[i, KIND])
        px, py, pvx, pvy = points[i - 1, X], points[i - 1, Y], points[i - 1, VX], points[i - 1, VY]
        qx, qvx, slope = points[i, X], points[i, VX], points[i, SLOPE]
        wide = qx - px
        if kind == WALL or wide <= 0.0:
            continue
        cuts = kind != FILL and kind != FILL_BENCH
        fills = kind != CUT and kind != CUT_BENCH and kind != ALONG
        # How fast the segment rises at a fixed place, at its two ends.
        u0, u1 = pvy - slope * pvx, points[i, VY] - slope * qvx
        x, vx = px, pvx
        while j < b - 2 and xs[j + 1] <= x:
            j += 1
        while True:
            row = xs[j + 1]
            on = row < qx
            nx, nv = (row, 0.0) if on else (min(qx, xs[b - 1]), qvx)
            keep(found, z, row - qx, -qvx)
            f0, f1 = py + slope * (x - px), py + slope * (nx - px)
            w0, w1 = u0 + (u1 - u0) * (x - px) / wide, u0 + (u1 - u0) * (nx - px) / wide
            for k in range(1, count + 1):
                s = rise(xs, tops, j, k)
                d0 = tops[j, k] + s * (x - xs[j]) - f0
                d1 = tops[j, k] + s * (nx - xs[j]) - f1
                turn = s - slope
                keep(found, z, d0, turn * vx - w0)
                keep(found, z, d1, turn * nv - w1)
                if cuts:
                    area, first, last = _positive(nx - x, d0, d1, turn)
                    values[k - 1] += area
                    rates[k - 1] += _swept(nx - x, w0, w1, first, last, d0, d1, vx, nv, -1.0)
                if fills and k == 1:
                    area, first, last = _positive(nx - x, -d0, -d1, -turn)
                    values[count] += area
                    rates[count] += _swept(nx - x, w0, w1, first, last, -d0, -d1, vx, nv, 1.0)
            if not on:
                break
            x, vx = nx, 0.0
            j += 1
        if nx >= xs[b - 1]:
            return


@kernel
def _swept(width, w0, w1, first, last, h0, h1, v0, v1, sign):
    """What an area gains by a metre of level: its outline rises by w0 to w1 a metre, its ends move by v0 and v1."""
    gained = max(h1, 0.0) * v1 - max(h0, 0.0) * v0
    if last > first:
        gained += sign * (w0 + (w1 - w0) * (first + last) / 2 / width) * (last - first)
    return gained


@kernel
def sections_at(shapes, sides, which, level, anew, out, caught):
    """What is cut and filled at each section with its line at a level over its base.

    Parameters
    ----------
    which : (n, 2) shape of the left and of the right side; those of section i are `sides` 2 i and 2 i + 1.
    level : (n,), NaN where nothing is built. [m]
    anew : (n,) sections that are worked out; the others stay as they are.
    out : (n, k + 3) filled: cut below each of k tops, fill [m2], reach left and right [m].
    caught : (n,) bits filled: 1 left, 2 right found ground.
    """
    k = sides.tops.shape[1] - 1
    points, found = np.empty((ROOM, 6)), np.empty(8)
    values, gains = np.empty(k + 1), np.empty(k + 1)
    for i in range(level.shape[0]):
        if not anew[i]:
            continue
        out[i, :] = 0.0
        caught[i] = 0
        if np.isnan(level[i]):
            continue
        for s in range(2):
            side = 2 * i + s
            if sides.start[side + 1] - sides.start[side] < 2:
                continue
            n = outline(shapes, sides, side, which[i, s], level[i], points, found)
            measure(sides, side, points, n, level[i], found, values, gains)
            for c in range(k + 1):
                out[i, c] += values[c]
            out[i, k + 1 + s] = min(points[n - 1, X], sides.x[sides.start[side + 1] - 1])
            caught[i] |= (1 + s) * int(found[CAUGHT])


@kernel
def gains_at(shapes, sides, which, level, out):
    """What each section's areas gain by a metre of level: (n, k + 1) cut below each of k tops, and fill [m2/m].

    As in `sections_at`; NaN where nothing is built, or there is no ground.
    """
    k = sides.tops.shape[1] - 1
    points, found = np.empty((ROOM, 6)), np.empty(8)
    values, gains = np.empty(k + 1), np.empty(k + 1)
    for i in range(level.shape[0]):
        out[i, :] = 0.0
        for s in range(2):
            side = 2 * i + s
            if np.isnan(level[i]) or sides.start[side + 1] - sides.start[side] < 2:
                out[i, :] = np.nan
                continue
            n = outline(shapes, sides, side, which[i, s], level[i], points, found)
            measure(sides, side, points, n, level[i], found, values, gains)
            out[i] += gains
