"""The ground as it is looked at from the air: as many triangles as can be drawn, with every spike and pit in them."""

from dataclasses import dataclass

import numpy as np
import pythoncdt
from numpy.typing import NDArray

from delgrun.core.ground.contours import triangles_in
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]

# So many triangles turn smoothly without a graphics card.
MOST_TRIANGLES = 60_000


@dataclass(frozen=True)
class BirdsEye:
    """`xyz` (k, 3) [m], `triangles` (m, 3) numbers of them, and whether these are all of the ground's own."""

    xyz: FloatArray
    triangles: NDArray[np.int64]
    whole: bool


def birds_eye(tin: Tin, box_m: tuple[float, float, float, float], most: int = MOST_TRIANGLES) -> BirdsEye:
    """The ground within a box (west, south, east, north) [m].

    Where there are more triangles than can be drawn, the highest and the lowest point of each cell of an even grid
    stand for the others, so that what sticks out still does.
    """
    which = triangles_in(tin, box_m)
    own = tin.triangles[which]
    if len(own) <= most:
        used, number = np.unique(own, return_inverse=True)
        return BirdsEye(tin.xyz[used], number.reshape(-1, 3), True)
    points = tin.xyz[np.unique(own)]
    plan = points[:, :2] - points[:, :2].min(axis=0)
    span = np.maximum(plan.max(axis=0), 1e-3)
    side = float(np.sqrt(span[0] * span[1] / (most / 4)))
    cell = np.floor(plan / side).astype(np.int64) @ [int(span[1] / side) + 2, 1]
    order = np.lexsort((points[:, 2], cell))
    first = np.flatnonzero(np.r_[True, np.diff(cell[order]) != 0])
    last = np.r_[first[1:], len(order)] - 1
    chosen = np.unique(order[np.concatenate([first, last])])
    cdt = pythoncdt.Triangulation(
        pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.NOT_ALLOWED, 0.0
    )
    cdt.insert_vertices(np.ascontiguousarray(plan[chosen]))
    cdt.erase_super_triangle()
    made = np.asarray(cdt.triangles_array()["vertices"], dtype=np.int64)
    middle = points[chosen][made].mean(axis=1)
    # Bays of the surveyed strip hold no ground.
    there = ~np.isnan(tin.level_at(middle[:, 0].copy(), middle[:, 1].copy()))
    return BirdsEye(points[chosen], made[there], False)
