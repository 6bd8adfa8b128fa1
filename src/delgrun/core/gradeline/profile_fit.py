"""A grade line fitted to a profile that is given as points: tangents and parabolas, as few as keep a stated deviation.

The curves are known by where they start and end; with these given, levels are linear in the levels of the IPs, so that
those follow by least squares and only starts and ends are searched (variable projection: Golub and Pereyra 1973).
"""

from dataclasses import dataclass

import numpy as np
import scipy  # and of it `optimize` when it is first used: a start must not wait for it
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip

FloatArray = NDArray[np.float64]

# More IPs than this are no design.
_MOST_IPS = 400
# Curves and tangents are at least so long while they are searched. [m]
_SHORTEST_M = 0.5
# No curve or tangent takes less of the window it is searched in.
_LEAST_SHARE = 1e-4
# Steps of each search, and points it looks at.
_TRIES, _LOOKED_AT = 8, 150
# So many curves to each side go along in a search.
_REACH = 2
# A curve is left out only where the line moves by less than so many deviations.
_MENDED = 40
# A new curve takes this share of the tangent it is put on.
_FIRST_SHARE = 0.3


@dataclass(frozen=True)
class ProfileFit:
    """The fitted line, and how far the furthest point lies from it. [m]"""

    line: GradeLine
    deviation_m: float


def fit_profile(chainage_m: FloatArray, level_m: FloatArray, deviation_m: float) -> ProfileFit:
    """A line from the first point to the last from which no point lies further than a deviation. [m]

    `chainage_m`, `level_m` (n,), chainages rising.

    Raises
    ------
    DesignInputError
        More than 400 IPs would be needed.
    """
    s, z = np.asarray(chainage_m, float), np.asarray(level_m, float)
    curves = np.zeros((0, 2))
    while True:
        off = np.abs(_levels(s, z, curves) - z)
        if off.max() <= deviation_m:
            break
        if len(curves) >= min(_MOST_IPS, len(s)):
            raise DesignInputError(
                "deviation_m",
                "Not even with {count} IPs does a line keep within {deviation:length} of these points: allow more.",
                count=len(curves),
                deviation=deviation_m,
            )
        curves, at = _with_another(curves, s, float(s[off.argmax()]))
        curves = _settled(s, z, curves, at)
    for at in range(len(curves)):
        moved = _settled(s, z, curves, at)
        if np.abs(_levels(s, z, moved) - z).max() <= deviation_m:
            curves = moved
    curves = _fewer(s, z, curves, deviation_m)
    line = _line(s, z, curves)
    return ProfileFit(line, float(np.abs(line.levels(s) - z).max()))


def _matrix(s: FloatArray, ends: tuple[float, float], curves: FloatArray) -> FloatArray:
    """(n, k + 2): levels at `s` as a linear function of those of the ends and IPs."""
    nodes = np.concatenate([[ends[0]], curves.mean(axis=1), [ends[1]]])
    k = np.clip(np.searchsorted(nodes, s, side="right") - 1, 0, len(nodes) - 2)
    share = (s - nodes[k]) / np.diff(nodes)[k]
    out = np.zeros((len(s), len(nodes)))
    rows = np.arange(len(s))
    out[rows, k] = 1 - share
    out[rows, k + 1] += share
    if len(curves):
        i = np.searchsorted(curves[:, 0], s, side="right") - 1
        b, e = curves[i, 0], curves[i, 1]
        inside = np.flatnonzero((i >= 0) & (s < e))
        i, b, e = i[inside] + 1, b[inside], e[inside]
        x = np.minimum(s[inside] - b, e - s[inside])
        bend = x * x / (2 * (e - b))
        steps = np.diff(nodes)
        before, after = bend / steps[i - 1], bend / steps[i]
        out[inside, i - 1] += before
        out[inside, i] -= before + after
        out[inside, i + 1] += after
    return out


def _solved(
    s: FloatArray, z: FloatArray, curves: FloatArray, ends: tuple[float, float]
) -> tuple[FloatArray, FloatArray]:
    """Levels of ends and IPs by least squares, and those at `s`."""
    matrix = _matrix(s, ends, curves)
    middle = float(z.mean())
    square = matrix.T @ matrix
    # A touch of its diagonal: an IP between whose neighbours there is no point stays near their mean.
    square.flat[:: len(square) + 1] += 1e-9 * max(float(square.trace()) / len(square), 1e-12)
    nodes = np.linalg.solve(square, matrix.T @ (z - middle)).astype(np.float64)
    return nodes + middle, matrix @ nodes + middle


def _levels(s: FloatArray, z: FloatArray, curves: FloatArray) -> FloatArray:
    return _solved(s, z, curves, (float(s[0]), float(s[-1])))[1]


def _with_another(curves: FloatArray, s: FloatArray, at_m: float) -> tuple[FloatArray, int]:
    """The curves with one more at a chainage, and its number: on a tangent a short one, a curve becomes two."""
    inside = np.flatnonzero((curves[:, 0] < at_m) & (at_m < curves[:, 1]))
    if len(inside):
        i = int(inside[0])
        b, e = curves[i]
        middle = (b + e) / 2
        return np.concatenate([curves[:i], [[b, middle], [middle, e]], curves[i + 1 :]]), i
    i = int(np.searchsorted(curves[:, 0], at_m))
    low = curves[i - 1, 1] if i > 0 else s[0]
    high = curves[i, 0] if i < len(curves) else s[-1]
    half = _FIRST_SHARE * (high - low) / 2
    b = float(np.clip(at_m - half, low, high - 2 * half))
    return np.concatenate([curves[:i], [[b, b + 2 * half]], curves[i:]]), i


def _settled(s: FloatArray, z: FloatArray, curves: FloatArray, at: int) -> FloatArray:
    """The curves with starts and ends of some around one moved to where the points are met best."""
    first, last = max(at - _REACH, 0), min(at + _REACH + 1, len(curves))
    # The tangents beside them belong to the window, and the curves beyond those stay.
    low = float(curves[first - 1].mean()) if first > 0 else float(s[0])
    high = float(curves[last].mean()) if last < len(curves) else float(s[-1])
    edge_low = float(curves[first - 1, 1]) if first > 0 else float(s[0])
    edge_high = float(curves[last, 0]) if last < len(curves) else float(s[-1])
    some = np.flatnonzero((s >= low) & (s <= high))
    some = some[:: max(len(some) // _LOOKED_AT, 1)]
    if len(some) < 4 or edge_high - edge_low <= 2 * _SHORTEST_M:
        return curves
    beside = [curves[k : k + 1] for k in (first - 1, last) if 0 <= k < len(curves)]

    def placed(gaps: FloatArray) -> FloatArray:
        """Starts and ends from what lies between them: shares of the room, all above zero."""
        parts = np.exp(gaps - gaps.max())
        parts = parts / parts.sum() + _LEAST_SHARE
        return edge_low + (edge_high - edge_low) * np.cumsum(parts / parts.sum())[:-1]

    def off(gaps: FloatArray) -> FloatArray:
        own = placed(gaps).reshape(-1, 2)
        # Half of each curve beside lies in the window too: it goes with them.
        rows = np.concatenate([*([beside[0]] if first > 0 else []), own, *([beside[-1]] if last < len(curves) else [])])
        inner = rows[(rows.mean(axis=1) > low) & (rows.mean(axis=1) < high)]
        return _solved(s[some], z[some], inner, (low, high))[1] - z[some]

    marks = np.concatenate([[edge_low], curves[first:last].ravel(), [edge_high]])
    start = np.log(np.maximum(np.diff(marks), 1e-3 * (edge_high - edge_low)))
    found = scipy.optimize.least_squares(off, start, method="trf", max_nfev=_TRIES, x_scale=1.0)
    out = curves.copy()
    out[first:last] = placed(found.x).reshape(-1, 2)
    better = np.abs(_levels(s, z, out) - z)
    return out if (better**2).sum() < ((_levels(s, z, curves) - z) ** 2).sum() else curves


def _fewer(s: FloatArray, z: FloatArray, curves: FloatArray, deviation_m: float) -> FloatArray:
    """The curves with two that bend one way made one, or one left out, as long as the deviation can be kept."""
    # Where it was tried in vain, until something near it has changed.
    vain: set[tuple[float, ...]] = set()
    again = True
    while again and len(curves):
        again = False
        for tried, at, first, last in _candidates(s, z, curves, deviation_m):
            around = curves[max(first - _REACH - 1, 0) : last + _REACH + 2].ravel()
            key = (float(first - last), *around.round(2).tolist())
            if key in vain:
                continue
            moved = _settled(s, z, tried, at) if len(tried) else tried
            if np.abs(_levels(s, z, moved) - z).max() <= deviation_m:
                curves, again = moved, True
                break
            vain.add(key)
    return curves


def _candidates(
    s: FloatArray, z: FloatArray, curves: FloatArray, deviation_m: float
) -> list[tuple[FloatArray, int, int, int]]:
    """One curve less in each, where, and of which curves it is made: near neighbours first, then slight bends."""
    nodes, _ = _solved(s, z, curves, (float(s[0]), float(s[-1])))
    at = np.concatenate([[s[0]], curves.mean(axis=1), [s[-1]]])
    bends, apart = np.diff(np.diff(nodes) / np.diff(at)), curves[1:, 0] - curves[:-1, 1]
    out: list[tuple[FloatArray, int, int, int]] = []
    for i in np.argsort(apart).tolist():
        if bends[i] * bends[i + 1] > 0 and apart[i] < curves[i + 1, 1] - curves[i, 0] - apart[i]:
            both = np.array([[curves[i, 0], curves[i + 1, 1]]])
            out.append((np.concatenate([curves[:i], both, curves[i + 2 :]]), i, i, i + 1))
    # How far the line would be from where it is without one: no search of its neighbours mends more than that.
    before, after = at[1:-1] - at[:-2], at[2:] - at[1:-1]
    shift = np.abs(bends) * before * after / (before + after)
    for i in np.argsort(shift).tolist():
        if shift[i] < _MENDED * deviation_m:
            out.append((np.delete(curves, i, axis=0), min(i, max(len(curves) - 2, 0)), i, i))
    return out


def _line(s: FloatArray, z: FloatArray, curves: FloatArray) -> GradeLine:
    nodes, _ = _solved(s, z, curves, (float(s[0]), float(s[-1])))
    ends = Ip(chainage_m=float(s[0]), level_m=float(nodes[0])), Ip(chainage_m=float(s[-1]), level_m=float(nodes[-1]))
    inner = [
        Ip(chainage_m=float((b + e) / 2), level_m=float(level), curve_length_m=float(e - b))
        for (b, e), level in zip(curves, nodes[1:-1], strict=True)
    ]
    return GradeLine.of([ends[0], *inner, ends[1]])
