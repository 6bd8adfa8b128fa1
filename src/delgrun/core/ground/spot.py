"""The ground at one place: its level, how steep it is, and the surveyed point nearby."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.contours import triangles_in
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class Spot:
    """Level [m] and slope (rise over run; None without ground), the direction in which it falls [rad, clockwise from
    north], and the nearest corner of its triangle: row of the survey, place and level [m], how far [m].
    """

    level_m: float | None
    slope: float | None
    falls_to: float | None
    point_row: int | None
    point_easting_m: float | None
    point_northing_m: float | None
    point_level_m: float | None
    point_away_m: float | None


_NOTHING = Spot(None, None, None, None, None, None, None, None)


def spot(tin: Tin, easting_m: float, northing_m: float) -> Spot:
    """What the ground is at (easting, northing)."""
    level = float(tin.level_at(np.array([easting_m]), np.array([northing_m]))[0])
    if np.isnan(level):
        return _NOTHING
    which = triangles_in(tin, (easting_m, northing_m, easting_m, northing_m))
    corner = tin.xyz[tin.triangles[which]]
    at = np.array([easting_m, northing_m])
    t = int(np.argmax(_inward(corner, at).min(axis=1)))
    a, b, c = corner[t]
    normal = np.cross(b - a, c - a)
    fall = normal[:2] / normal[2]
    slope = float(np.hypot(*fall))
    away = np.hypot(*(corner[t, :, :2] - at).T)
    nearest = int(np.argmin(away))
    row = int(tin.row[tin.triangles[which[t], nearest]])
    return Spot(
        level_m=level,
        slope=slope,
        falls_to=float(np.arctan2(fall[0], fall[1]) % (2 * np.pi)) if slope > 0 else None,
        point_row=row if row >= 0 else None,
        point_easting_m=float(corner[t, nearest, 0]),
        point_northing_m=float(corner[t, nearest, 1]),
        point_level_m=float(corner[t, nearest, 2]),
        point_away_m=float(away[nearest]),
    )


def _inward(corner: FloatArray, at: FloatArray) -> FloatArray:
    """(k, 3) how far a place lies inward of each edge of triangles (k, 3, 3), outward negative. [m]"""
    edge = np.roll(corner, -1, axis=1)[:, :, :2] - corner[:, :, :2]
    to = at - corner[:, :, :2]
    out: FloatArray = (edge[:, :, 0] * to[:, :, 1] - edge[:, :, 1] * to[:, :, 0]) / np.hypot(
        edge[:, :, 0], edge[:, :, 1]
    )
    return out


@dataclass(frozen=True)
class TriangleAt:
    """A triangle's `corners` (easting, northing, level) [m]; `edge` is the one nearest to the place asked for, `other`
    the diagonal it could be swapped for (None where it can't be), and why it can't.
    """

    corners: list[list[float]]
    edge: list[list[float]]
    other: list[list[float]] | None
    why_not: str


def triangle_at(tin: Tin, easting_m: float, northing_m: float) -> TriangleAt | None:
    """The triangle at a place, with its nearest edge; None without ground."""
    at = np.array([easting_m, northing_m])
    which = triangles_in(tin, (easting_m, northing_m, easting_m, northing_m))
    if not len(which):
        return None
    inward = _inward(tin.xyz[tin.triangles[which]], at)
    t = int(np.argmax(inward.min(axis=1)))
    if inward[t].min() < -1e-5:
        return None
    k = int(np.argmin(inward[t]))
    corner = tin.triangles[which[t]].tolist()
    a, b, c = corner[k], corner[(k + 1) % 3], corner[(k + 2) % 3]
    p = tin.xyz
    edge = [p[a].tolist(), p[b].tolist()]
    box = np.concatenate([np.minimum(p[a, :2], p[b, :2]), np.maximum(p[a, :2], p[b, :2])])
    beside = tin.triangles[triangles_in(tin, (box[0], box[1], box[2], box[3]))]
    beyond = [v for tri in beside.tolist() if a in tri and b in tri and c not in tri for v in tri if v not in (a, b)]
    corners = [p[v].tolist() for v in corner]
    if not beyond:
        return TriangleAt(corners, edge, None, "This edge is the ground's outline.")
    if len(tin.edges) and (np.sort(tin.edges, axis=1) == sorted((a, b))).all(axis=1).any():
        return TriangleAt(corners, edge, None, "This edge is part of a breakline.")
    d = beyond[0]

    def turns_left(u: int, v: int, w: int) -> bool:
        (x, y), (s, r) = p[v, :2] - p[u, :2], p[w, :2] - p[u, :2]
        return bool(x * r - y * s > 1e-9)

    if not (turns_left(c, a, d) and turns_left(d, b, c)):
        return TriangleAt(corners, edge, None, "The other diagonal would lie outside these two triangles.")
    return TriangleAt(corners, edge, [p[c].tolist(), p[d].tolist()], "")
