"""What is drawn along a centreline: contours unrolled beside it, and the line itself as points."""

from collections.abc import Sequence

import contourpy
import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.plan_kernels import CHAINAGE, CURVED, LENGTH, TO_CURVED
from delgrun.core.ground.along import GroundSections

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

_STRIP_ROWS = 41
_SAMPLE_STEP_M = 5.0
# Chords of so much turn look like their arc. [rad]
_DRAWN_TURN = 0.04


def strip_contours(across: GroundSections, interval_m: float, reach_m: float) -> list[tuple[float, FloatArray]]:
    """Contours of the ground unrolled left and right of the centreline, as (level, (n, 2) chainage, offset)."""
    offsets = np.linspace(-reach_m, reach_m, _STRIP_ROWS)
    grid = np.full((len(offsets), len(across.chainage_m)), np.nan)
    for i in range(len(across.chainage_m)):
        offset, level = across.one(i)
        if len(offset) > 1:
            grid[:, i] = np.interp(offsets, offset, level, left=np.nan, right=np.nan)
    if np.isnan(grid).all() or grid.shape[1] < 2:
        return []
    lines = contourpy.contour_generator(across.chainage_m, offsets, np.ma.masked_invalid(grid))
    first, last = np.nanmin(grid), np.nanmax(grid)
    return [
        (float(level), np.asarray(part))
        for level in np.arange(np.ceil(first / interval_m), np.floor(last / interval_m) + 1) * interval_m
        for part in lines.lines(level)
    ]


def centreline_samples(c: Centreline) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """Chainage, easting, northing and direction each 5 m and wherever an element ends."""
    s = np.unique(
        np.concatenate(
            [np.arange(c.start_chainage_m, c.end_chainage_m, _SAMPLE_STEP_M), c.critical_chainages, [c.end_chainage_m]]
        )
    )
    return s, *c.locate(s)


def outline(c: Centreline) -> FloatArray:
    """(k, 2) easting and northing of points that draw a centreline."""
    return drawn(c)[0]


def drawn(c: Centreline) -> tuple[FloatArray, IntArray]:
    """Points that draw a centreline: ends of elements, and where it has turned.

    Returns (k, 2) easting and northing, and of each bend the number of its first point.
    """
    rows = c.line.columns
    turn = rows[:, LENGTH] * np.abs(rows[:, [CURVED, TO_CURVED]]).max(axis=1)
    count = 1 + (turn / _DRAWN_TURN).astype(np.int64)
    first = np.cumsum(count) - count
    # Each element's points are evenly apart, from its start.
    number = np.arange(count.sum()) - np.repeat(first, count)
    chainage = np.repeat(rows[:, CHAINAGE], count) + number * np.repeat(rows[:, LENGTH] / count, count)
    e, n, _ = c.locate(np.append(chainage, c.end_chainage_m))
    begins = np.array([b.from_chainage_m for b in c.bends])
    return np.column_stack([e, n]), first[np.searchsorted(rows[:, CHAINAGE], begins)]


def points_along(corners: Sequence[tuple[float, float, float]], step_m: float) -> FloatArray:
    """(k, 2) points this far apart along a centreline given by (easting, northing, radius). [m]"""
    line = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in corners])
    e, n, _ = line.locate(np.append(np.arange(0.0, line.length_m, step_m), line.length_m))
    return np.column_stack([e, n])
