"""Proof that a triangulation is a surface over its points: held at the end of every building."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.ground import building_kernels
from delgrun.core.ground.noding import SAME_POINT_M, Nodes

FloatArray = NDArray[np.float64]
# A triangle lower than this over its longest side has no level to speak of. [m]
_LOWEST_M = 1e-6


def prove(nodes: Nodes, triangles: NDArray[np.int32], twin: NDArray[np.int64], hull: NDArray[np.int64]) -> None:
    """Raise unless the triangles lie side by side without gap over the hull, none flat, with every point and edge.

    Raises
    ------
    DesignInputError
        What does not hold, and where.
    """
    if not len(triangles):
        raise DesignInputError("points", "All points lie on one line: no surface can be made of them.")
    double, flat, used = building_kernels.looked_over(nodes.plan, triangles, _LOWEST_M)
    if flat >= 0:
        _refuse("a triangle there has no width", nodes.plan[triangles[flat]].mean(axis=0))
    # Each edge belongs to two triangles that run through it in opposite senses, or to one at the outline.
    unpaired = building_kernels.first_unpaired(twin)
    if unpaired >= 0:
        _refuse("triangles overlap there", nodes.plan[triangles[unpaired // 3, unpaired % 3]])
    # Together they fill the hull, but for what lies within a millimetre of its edges: so nothing overlaps.
    a, b = nodes.plan[hull[:, 0]], nodes.plan[hull[:, 1]]
    area = abs(float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum()))
    outline = float(np.hypot(*(b - a).T).sum())
    if abs(float(double) - area) > 4 * SAME_POINT_M * outline + 1e-9 * area:
        _refuse("the triangles do not fill the surveyed land", nodes.plan[0])
    n = len(nodes.plan)
    if not used.all():
        _refuse("a point there is in no triangle", nodes.plan[int(np.flatnonzero(~used)[0])])
    missing = ~_are_edges(nodes.edges, triangles, n)
    if missing.any():
        _refuse("a breakline there is no edge of it", nodes.plan[nodes.edges[int(np.flatnonzero(missing)[0]), 0]])


def _are_edges(edges: NDArray[np.int64], triangles: NDArray[np.int32], n: int) -> NDArray[np.bool_]:
    """(k,) whether each pair of points is an edge of a triangle."""
    ends = np.zeros(n, dtype=bool)
    ends[edges] = True
    there = building_kernels.edges_between(triangles, ends)
    return np.isin(edges.min(axis=1) * n + edges.max(axis=1), there, kind="sort")


def _refuse(what: str, at: FloatArray) -> None:
    raise DesignInputError(
        "points",
        "No sound surface could be made of these points and breaklines: "
        f"{what}, {{e:length}} east and {{n:length}} north of the survey's south-west corner.",
        e=float(at[0]),
        n=float(at[1]),
    )
