"""First layouts of IPs: as close as suits each place, with curves that have room, at levels that drain."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.search.local import FLATTEST, LENGTH, SPACING, STRAIGHT
from delgrun.core.search.polish import Candidate, level_line, limits_of, spaces, tie_levels, within
from delgrun.core.search.problem import SearchProblem

FloatArray = NDArray[np.float64]

# IPs of a first layout stand so far apart where limits ask for no more, and never closer than so; places to look at
# the limits lie so far apart. [m]
USUAL_M, _CLOSEST_M, _PLACE_M = 100.0, 20.0, 5.0


def dense_start(problem: SearchProblem, level_m: FloatArray, share: float, *, half_ends: bool = False) -> Candidate:
    """IPs about `share` of the usual distance apart, or as close as the limits there let them, at cheapest levels.

    `level_m` (n,) is a first guess of the levels at the sections. `half_ends`: the first and the last IP stand half a
    distance from the ends, where half a curve has room; else a whole one.
    """
    s = problem.chainage_m
    x = _layout(problem, share, half_ends)
    length = np.full(len(x), 1.0)
    length[0] = length[-1] = 0.0
    near = np.minimum(np.diff(x)[:-1], np.diff(x)[1:])
    near[0] = min(2 * (x[1] - x[0]), x[2] - x[1]) if len(x) > 3 else 2 * min(x[1] - x[0], x[-1] - x[1])
    near[-1] = min(2 * (x[-1] - x[-2]), x[-2] - x[-3]) if len(x) > 3 else near[0]
    straight = spaces(problem, x, length).straight_m
    wide = 0.9 * (near - np.maximum(straight[:-1], straight[1:]))
    length[1:-1] = np.maximum(wide, 1.0)
    length[1:-1] = np.maximum(length[1:-1], spaces(problem, x, length).least_m[1:-1])
    x, length = within(problem, x, length)
    z = rolled(problem, x, np.interp(x, s, level_m), length)
    return level_line(problem, x, tie_levels(problem, x, z), length)


def _layout(problem: SearchProblem, share: float, half_ends: bool) -> FloatArray:
    """Chainages of IPs by the distance that suits each place, between the ends and with them."""
    s = problem.chainage_m
    at = np.linspace(s[0], s[-1], max(int((s[-1] - s[0]) / _PLACE_M), 8) + 1)
    some = np.ones(len(at))
    here = limits_of(problem, at, np.minimum(some, np.diff(at).min() / 2))
    curve, spacing, straight = here[:, LENGTH], here[:, SPACING], here[:, STRAIGHT]
    usual = share * np.maximum(USUAL_M, 1.3 * np.maximum(np.maximum(spacing, curve), _CLOSEST_M))
    apart = np.maximum(usual, 1.02 * np.maximum(np.maximum(spacing, curve + straight), _CLOSEST_M))
    # How many distances lie before each place.
    many = np.concatenate([[0.0], np.cumsum(np.diff(at) / np.maximum(apart[:-1], apart[1:]))])
    if half_ends:
        count = max(int(many[-1] + 1e-9), 1)
        inner = (np.arange(count) + 0.5) * many[-1] / count
    else:
        count = max(int(many[-1] + 1e-9), 2)
        inner = np.arange(1, count) * many[-1] / count
    return np.concatenate([s[:1], np.interp(inner, many, at), s[-1:]])


def rolled(problem: SearchProblem, x: FloatArray, z: FloatArray, length: FloatArray) -> FloatArray:
    """Levels near these whose tangents are not flatter than they may be: where the ground is, they rise and fall by
    turns, each to where the line comes nearer to it.
    """
    flattest = limits_of(problem, x, length)[:, FLATTEST]
    if not (flattest[:-1] > 0).any():
        return z
    out = z.copy()
    for j in range(len(x) - 1):
        d = x[j + 1] - x[j]
        least = flattest[j] * d
        rise = z[j + 1] - out[j]
        if abs(rise) < least:
            out[j + 1] = out[j] + (least if rise >= 0 else -least)
    return out
