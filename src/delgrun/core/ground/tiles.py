"""The ground in square tiles, as a map shows it: levels to shade, contours, breaklines and points.

Tiles lie on one grid for all surveys, so that another survey moves none of them: at zoom z a pixel is 2**-z m, and
tile (column, row) begins column and row tiles east and north of (0, 0).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground import building_kernels, contour_kernels
from delgrun.core.ground.contours import Contours, contours, triangles_in
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]

TILE_PIXELS = 256
# A level each so many pixels.
CELL_PIXELS = 1
LOWEST_ZOOM, HIGHEST_ZOOM = -8, 8
# Points are shown from this zoom on, where they lie far enough apart to be picked.
_MOST_POINTS = 2000
# Contour points nearer than this many pixels to each other look like one.
_CLOSER_PIXELS = 0.4


@dataclass(frozen=True)
class Place:
    """Which tile."""

    zoom: int
    column: int
    row: int

    @property
    def pixel_m(self) -> float:
        return float(2.0**-self.zoom)

    @property
    def box_m(self) -> tuple[float, float, float, float]:
        """West, south, east, north. [m]"""
        side = self.pixel_m * TILE_PIXELS
        return self.column * side, self.row * side, (self.column + 1) * side, (self.row + 1) * side


@dataclass(frozen=True)
class Tile:
    """`level` (c + 2, c + 2) at the middles of its cells and one more all round, rows from the south [m];
    `lines` contours; `edges` (k, 4) breaklines' ends [m]; `point` (p,) numbers of `xyz` of its points and `sides`
    (t, 4) ends of its triangles' edges, empty where there are too many to be told apart.
    """

    level: FloatArray
    lines: Contours
    edges: FloatArray
    point: NDArray[np.int64]
    sides: FloatArray


def tile(tin: Tin, place: Place, interval_m: float) -> Tile:
    """One tile, with contours at the multiples of an interval; 0 leaves them out."""
    west, south, east, north = place.box_m
    cell = place.pixel_m * CELL_PIXELS
    count = TILE_PIXELS // CELL_PIXELS
    level = levels_in(tin, (west - cell, south - cell), cell, count + 2)
    lines = Contours(np.zeros(1, dtype=np.int64), np.zeros((0, 2)), np.zeros(0))
    if interval_m > 0:
        lines = contours(tin, interval_m, place.box_m, _CLOSER_PIXELS * place.pixel_m)
    xyz, edges = tin.xyz, tin.edges
    a, b = xyz[edges[:, 0], :2], xyz[edges[:, 1], :2]
    low, high = np.minimum(a, b), np.maximum(a, b)
    near = (low[:, 0] <= east) & (high[:, 0] >= west) & (low[:, 1] <= north) & (high[:, 1] >= south)
    return Tile(level, lines, np.column_stack([a, b])[near], *_details(tin, place))


def levels_in(tin: Tin, corner_m: tuple[float, float], cell_m: float, count: int) -> FloatArray:
    """(count, count) levels at the middles of cells, from the south-west corner on. [m]"""
    west, south = corner_m
    which = triangles_in(tin, (west, south, west + count * cell_m, south + count * cell_m))
    if len(which) < count * count:
        out: FloatArray = contour_kernels.painted(tin.xyz, tin.triangles, which, west, south, cell_m, count)
        return out
    middle = (np.arange(count) + 0.5) * cell_m
    e, n = np.meshgrid(west + middle, south + middle)
    return tin.level_at(e.ravel(), n.ravel()).reshape(count, count)


def _details(tin: Tin, place: Place) -> tuple[NDArray[np.int64], FloatArray]:
    """Points within a tile and edges of the triangles that touch it; nothing where there are too many."""
    west, south, east, north = place.box_m
    which = triangles_in(tin, place.box_m)
    if len(which) > 2 * _MOST_POINTS:
        return np.zeros(0, dtype=np.int64), np.zeros((0, 4))
    corner = tin.triangles[which]
    used = np.unique(corner)
    e, n = tin.xyz[used, 0], tin.xyz[used, 1]
    inside = used[(e >= west) & (e < east) & (n >= south) & (n < north) & (tin.row[used] >= 0)]
    pairs = np.concatenate([corner[:, [0, 1]], corner[:, [1, 2]], corner[:, [2, 0]]])
    pairs = np.unique(np.sort(pairs, axis=1), axis=0)
    return inside.astype(np.int64), np.column_stack([tin.xyz[pairs[:, 0], :2], tin.xyz[pairs[:, 1], :2]])


@dataclass(frozen=True)
class Surface:
    """Areas of a ground model, in plan and along its triangles. [m2]"""

    plan_area_m2: float
    surface_area_m2: float


@dataclass(frozen=True)
class Extents:
    """How many surveyed points a ground model has, and its box: west, south, lowest, east, north, highest. [m]"""

    points: int
    box_m: list[float]


def extents(tin: Tin) -> Extents:
    """Extents of what is in a triangle: a point that was taken out by hand is in none any more."""
    count, box = building_kernels.extents(tin.xyz, tin.triangles, tin.row)
    return Extents(int(count), box.tolist())


def surface(tin: Tin) -> Surface:
    """Areas of a surface.

    References
    ----------
    Area of a triangle in space: half the length of the cross product of two sides.
    """
    plan, real = building_kernels.areas(tin.xyz, tin.triangles)
    return Surface(float(plan), float(real))
