"""The ground as it is drawn: contours in plan and along the line, and the centreline as points."""

from collections.abc import Sequence
from dataclasses import dataclass

import contourpy
import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline, CentrelineIp
from delgrun.core.ground import tin_kernels
from delgrun.core.ground.along import GroundSections
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]

# About so many contours are drawn between the lowest and the highest ground.
_CONTOURS = 80
_INTERVALS_M = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 1e3)
_STRIP_ROWS = 41
_SAMPLE_STEP_M = 5.0


def contour_interval_m(tin: Tin) -> float:
    """An even interval with which the ground has up to about 80 contours. [m]"""
    spread = float(np.ptp(tin.xyz[:, 2]))
    return next((i for i in _INTERVALS_M if spread / i <= _CONTOURS), _INTERVALS_M[-1])


def plan_contours(tin: Tin, interval_m: float) -> FloatArray:
    """(k, 5) contour segments: easting, northing of both ends, and level. [m]"""
    out: FloatArray = tin_kernels.contour_segments(tin.xyz, tin.triangles, interval_m)
    return out


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


def points_along(corners: Sequence[tuple[float, float, float]], step_m: float) -> FloatArray:
    """(k, 2) points this far apart along a centreline given by (easting, northing, radius). [m]"""
    line = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in corners])
    e, n, _ = line.locate(np.append(np.arange(0.0, line.length_m, step_m), line.length_m))
    return np.column_stack([e, n])


# The relief has about so many cells along its longer side.
_RELIEF_CELLS = 360
# Light from the north-west, half-way up the sky, on ground whose slopes are drawn this much steeper.
_LIGHT = np.array([-0.5, 0.5, np.sqrt(0.5)])
_RELIEF_STEEPER = 2.5


@dataclass(frozen=True)
class Relief:
    """Shade on an even grid of (rows, columns) from the south-west corner: 0 dark, 1 light, NaN without ground."""

    easting_m: float
    northing_m: float
    cell_m: float
    shade: FloatArray


def relief(tin: Tin) -> Relief:
    """The ground under a low light, as a picture a person reads hills from.

    References
    ----------
    Lambert's cosine law on each cell's normal; light from the north-west is the map-maker's custom.
    """
    low, high = tin.xyz[:, :2].min(axis=0), tin.xyz[:, :2].max(axis=0)
    cell = float(max(high - low) / _RELIEF_CELLS)
    columns, rows = (np.floor((high - low) / cell).astype(int) + 1).tolist()
    e = low[0] + (np.arange(columns) + 0.5) * cell
    n = low[1] + (np.arange(rows) + 0.5) * cell
    grid_e, grid_n = np.meshgrid(e, n)
    level = tin.level_at(grid_e.ravel(), grid_n.ravel()).reshape(rows, columns)
    if rows < 2 or columns < 2:
        return Relief(float(low[0]), float(low[1]), cell, np.full((rows, columns), np.nan))
    up, along = np.gradient(level * _RELIEF_STEEPER, cell)
    length = np.sqrt(up**2 + along**2 + 1)
    shade = (-along * _LIGHT[0] - up * _LIGHT[1] + _LIGHT[2]) / length
    return Relief(float(low[0]), float(low[1]), cell, np.clip(shade, 0, 1))
