"""The ground of sections, each side by itself, as the kernels of sections want it."""

from typing import NamedTuple

import numpy as np

from delgrun.core.kernels import kernel

# Rows no further apart are one, unless their levels differ: then the face between them is as wide as this. [m]
_FACE_M = 1e-6


class Sides(NamedTuple):
    """The ground of all sides outwards: side i has rows `start[i]` to `start[i + 1]`.

    `x` (r,) offsets from 0 [m]; `tops` (r, 1 + k) levels [m]: what batters run to, then what is dug from - the stripped
    ground, and the top of each further material, none above the one before, with each crossing of two among `x`.
    """

    start: np.ndarray
    x: np.ndarray
    tops: np.ndarray


@kernel
def _put(x, z, u, m, offset, level, met):
    """Add a row behind the last one; how many there are then."""
    if offset < x[m - 1] + _FACE_M:
        if abs(level - z[m - 1]) <= _FACE_M and abs(met - u[m - 1]) <= _FACE_M:
            return m
        offset = x[m - 1] + _FACE_M
    x[m], z[m], u[m] = offset, level, met
    return m + 1


@kernel
def sides_of(start, offset, level, met, base, depths):
    """The sides of sections, each as far as its ground goes; none of one without a base or ground to both sides of 0.

    Parameters
    ----------
    start, offset, level : the ground across, `GroundSections`. [m]
    met : (r,) level of what batters run to, row by row; `level` itself where that is the ground. [m]
    base : (n,) what levels are told over, section by section; NaN without ground. [m]
    depths : (n, 1 + k) how deep below `met` batters end, and each top lies below the ground, none less than the one
        before. [m]

    Returns
    -------
    Sides 2 i, left, and 2 i + 1, right, of section i.
    """
    n, k = base.shape[0], depths.shape[1] - 1
    first = np.zeros(2 * n + 1, np.int64)
    most = offset.shape[0] + 2 * n
    x, z, u = np.empty(most), np.empty(most), np.empty(most)
    m = 0
    for i in range(n):
        a, b = start[i], start[i + 1]
        if b - a >= 2 and base[i] == base[i] and offset[a] <= 0.0 <= offset[b - 1]:
            at = a
            while at < b - 1 and offset[at + 1] <= 0.0:
                at += 1
            centre, there = level[at], met[at]
            if offset[at] < 0.0:
                share = -offset[at] / (offset[at + 1] - offset[at])
                centre += (level[at + 1] - level[at]) * share
                there += (met[at + 1] - met[at]) * share
            x[m], z[m], u[m] = 0.0, centre - base[i], there - base[i]
            m += 1
            for j in range(at, a - 1, -1):
                m = _put(x, z, u, m, -offset[j], level[j] - base[i], met[j] - base[i])
            first[2 * i + 1] = m
            x[m], z[m], u[m] = 0.0, centre - base[i], there - base[i]
            m += 1
            for j in range(at, b):
                if offset[j] >= 0.0:
                    m = _put(x, z, u, m, offset[j], level[j] - base[i], met[j] - base[i])
        else:
            first[2 * i + 1] = m
        first[2 * i + 2] = m
    tops = np.empty((m, 1 + k))
    for side in range(2 * n):
        for r in range(first[side], first[side + 1]):
            tops[r, 0] = u[r] - depths[side // 2, 0]
            for c in range(k):
                tops[r, 1 + c] = z[r] - depths[side // 2, 1 + c]
    return first, x[:m].copy(), tops
