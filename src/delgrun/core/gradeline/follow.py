"""A grade line follows its centreline when that is moved, shortened or given another start."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.governed import unkept
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.locks import DIGITS, resettled
from delgrun.core.gradeline.vertical_curve import BY_LIMITS

FloatArray = NDArray[np.float64]

# Nearer than this is the same chainage, and IPs are at least so far apart. [m]
_SAME_M, _APART_M = 1e-6, 1e-3


def straight(start_m: float, start_level_m: float, end_m: float, end_level_m: float) -> GradeLine:
    """The plainest line: from one end of the road to the other at these levels."""
    return GradeLine.of([Ip(chainage_m=start_m, level_m=start_level_m), Ip(chainage_m=end_m, level_m=end_level_m)])


def follow(line: GradeLine, at_m: FloatArray, start_m: float, end_m: float) -> tuple[GradeLine, list[int]]:
    """The line over another centreline, whose road runs from `start_m` to `end_m`; and the IPs that had no place there.

    `at_m` (n,) says where its IPs are on that centreline, NaN beyond its ends. IPs outside the road go, and those that
    would stand before the one before them; the line's ends move to the road's, and curves give way: first the length
    of those beside an end, and a held K with it where the K no longer fits.
    """
    inner: list[Ip] = []
    gone: list[int] = []
    last = start_m
    for i in range(1, len(line.ips) - 1):
        at = float(at_m[i])
        # One that stands where it stood keeps its chainage to the last digit.
        at = line.ips[i].chainage_m if abs(at - line.ips[i].chainage_m) < _SAME_M else round(at, DIGITS)
        if last + _APART_M <= at <= end_m - _APART_M:
            inner.append(replace(line.ips[i], chainage_m=at))
            last = at
        else:
            gone.append(i)
    ends = replace(line.ips[0], chainage_m=start_m), replace(line.ips[-1], chainage_m=end_m)
    out = GradeLine(resettled((ends[0], *inner, ends[1]))).held()
    while out.conflict() is not None:
        out = _give_way(out)
    return out, gone


def _give_way(line: GradeLine) -> GradeLine:
    """The line with the first curve that has no room cut down to what there is, what it kept let go.

    Where all have room, those that can't keep their start, end or point any more stay as long as they are.
    """
    ips = list(line.ips)
    for i in range(len(ips) - 1):
        over = line.curve_end_m[i] - line.curve_start_m[i + 1]
        if over <= 0:
            continue
        # The one before gives way, unless it is the start or has nothing left to give.
        at = i if ips[i].curve_length_m > 0 else i + 1
        share = 1 - float(line.before[i]) if at == i else float(line.before[at])
        room = max(ips[at].curve_length_m - over / share, 0.0)
        length = int(room * 1000) / 1000
        # What the limits ask is kept as far as there is room anyway.
        follows = ips[at].held in BY_LIMITS and ips[at].held_k_m_per_pct is None
        ips[at] = replace(ips[at], curve_length_m=length) if follows else ips[at].freed(length)
        return GradeLine(tuple(ips))
    for i in range(1, len(ips) - 1):
        if unkept(ips[i], line.curve(i), "") is not None:
            ips[i] = ips[i].freed()
    return GradeLine(tuple(ips))
