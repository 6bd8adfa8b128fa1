"""The ground model: a triangulated surface that honours breaklines."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import pythoncdt
from numpy.typing import NDArray

from delgrun.core.budget import LARGEST_COORDINATE_M, MOST_POINTS
from delgrun.core.errors import DesignInputError
from delgrun.core.ground import building_kernels, tin_kernels
from delgrun.core.ground.noding import SAME_POINT_M, Nodes, PointGrid, breakline_edges, distinct, untangle
from delgrun.core.ground.proof import prove

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int32]

_MOST_CELLS_A_TRIANGLE = 16
# Points within such a strip are one line of points. [m]
_NARROWEST_M = 5 * SAME_POINT_M
_ON_ONE_LINE = "All points lie on one line: no surface can be made of them."


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
    `doubles` (k, 2) rows of surveyed points left out because another one has the same place, and that other one.
    `apart_m` (c,) by how much the levels of breaklines differ where they cross; the surface has their mean.
    `row` (n,) row of the survey of each point, -1 for those that crossings added; `edges` (k, 2) pieces of
    breaklines, each an edge of the surface.
    """

    xyz: FloatArray
    triangles: IntArray
    doubles: NDArray[np.int64]
    apart_m: FloatArray
    row: NDArray[np.int64]
    edges: IntArray

    @cached_property
    def cells(self) -> CellIndex:
        lo = self.xyz[:, :2].min(axis=0)
        span = np.maximum(self.xyz[:, :2].max(axis=0) - lo, 1e-3)
        size = float(np.sqrt(span[0] * span[1] / max(len(self.triangles), 1)) * 1.6)
        size = max(size, float(span.max()) / 4000.0, 1e-3)
        # Long narrow triangles stand in many cells: larger cells then, so that the index stays as large as the ground.
        most = _MOST_CELLS_A_TRIANGLE * len(self.triangles) + 100_000
        while True:
            nx, ny = int(span[0] / size) + 1, int(span[1] / size) + 1
            if tin_kernels.count_cells(self.xyz, self.triangles, lo[0], lo[1], size, nx, ny) <= most:
                break
            size *= 1.5
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
        Point numbers in order; every consecutive pair becomes an edge of the surface, or several where it passes
        other points or crosses other breaklines; see `untangle`.
    longest_edge_m : float
        Outer triangles with a longer edge are taken away, from the outside in, so that bays of the
        surveyed strip hold no false ground; 0 keeps the convex hull. [m]

    Raises
    ------
    DesignInputError
        Fewer than three points, points all on one line, a coordinate that is not a number, or breaklines that
        cross too often to be meant.

    References
    ----------
    Constrained Delaunay triangulation; reference value 8.4 shows what a breakline changes.
    """
    xyz = np.ascontiguousarray(xyz, dtype=np.float64)
    if xyz.ndim != 2 or len(xyz) < 3:
        raise DesignInputError("points", f"A ground model needs at least 3 points, there are {len(xyz)}.")
    if len(xyz) > MOST_POINTS:
        raise DesignInputError(
            "points",
            f"There are {len(xyz)} points, and {MOST_POINTS} at most can be one ground model: thin them.",
        )
    if not np.isfinite(xyz).all():
        row = int(np.flatnonzero(~np.isfinite(xyz).all(axis=1))[0])
        raise DesignInputError("points", f"Point {row + 1} has a coordinate that is not a number.")
    far = (np.abs(xyz) > LARGEST_COORDINATE_M).any(axis=1)
    if far.any():
        row = int(np.flatnonzero(far)[0])
        raise DesignInputError("points", f"Point {row + 1} lies beyond 100 000 km: check the columns, or its line.")
    # A local origin keeps large grid coordinates from eating the digits of the predicates.
    origin = np.floor(xyz[:, :2].min(axis=0))
    grid = PointGrid(np.ascontiguousarray(xyz[:, :2] - origin))
    same = grid.first_within(SAME_POINT_M)
    # Cell by cell: points that are near each other in memory too are triangulated, and looked up, twice as fast.
    first = grid.by_cell[same[grid.by_cell] == grid.by_cell]
    place = np.empty(len(xyz), dtype=np.int64)
    place[first] = np.arange(len(first))
    number = place[same]
    kept = np.take(xyz, first, axis=0)
    plan = np.ascontiguousarray(kept[:, :2] - origin)
    hull = _hull(plan)
    own = untangle(plan, kept[:, 2], breakline_edges(breaklines or [], number))
    edges, is_break = distinct(
        np.concatenate([own.edges, hull]), np.arange(len(own.edges) + len(hull)) < len(own.edges)
    )
    nodes = untangle(own.plan, own.level, edges, marked=is_break)
    triangles, twin = triangulate(nodes)
    prove(nodes, triangles, twin, hull)
    full = np.column_stack([nodes.plan + origin, nodes.level])
    full[: len(kept), :2] = kept[:, :2]
    if longest_edge_m > 0:
        triangles = building_kernels.trim_outer(full, triangles, twin, longest_edge_m)
    doubles = np.flatnonzero(same != np.arange(len(xyz)))
    return Tin(
        np.ascontiguousarray(full),
        triangles,
        np.column_stack([doubles, same[doubles]]),
        own.apart_m,
        np.concatenate([first, np.full(len(full) - len(first), -1)]),
        still_edges(nodes.edges[nodes.marked], triangles, len(full)),
    )


def _hull(plan: FloatArray) -> NDArray[np.int64]:
    """(k, 2) edges of the convex hull.

    Raises
    ------
    DesignInputError
        All points lie on one line.
    """
    # Half as long to import as all the rest, and a server that is started again must be back soon.
    from scipy.spatial import ConvexHull, QhullError

    outer = building_kernels.outer(plan, SAME_POINT_M)
    centred = plan[outer] - plan[outer].mean(axis=0)
    across = np.linalg.eigh(centred.T @ centred)[1][:, 0]
    if np.ptp(centred @ across) < _NARROWEST_M:
        raise DesignInputError("points", _ON_ONE_LINE)
    try:
        corners = outer[ConvexHull(plan[outer]).vertices].astype(np.int64)
    except QhullError as e:
        raise DesignInputError("points", _ON_ONE_LINE) from e
    return np.column_stack([corners, np.roll(corners, -1)])


def triangulate(nodes: Nodes) -> tuple[IntArray, NDArray[np.int64]]:
    """(m, 3) counter-clockwise triangles within the hull, with every edge of `nodes`, and (3 m,) their twins."""
    cdt = pythoncdt.Triangulation(
        pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.NOT_ALLOWED, 0.0
    )
    try:
        cdt.insert_vertices(np.ascontiguousarray(nodes.plan))
        cdt.insert_edges(np.ascontiguousarray(nodes.edges, dtype=np.uint32))
    except RuntimeError as e:
        raise DesignInputError("points", f"No surface could be made of these points and breaklines: {e}.") from e
    # The hull is an edge too: without it, flat hollows of the outline would be left without ground.
    made = cdt.triangles_array()
    count = len(nodes.plan)
    fixed = np.sort(nodes.edges.min(axis=1) * count + nodes.edges.max(axis=1))
    triangles, neighbours = building_kernels.within_edges(made["vertices"], made["neighbors"], count, fixed)
    return triangles, building_kernels.twins(triangles, neighbours)


def still_edges(edges: NDArray[np.int64], triangles: NDArray[np.int32], count: int) -> NDArray[np.int32]:
    """Those of (k, 2) pairs of points that are edges of a triangle."""
    ends = np.zeros(count, dtype=bool)
    ends[edges] = True
    some = triangles[ends[triangles].sum(axis=1) > 1]
    sides = np.concatenate([some[:, [0, 1]], some[:, [1, 2]], some[:, [2, 0]]]).astype(np.int64)
    there = np.unique(sides.min(axis=1) * count + sides.max(axis=1))
    kept = np.isin(edges.min(axis=1) * count + edges.max(axis=1), there)
    return np.ascontiguousarray(edges[kept], dtype=np.int32)
