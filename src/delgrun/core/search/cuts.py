"""What the shortest curve and the spacing of IPs say of a free curve: rows that every grade line keeps and a curve too
lively does not.

A grade line bends at a constant rate within its curves, no curve is shorter than the least, and between them it is
straight. So its changes of slope at neighbouring sections hang together, far more than each one's own limit says. For
any weights v of these changes, sum v_k d_k is the integral of psi q over the chainage, where psi = sum v_k hat_k and q
is the rate at which the slope changes; the most that any admissible q can make of it is found by going along the
chainage once (docs/formulas.md#search).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.kernels import kernel
from delgrun.core.search import curves

FloatArray = NDArray[np.float64]

# Grids for the ends of curves: to find weights, and for what they prove of a window and of the whole road.
_COARSE_M, _FINE_M, _WHOLE_M = 2.0, 0.2, 0.02
# With spacing to heed there are more ways to go: the whole road's grid is as fine as this many of them allow.
_MOST_WAYS = 1e7
# Windows, in least curve lengths (or spacings of IPs): longer ones prove hardly more and cost more.
_WINDOWS = (2.2, 4.5)
_TRIES = 60
# Curves shorter than this say nothing that sections metres apart could notice.
LEAST_M = 4.0

_weighed, _most, _at_most, _changes_of = curves.weighed, curves.most, curves.at_most, curves.changes_of


@dataclass(frozen=True)
class AllowedCurves:
    """What curves have to keep: shortest and, from IP to IP, least apart [m]; sharpest of either kind [1/m]."""

    least_m: float
    apart_m: float
    crest: float
    sag: float


def slope_changes(at: FloatArray, z: FloatArray) -> FloatArray:
    """(m - 2,) changes of mean slope about every inner point of `at` (m,), for levels `z` (m,). [m/m]"""
    out: FloatArray = np.diff(np.diff(z) / np.diff(at))
    return out


@kernel
def _rooms(at, first, hats, step):
    """Room for what a pass over a window keeps."""
    count = int((at[first + hats] - at[first - 1]) / step) + 3
    return np.empty(count), np.empty(count), np.empty((3, 2 * count)), np.empty((7, 2 * count), np.int64)


@kernel
def _most_in(at, first, v, least, apart, crest, sag, step):
    """What no line's sum of v over the changes from `first` on exceeds."""
    count = int((at[first + v.shape[0]] - at[first - 1]) / step) + 3
    psi, sums = np.empty(count), np.empty(count)
    g, count, steepest = _weighed(at, first, v, step, psi, sums)
    return _at_most(psi, sums, count, g, steepest, least, apart, crest, sag)


@kernel
def _deepest(at, d, first, hats, least, apart, crest, sag, tries, coarse, v):
    """Weights over a window that the free curve breaks by most, as far as `tries` steps towards the nearest
    admissible changes find them (Frank and Wolfe's method: the way there is the weights). Fills v; False where
    nothing is broken."""
    psi, sums, tables, ways = _rooms(at, first, hats, coarse)
    y, u, w, gain = np.zeros(hats), np.zeros(hats), np.empty(hats), 0.0
    for turn in range(tries):
        size = 0.0
        for k in range(hats):
            w[k] = d[first - 1 + k] - y[k]
            size += w[k] * w[k]
        size = np.sqrt(size)
        if size < 1e-12:
            break
        for k in range(hats):
            w[k] /= size
        g, count, _ = _weighed(at, first, w, coarse, psi, sums)
        over = -_most(psi, sums, count, g, least, apart, crest, sag, tables, ways)
        for k in range(hats):
            over += w[k] * d[first - 1 + k]
        if over > gain:
            gain = over
            v[:] = w
        # Nearly as much as there is to find.
        if over > 0.9 * size:
            break
        _changes_of(at, first, count, g, least, apart, crest, sag, tables, ways, u)
        along, length = 0.0, 0.0
        for k in range(hats):
            step = u[k] - y[k]
            along += w[k] * size * step
            length += step * step
        if turn == 0:
            y[:] = u
            continue
        if along <= 0 or length <= 0:
            break
        share = min(along / length, 1.0)
        for k in range(hats):
            y[k] += share * (u[k] - y[k])
    if gain <= 0.0:
        return False
    v /= np.max(np.abs(v))
    return True


@kernel
def _all_windows(at, d, hats, every, least, apart, crest, sag, tries, coarse, fine, out_first, out_v, out_most):
    """The deepest weights of windows of `hats` changes, each `every` changes; returns how many are broken."""
    found = 0
    v = np.empty(hats)
    for first in range(1, at.shape[0] - 1 - hats + 1, every):
        if not _deepest(at, d, first, hats, least, apart, crest, sag, tries, coarse, v):
            continue
        most = _most_in(at, first, v, least, apart, crest, sag, fine)
        broken = -most
        for k in range(hats):
            broken += v[k] * d[first - 1 + k]
        if broken > 1e-3 * most:
            out_first[found], out_most[found] = first, most
            out_v[found, :hats] = v
            found += 1
    return found


def most_of_road(at: FloatArray, v: FloatArray, allowed: AllowedCurves) -> float:
    """What no grade line's sum of v_k d_k over all inner points of the road exceeds.

    Parameters
    ----------
    at : (m,) chainages of the points [m]
    v : (m - 2,) weights of the changes of mean slope about the inner points
    allowed : the shortest curve at least `LEAST_M`
    """
    ways = float(at[-1] - at[0]) * (allowed.apart_m if allowed.apart_m > allowed.least_m else 0.0)
    step = max(_WHOLE_M, float(np.sqrt(ways / _MOST_WAYS)))
    return float(
        _most_in(at, 1, np.ascontiguousarray(v), allowed.least_m, allowed.apart_m, allowed.crest, allowed.sag, step)
    )


def broken_cuts(at: FloatArray, changes: FloatArray, allowed: AllowedCurves) -> list[tuple[int, FloatArray, float]]:
    """Cuts that these slope changes break: number of the first inner point, weights, and what no line's sum exceeds.

    Parameters
    ----------
    changes : (m - 2,) as `slope_changes` gives them
    """
    if len(changes) < 3:
        return []
    spacing = float(np.median(np.diff(at)))
    reach = max(allowed.least_m, allowed.apart_m)
    out: list[tuple[int, FloatArray, float]] = []
    for share in _WINDOWS:
        hats = min(max(round(share * reach / spacing), 3), len(changes))
        every = max(round(0.3 * reach / spacing), 1)
        first, most = np.empty(len(at), np.int64), np.empty(len(at))
        weights = np.zeros((len(at), hats))
        limits = (allowed.least_m, allowed.apart_m, allowed.crest, allowed.sag)
        found = _all_windows(at, changes, hats, every, *limits, _TRIES, _COARSE_M, _FINE_M, first, weights, most)
        out += [(int(first[k]), weights[k].copy(), float(most[k])) for k in range(found)]
    return out
