"""A profile that comes from elsewhere, made a grade line of a road: cut or led on to its ends."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import TOUCH_TOLERANCE_M, GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.placing import cut_curve
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# Points that lie within this of the straight line past them are left out of a profile that is kept as it is. [m]
_STRAIGHT_M = 5e-4
# Points nearer than this are one. [m]
_SAME_M = 1e-3
# A line has no more IPs.
_MOST_IPS = 1000


def in_order(points: FloatArray) -> FloatArray:
    """(n, 2) points by chainage, one of each place.

    Raises
    ------
    DesignInputError
        Two levels at one chainage, or fewer than two points.
    """
    rows: FloatArray = points[np.argsort(points[:, 0], kind="stable")]
    same = np.diff(rows[:, 0]) < _SAME_M
    steep = same & (np.abs(np.diff(rows[:, 1])) > _SAME_M)
    if steep.any():
        at = float(rows[int(np.flatnonzero(steep)[0]), 0])
        raise DesignInputError("file", "The profile has two levels at {at:chainage}: a grade line has one.", at=at)
    rows = rows[np.concatenate([[True], ~same])]
    if len(rows) < 2:
        raise DesignInputError("file", "A profile has at least two points at different chainages.")
    return rows


def as_it_is(points: FloatArray) -> GradeLine:
    """A line with an IP at each point where the profile bends, and no curves.

    Raises
    ------
    DesignInputError
        It bends at more points than a line has IPs.
    """
    rows = in_order(points)
    kept = [0]
    for i in range(1, len(rows) - 1):
        a, b = rows[kept[-1]], rows[i + 1]
        between = rows[kept[-1] + 1 : i + 1]
        straight = a[1] + (b[1] - a[1]) * (between[:, 0] - a[0]) / (b[0] - a[0])
        if np.abs(between[:, 1] - straight).max() > _STRAIGHT_M:
            kept.append(i)
    kept.append(len(rows) - 1)
    if len(kept) > _MOST_IPS:
        raise DesignInputError(
            "file",
            f"The profile bends at {len(kept)} points, and a line has at most {_MOST_IPS} IPs: let it be fitted.",
        )
    return GradeLine.of([Ip(chainage_m=float(s), level_m=float(z)) for s, z in rows[kept]])


def on_road(line: GradeLine, from_m: float, to_m: float) -> tuple[GradeLine, list[str]]:
    """The line from one end of a road to the other: cut there, or its outer grades led on; and what was done. [m]

    Raises
    ------
    DesignInputError
        It lies beside the road.
    """
    start, end = float(line.chainage_m[0]), float(line.chainage_m[-1])
    if not (start < to_m and from_m < end):
        raise DesignInputError(
            "file",
            "The profile runs from {a:chainage} to {b:chainage}, and the road from {c:chainage} to {d:chainage}.",
            a=start,
            b=end,
            c=from_m,
            d=to_m,
        )
    said: list[str] = []
    if start < from_m - TOUCH_TOLERANCE_M:
        line = _cut(line, from_m, ahead=True)
        said.append(say("What lies before {s:chainage} was cut off.", s=from_m))
    elif start > from_m + TOUCH_TOLERANCE_M:
        said.append(say("Its first grade was led back by {m:length}, to the start of the road.", m=start - from_m))
    if end > to_m + TOUCH_TOLERANCE_M:
        line = _cut(line, to_m, ahead=False)
        said.append(say("What lies behind {s:chainage} was cut off.", s=to_m))
    elif end < to_m - TOUCH_TOLERANCE_M:
        said.append(say("Its last grade was extended by {m:length}, to the end of the road.", m=to_m - end))
    first, last = line.ips[0], line.ips[-1]
    before = first.level_m + float(line.grade[0]) * (from_m - first.chainage_m)
    after = last.level_m + float(line.grade[-1]) * (to_m - last.chainage_m)
    ends = Ip(chainage_m=from_m, level_m=before), Ip(chainage_m=to_m, level_m=after)
    return GradeLine.of([ends[0], *line.ips[1:-1], ends[1]]), said


def _cut(line: GradeLine, at_m: float, *, ahead: bool) -> GradeLine:
    """The part of a line ahead of a chainage, or behind it; a curve that is cut there stays what it was."""
    level = float(line.levels(np.array([at_m]))[0])
    within = (line.curve_start_m + TOUCH_TOLERANCE_M < at_m) & (at_m < line.curve_end_m - TOUCH_TOLERANCE_M)
    if within.any():
        line = cut_curve(line, int(np.flatnonzero(within)[0]), at_m, level)
    end = Ip(chainage_m=at_m, level_m=level)
    if ahead:
        return GradeLine((end, *(ip for ip in line.ips[1:] if ip.chainage_m > at_m + _SAME_M)))
    return GradeLine((*(ip for ip in line.ips[:-1] if ip.chainage_m < at_m - _SAME_M), end))
