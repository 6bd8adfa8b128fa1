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
def _put(x, z, m, offset, level):
    """Add a row behind the last one; how many there are then."""
    if offset < x[m - 1] + _FACE_M:
        if abs(level - z[m - 1]) <= _FACE_M:
            return m
        offset = x[m - 1] + _FACE_M
    x[m], z[m] = offset, level
    return m + 1


@kernel
def sides_of(start, offset, level, base, depths):
    """The sides of sections, each as far as its ground goes; none of one without a base or ground to both sides of 0.

    Parameters
    ----------
    start, offset, level : the ground across, `GroundSections`. [m]
    base : (n,) what levels are told over, section by section; NaN without ground. [m]
    depths : (n, 2, k) how deep each top lies below the ground, left and right, none less than the one before. [m]

    Returns
    -------
    Sides 2 i, left, and 2 i + 1, right, of section i.
    """
    n, k = base.shape[0], depths.shape[2]
    first = np.zeros(2 * n + 1, np.int64)
    x, z = np.empty(offset.shape[0] + 2 * n), np.empty(offset.shape[0] + 2 * n)
    m = 0
    for i in range(n):
        a, b = start[i], start[i + 1]
        if b - a >= 2 and base[i] == base[i] and offset[a] <= 0.0 <= offset[b - 1]:
            at = a
            while at < b - 1 and offset[at + 1] <= 0.0:
                at += 1
            centre = level[at]
            if offset[at] < 0.0:
                centre += (level[at + 1] - level[at]) * (-offset[at] / (offset[at + 1] - offset[at]))
            x[m], z[m] = 0.0, centre - base[i]
            m += 1
            for j in range(at, a - 1, -1):
                m = _put(x, z, m, -offset[j], level[j] - base[i])
            first[2 * i + 1] = m
            x[m], z[m] = 0.0, centre - base[i]
            m += 1
            for j in range(at, b):
                if offset[j] >= 0.0:
                    m = _put(x, z, m, offset[j], level[j] - base[i])
        else:
            first[2 * i + 1] = m
        first[2 * i + 2] = m
    tops = np.empty((m, 1 + k))
    for side in range(2 * n):
        for r in range(first[side], first[side + 1]):
            tops[r, 0] = z[r]
            for c in range(k):
                tops[r, 1 + c] = z[r] - depths[side // 2, side % 2, c]
    return first, x[:m].copy(), tops
