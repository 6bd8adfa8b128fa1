"""Compiled: what an outline cuts and fills, at one section and at all of them."""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.section.outline_kernels import (
    CAUGHT,
    FILL,
    FILL_BENCH,
    FORMATION,
    KIND,
    LAID,
    SLOPE,
    VARIANT,
    VX,
    VY,
    WALL,
    X,
    Y,
    keep,
    outline,
    rise,
)

# Columns of what is measured: fill [m2], length of batters and their benches along the slope, height of walls [m], and
# from DUG on cut below each top [m2], then layers [m2].
FILLED, BATTER, WALLED, DUG = range(4)

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
    values, rates : (DUG + k + q,) filled: what each column has, and gains by a metre of level; k tops from the stripped
        ground on, and for each of q layers what it fills beyond its thickness.

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
        qx, qy, qvx, qvy, slope = points[i, X], points[i, Y], points[i, VX], points[i, VY], points[i, SLOPE]
        wide = qx - px
        if kind == WALL:
            values[WALLED] += abs(qy - py)
            rates[WALLED] += qvy - pvy if qy > py else pvy - qvy
        if kind == WALL or wide <= 0.0:
            continue
        ground = kind == FORMATION or kind >= LAID
        if not ground:
            long = np.sqrt(wide * wide + (qy - py) * (qy - py))
            values[BATTER] += long
            rates[BATTER] += (wide * (qvx - pvx) + (qy - py) * (qvy - pvy)) / long
        cuts = kind not in (FILL, FILL_BENCH)
        fills = ground or kind in (FILL, FILL_BENCH)
        into = DUG + count + kind - LAID if kind >= LAID else FILLED
        # How fast the segment rises at a fixed place, at its two ends.
        u0, u1 = pvy - slope * pvx, qvy - slope * qvx
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
                    values[DUG + k - 1] += area
                    rates[DUG + k - 1] += _swept(nx - x, w0, w1, first, last, d0, d1, vx, nv, -1.0)
                if fills and k == 1:
                    area, first, last = _positive(nx - x, -d0, -d1, -turn)
                    values[into] += area
                    rates[into] += _swept(nx - x, w0, w1, first, last, -d0, -d1, vx, nv, 1.0)
            # Where the ground ends under the formation, nothing beyond is measured.
            if not on or nx >= xs[b - 1]:
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
def side_at(shapes, sides, side, shape, z, points, found, values, rates):
    """A side at a level: how many corners its outline has, and all columns with what is built whatever the level.

    See `outline` and `measure`; without ground nothing is built.
    """
    n = outline(shapes, sides, side, shape, z, points, found)
    measure(sides, side, points, n, z, found, values, rates)
    if n > 0:
        constant = shapes.constant
        variant = shapes.variants[shape] + int(found[VARIANT])
        for c in range(DUG):
            values[c] += constant[variant, c]
        first = values.shape[0] - (constant.shape[1] - DUG)
        for c in range(DUG, constant.shape[1]):
            values[first + c - DUG] += constant[variant, c]
    return n


def columns_beside(materials: int, layers: int) -> int:
    """How many columns `sections_at` fills, with so many materials below the topsoil."""
    return DUG + 1 + materials + layers + 2


@kernel
def sections_at(shapes, sides, which, level, anew, out, caught):
    """What each section takes with its line at a level over its base.

    Parameters
    ----------
    which : (n, 2) shape of the left and of the right side; those of section i are `sides` 2 i and 2 i + 1.
    level : (n,), NaN where nothing is built. [m]
    anew : (n,) sections that are worked out; the others stay as they are.
    out : (n, c + 2) filled: the columns of `side_at`, both sides together, then reach left and right [m].
    caught : (n,) bits filled: 1 left, 2 right found ground.
    """
    count = out.shape[1] - 2
    points, found = np.empty((ROOM, 6)), np.empty(8)
    values, gains = np.empty(count), np.empty(count)
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
            n = side_at(shapes, sides, side, which[i, s], level[i], points, found, values, gains)
            for c in range(count):
                out[i, c] += values[c]
            out[i, count + s] = min(points[n - 1, X], sides.x[sides.start[side + 1] - 1])
            caught[i] |= (1 + s) * int(found[CAUGHT])


@kernel
def gains_at(shapes, sides, which, level, out):
    """What each section's columns gain by a metre of level, as in `sections_at`: (n, c).

    NaN where nothing is built, or there is no ground.
    """
    count = out.shape[1]
    points, found = np.empty((ROOM, 6)), np.empty(8)
    values, gains = np.empty(count), np.empty(count)
    for i in range(level.shape[0]):
        out[i, :] = 0.0
        for s in range(2):
            side = 2 * i + s
            if np.isnan(level[i]) or sides.start[side + 1] - sides.start[side] < 2:
                out[i, :] = np.nan
                continue
            side_at(shapes, sides, side, which[i, s], level[i], points, found, values, gains)
            for c in range(count):
                out[i, c] += gains[c]
