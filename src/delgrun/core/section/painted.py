"""Lines along the edges of lanes, with widening, ranges and added lanes, for the list of markings."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import STEP_M
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.typical_section import SIDES, Side

FloatArray = NDArray[np.float64]

# A line is straight where it leaves that by less. [m]
_STRAIGHT_M = 5e-4


@dataclass(frozen=True)
class Painted:
    """A piece of a line beside the centreline, straight from one chainage and offset to another. [m]

    Offsets are positive to the right. An edge line is the outer edge of the lanes, a lane line the inner edge of an
    added one.
    """

    what: str
    side: Side
    from_m: float
    to_m: float
    from_offset_m: float
    to_offset_m: float


def painted(design: RoadDesign, chainage_m: FloatArray) -> list[Painted]:
    """Edge lines and lane lines, given the (n,) chainages at which anything of the road turns."""
    outer, inner = design.lanes_m(chainage_m), design.lanes_m(chainage_m, added=False)
    middle = (chainage_m[:-1] + chainage_m[1:]) / 2
    out: list[Painted] = []
    for column, (side, sign) in enumerate(zip(SIDES, (-1.0, 1.0), strict=True)):
        there = np.zeros(len(middle), dtype=bool)
        for row in design.varies.lanes:
            if row.side == side:
                there |= (middle > row.from_m - row.taper_in_m) & (middle < row.to_m + row.taper_out_m)
        some = outer[:, column] > 0.0
        for what, offset, on in (
            ("edge line", outer[:, column], some[:-1] & some[1:]),
            ("lane line", inner[:, column], there),
        ):
            out += _pieces(what, side, chainage_m, sign * offset, on)
    return out


def _pieces(what: str, side: Side, s: FloatArray, offset: FloatArray, on: NDArray[np.bool_]) -> list[Painted]:
    """A line through (n,) offsets where it is `on` (n - 1,) between two chainages."""
    out: list[Painted] = []
    k = 0
    while k + 1 < len(s):
        end = k + 1
        if not on[k] or s[end] - s[k] <= 2 * STEP_M:
            k += 1
            continue
        # As far as one straight piece passes all between.
        while end + 1 < len(s) and on[end] and s[end + 1] - s[end] > 2 * STEP_M:
            straight = np.interp(s[k : end + 2], s[[k, end + 1]], offset[[k, end + 1]])
            if np.abs(straight - offset[k : end + 2]).max() > _STRAIGHT_M:
                break
            end += 1
        out.append(Painted(what, side, *(float(v) for v in (s[k], s[end], offset[k], offset[end]))))
        k = end
    return out
