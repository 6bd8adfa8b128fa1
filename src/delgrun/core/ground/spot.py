"""The ground at one place: its level, how steep it is, and the surveyed point nearby."""

from dataclasses import dataclass

import numpy as np

from delgrun.core.ground.contours import triangles_in
from delgrun.core.ground.tin import Tin


@dataclass(frozen=True)
class Spot:
    """Level [m] and slope (rise over run; None without ground), the direction in which it falls [rad, clockwise from
    north], and the nearest corner of its triangle: row of the survey, level [m], how far [m].
    """

    level_m: float | None
    slope: float | None
    falls_to: float | None
    point_row: int | None
    point_level_m: float | None
    point_away_m: float | None


_NOTHING = Spot(None, None, None, None, None, None)


def spot(tin: Tin, easting_m: float, northing_m: float) -> Spot:
    """What the ground is at (easting, northing)."""
    level = float(tin.level_at(np.array([easting_m]), np.array([northing_m]))[0])
    if np.isnan(level):
        return _NOTHING
    which = triangles_in(tin, (easting_m, northing_m, easting_m, northing_m))
    corner = tin.xyz[tin.triangles[which]]
    at = np.array([easting_m, northing_m])
    # The triangle that holds the place: the one whose nearest edge is farthest inward.
    edge = np.roll(corner, -1, axis=1)[:, :, :2] - corner[:, :, :2]
    to = at - corner[:, :, :2]
    inward = (edge[:, :, 0] * to[:, :, 1] - edge[:, :, 1] * to[:, :, 0]) / np.hypot(edge[:, :, 0], edge[:, :, 1])
    t = int(np.argmax(inward.min(axis=1)))
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
        point_level_m=float(corner[t, nearest, 2]),
        point_away_m=float(away[nearest]),
    )
