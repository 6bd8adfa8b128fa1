"""Contours of the ground as lines, exact through its triangles."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground import contour_kernels
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]

_INTERVALS = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 1e3)
# About so many contours are drawn between the lowest and the highest ground.
_CONTOURS = 80


@dataclass(frozen=True)
class Contours:
    """Line i has the points `start[i]` to `start[i + 1]` of `plan` (r, 2) [m] and the level `level[i]` [m]."""

    start: NDArray[np.int64]
    plan: FloatArray
    level: FloatArray


def contour_interval_m(tin: Tin, unit_m: float = 1.0) -> float:
    """An interval, even in a unit of length [m], with which the ground has up to about 80 contours. [m]"""
    # A spike or two must not make all others disappear.
    low, high = np.percentile(tin.xyz[:, 2], [0.5, 99.5])
    least = 0.5 if unit_m == 1.0 else 1.0
    return unit_m * next(
        (i for i in _INTERVALS if i >= least and (high - low) / (unit_m * i) <= _CONTOURS), _INTERVALS[-1]
    )


def contours(
    tin: Tin, interval_m: float, box_m: tuple[float, float, float, float] | None = None, closer_m: float = 0.0
) -> Contours:
    """Lines at the multiples of an interval.

    Parameters
    ----------
    interval_m : float
        Levels are its multiples. [m]
    box_m : (west, south, east, north), optional
        Only triangles that touch it; their lines run a little beyond. [m]
    closer_m : float
        Points nearer to each other than this are left out, for drawing; 0 keeps all. [m]

    References
    ----------
    Linear interpolation within each triangle; tests hold them against `contourpy` on a grid.
    """
    which = np.arange(len(tin.triangles)) if box_m is None else triangles_in(tin, box_m)
    step, edge, end = contour_kernels.crossings(tin.xyz, tin.triangles, which, interval_m)
    start, plan, steps = contour_kernels.join(step, end, _partners(step, edge), closer_m)
    return Contours(start, plan, steps * interval_m)


def triangles_in(tin: Tin, box_m: tuple[float, float, float, float]) -> NDArray[np.int64]:
    """Numbers of the triangles whose boxes touch a box (west, south, east, north) [m]."""
    c = tin.cells
    found: NDArray[np.int64] = contour_kernels.triangles_in_box(
        tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, *box_m
    )
    return found


def _partners(step: NDArray[np.int64], edge: NDArray[np.int64]) -> NDArray[np.int64]:
    """The end that crosses the same edge at the same level, or -1."""
    partner = np.full(2 * len(step), -1)
    if not len(step):
        return partner
    key, level = edge.ravel(), np.repeat(step, 2)
    order = np.lexsort((key, level))
    same = (key[order[1:]] == key[order[:-1]]) & (level[order[1:]] == level[order[:-1]])
    a, b = order[:-1][same], order[1:][same]
    partner[a], partner[b] = b, a
    return partner
