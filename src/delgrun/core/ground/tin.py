"""The ground model: a triangulated surface that honours breaklines."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import pythoncdt
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.ground import tin_kernels

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int32]

# Points closer than this in plan are one point: a survey has no better precision. [m]
SAME_POINT_M = 0.001
# No grid of coordinates is larger; a larger number is a mistake. [m]
LARGEST_COORDINATE_M = 1e8


@dataclass(frozen=True)
class CellIndex:
    """Triangles by the cells of an even grid that their boxes touch."""

    x0: float
    y0: float
    size: float
    nx: int
    ny: int
    start: NDArray[np.int64]
    triangle: IntArray


@dataclass(frozen=True)
class Tin:
    """Triangles over survey points.

    `xyz` (n, 3) easting, northing, level [m]; `triangles` (m, 3) counter-clockwise point numbers;
    `dropped_duplicates` counts points left out because another point has the same place.
    """

    xyz: FloatArray
    triangles: IntArray
    dropped_duplicates: int = 0

    @cached_property
    def cells(self) -> CellIndex:
        lo = self.xyz[:, :2].min(axis=0)
        span = np.maximum(self.xyz[:, :2].max(axis=0) - lo, 1e-3)
        size = float(np.sqrt(span[0] * span[1] / max(len(self.triangles), 1)) * 1.6)
        size = max(size, float(span.max()) / 4000.0, 1e-3)
        nx, ny = int(span[0] / size) + 1, int(span[1] / size) + 1
        start, triangle = tin_kernels.bin_triangles(self.xyz, self.triangles, lo[0], lo[1], size, nx, ny)
        return CellIndex(float(lo[0]), float(lo[1]), size, nx, ny, start, triangle)

    def level_at(self, easting_m: FloatArray, northing_m: FloatArray) -> FloatArray:
        """(n,) ground level [m]; NaN where there is no ground, never an extrapolated level."""
        c = self.cells
        e = np.ascontiguousarray(easting_m, dtype=np.float64)
        n = np.ascontiguousarray(northing_m, dtype=np.float64)
        out: FloatArray = tin_kernels.levels(
            self.xyz, self.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, e, n
        )
        return out


def build_tin(xyz: FloatArray, breaklines: list[NDArray[np.int64]] | None = None, longest_edge_m: float = 0.0) -> Tin:
    """Constrained Delaunay triangulation of survey points.

    Parameters
    ----------
    xyz : (n, 3) float array
        Easting, northing, level. [m]
    breaklines : list of (k,) int arrays
        Point numbers in order; every consecutive pair becomes an edge of the surface. Where two
        breaklines cross, a point is added with the level of the first one there.
    longest_edge_m : float
        Outer triangles with a longer edge are taken away, from the outside in, so that bays of the
        surveyed strip hold no false ground; 0 keeps the convex hull. [m]

    Raises
    ------
    DesignInputError
        Fewer than three points, points all on one line, or a coordinate that is not a number.

    References
    ----------
    Constrained Delaunay triangulation; reference value 8.4 shows what a breakline changes.
    """
    xyz = np.ascontiguousarray(xyz, dtype=np.float64)
    if xyz.ndim != 2 or len(xyz) < 3:
        raise DesignInputError("points", f"A ground model needs at least 3 points, there are {len(xyz)}.")
    if not np.isfinite(xyz).all():
        row = int(np.flatnonzero(~np.isfinite(xyz).all(axis=1))[0])
        raise DesignInputError("points", f"Point {row + 1} has a coordinate that is not a number.")
    far = (np.abs(xyz) > LARGEST_COORDINATE_M).any(axis=1)
    if far.any():
        row = int(np.flatnonzero(far)[0])
        raise DesignInputError("points", f"Point {row + 1} lies beyond 100 000 km: check the columns, or its line.")
    # A local origin keeps large grid coordinates from eating the digits of the predicates.
    origin = np.floor(xyz[:, :2].min(axis=0))
    grid = np.round((xyz[:, :2] - origin) / SAME_POINT_M).astype(np.int64)
    key = grid[:, 0] * (grid[:, 1].max() + 2) + grid[:, 1]
    _, first, same_as = np.unique(key, return_index=True, return_inverse=True)
    order = np.argsort(first)
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    kept = xyz[np.sort(first)]
    number = rank[same_as]
    flat = kept[:, :2] - origin
    if len(kept) < 3 or np.linalg.matrix_rank(flat - flat.mean(axis=0), tol=1e-6) < 2:
        raise DesignInputError("points", "All points lie on one line: no surface can be made of them.")
    edges = _breakline_edges(breaklines or [], number)
    cdt = pythoncdt.Triangulation(
        pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.TRY_RESOLVE, 0.0
    )
    cdt.insert_vertices(np.ascontiguousarray(flat))
    if len(edges):
        cdt.insert_edges(np.ascontiguousarray(edges, dtype=np.uint32))
    cdt.erase_super_triangle()
    vertices = cdt.vertices_array()
    plan = np.column_stack([vertices["x"], vertices["y"]])
    triangles = np.ascontiguousarray(cdt.triangles_array()["vertices"], dtype=np.int32)
    level = np.concatenate([kept[:, 2], _crossing_levels(plan[len(kept) :], flat, kept[:, 2], edges)])
    full = np.column_stack([plan + origin, level])
    full[: len(kept), :2] = kept[:, :2]
    if longest_edge_m > 0:
        triangles = tin_kernels.trim_outer(full, triangles, longest_edge_m)
    return Tin(np.ascontiguousarray(full), triangles, len(xyz) - len(kept))


def _breakline_edges(breaklines: list[NDArray[np.int64]], number: NDArray[np.int64]) -> NDArray[np.int64]:
    """(k, 2) distinct edges between kept points."""
    pairs = [np.column_stack([number[line[:-1]], number[line[1:]]]) for line in breaklines if len(line) > 1]
    if not pairs:
        return np.zeros((0, 2), dtype=np.int64)
    edges = np.sort(np.concatenate(pairs), axis=1)
    edges = edges[edges[:, 0] != edges[:, 1]]
    return np.unique(edges, axis=0)


def _crossing_levels(extra: FloatArray, plan: FloatArray, level: FloatArray, edges: NDArray[np.int64]) -> FloatArray:
    """Levels for the points that crossing breaklines added: from the first breakline through each."""
    out = np.zeros(len(extra))
    if not len(extra):
        return out
    a, b = plan[edges[:, 0]], plan[edges[:, 1]]
    along = b - a
    length2 = (along**2).sum(axis=1)
    for i, p in enumerate(extra):
        t = np.clip(((p - a) * along).sum(axis=1) / length2, 0, 1)
        off = np.hypot(*(a + t[:, None] * along - p).T)
        j = int(np.flatnonzero(off <= off.min() + 1e-6)[0])
        out[i] = level[edges[j, 0]] * (1 - t[j]) + level[edges[j, 1]] * t[j]
    return out
