"""Plane geometry of a changed place: ways through triangles, and triangles for the room that others leave."""

import numpy as np
import pythoncdt
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.noding import SAME_POINT_M

FloatArray = NDArray[np.float64]

# A triangle lower than this over its longest side is none. [m]
FLAT_M = 1e-6
# A way whose distance from an edge changes by less than this from end to end runs along it. [m]
_ALONG_M = 1e-12


def depth_in(corner: FloatArray, at: FloatArray) -> float:
    """How far inside a counter-clockwise triangle (3, 2) a place lies; below zero: outside. [m]"""
    edge, to = np.roll(corner, -1, axis=0) - corner, at - corner
    return float(((edge[:, 0] * to[:, 1] - edge[:, 1] * to[:, 0]) / np.hypot(edge[:, 0], edge[:, 1])).min())


def off_edge(ends: FloatArray, at: FloatArray) -> float:
    """Distance of a place from an edge (2, 2). [m]"""
    p, q = ends
    share = np.clip(((at - p) @ (q - p)) / ((q - p) @ (q - p)), 0, 1)
    return float(np.hypot(*(p + share * (q - p) - at)))


def in_circle(corner: FloatArray, at: FloatArray, rounding: float = 0.0) -> bool:
    """Whether the circle through a counter-clockwise triangle (3, 2) holds a place, by more than this share."""
    d = corner - at
    square = (d**2).sum(axis=1)
    return bool(np.linalg.det(np.column_stack([d, square])) > rounding * float(square.max()) ** 2)


def double_area(corner: FloatArray) -> float:
    """Twice the area of a triangle (3, 2), below zero where it runs clockwise. [m2]"""
    ab, ac = corner[1] - corner[0], corner[2] - corner[0]
    return float(ab[0] * ac[1] - ab[1] * ac[0])


def shares_within(corner: FloatArray, a: FloatArray, b: FloatArray, beside_m: float) -> tuple[FloatArray, FloatArray]:
    """Shares of the way from a to b at which it enters and leaves each triangle (n, 3, 2), counter-clockwise.

    So near beside an edge (`beside_m`; below zero: so far within it) counts as inside. What is not met is left before
    it is entered. Source: clipping against half planes, Cyrus and Beck (1978).
    """
    edge = np.roll(corner, -1, axis=1) - corner
    size = np.hypot(edge[:, :, 0], edge[:, :, 1])
    side = (edge[:, :, 0] * (a - corner)[:, :, 1] - edge[:, :, 1] * (a - corner)[:, :, 0]) / size + beside_m
    rate = (edge[:, :, 0] * (b - a)[1] - edge[:, :, 1] * (b - a)[0]) / size
    with np.errstate(divide="ignore", invalid="ignore"):
        at = -side / rate
    outside = np.where((abs(rate) <= _ALONG_M) & (side < 0), np.inf, 0.0)
    enter = np.where(rate > _ALONG_M, at, outside).max(axis=1)
    leave = np.where(rate < -_ALONG_M, at, 1.0).min(axis=1)
    return np.maximum(enter, 0.0), np.minimum(leave, 1.0)


def triangulated(at: FloatArray, edges: NDArray[np.int64], within: FloatArray) -> NDArray[np.int64]:
    """(k, 3) triangles over places (n, 2) with these edges (m, 2), as far as they lie in triangles (j, 3, 2). [m]

    Raises
    ------
    DesignInputError
        Edges too close together to be told apart.
    """
    origin = at.min(axis=0)
    plan = np.ascontiguousarray(at - origin)
    cdt = pythoncdt.Triangulation(
        pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.TRY_RESOLVE, SAME_POINT_M
    )
    cdt.insert_vertices(plan)
    cdt.insert_edges(edges.astype(np.uint32))
    cdt.erase_super_triangle()
    found = np.asarray(cdt.triangles_array()["vertices"], dtype=np.int64)
    if len(found) and found.max() >= len(plan):
        raise DesignInputError("points", "Breaklines there lie too close together to be told apart.")
    corner = plan[found]
    ab, ac = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]
    double = ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]
    longest = np.hypot(*(np.roll(corner, -1, axis=1) - corner).reshape(-1, 2).T).reshape(-1, 3).max(axis=1)
    keep = double > FLAT_M * longest
    was = within - origin
    edge = np.roll(was, -1, axis=1) - was
    to = corner.mean(axis=1)[:, None, None] - was[None]
    cross = edge[None, :, :, 0] * to[..., 1] - edge[None, :, :, 1] * to[..., 0]
    inside = (cross >= -1e-9).all(axis=2).any(axis=1)
    out: NDArray[np.int64] = found[keep & inside]
    return out
