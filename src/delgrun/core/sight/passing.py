"""Passing: the sight it needs by speed, and stretches where it is possible, for the list of markings."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.sight.along import Sight

FloatArray = NDArray[np.float64]

# Passing sight by design speed [km/h, m]: the policy's table since 2011. Of the even hundreds from reference values
# section 2; those between (40, 60, 80, 100, 120) from memory, each agreeing with its printed K = S^2 / 864.
_PASSING = {
    30: 120, 40: 140, 50: 160, 60: 180, 70: 210, 80: 245, 90: 280, 100: 320, 110: 355, 120: 395, 130: 440,
}  # fmt: skip
# A shorter stretch is none. [m]
_ONE_M = 0.5


def passing_sight_m(speed_kmh: FloatArray) -> FloatArray:
    """(n,) sight needed to pass at design speeds, in proportion between those of the table. [m]

    References
    ----------
    "A Policy on Geometric Design of Highways and Streets", 2011 and later: reference values section 2.

    >>> passing_sight_m(np.array([70.0, 75.0, 130.0])).tolist()
    [210.0, 227.5, 440.0]
    """
    out: FloatArray = np.interp(speed_kmh, list(_PASSING), list(_PASSING.values()))
    return out


@dataclass(frozen=True)
class Marked:
    """A stretch of one direction, by chainage, where passing is possible or not. [m]"""

    way: Literal["ahead", "back"]
    from_m: float
    to_m: float
    passing: bool


def markings(
    sight: Sight, way: Literal["ahead", "back"], shortest_m: float, lanes: Sequence[tuple[float, float]] = ()
) -> list[Marked]:
    """Stretches with and without passing in one direction, by chainage; passing that is too short is none.

    `lanes`: where that direction has an added lane, which passing needs no sight for. [m]
    """
    start, end = float(sight.at_m[0]), float(sight.at_m[-1])
    spots = [start, *(edge for lack in sight.lacks for edge in (lack.from_m, lack.to_m)), end]
    # They alternate: passing first, where the road begins with it.
    free = [(a, b) for a, b in zip(spots[::2], spots[1::2], strict=True) if b - a > _ONE_M and b - a >= shortest_m]
    within = [(max(a, start), min(b, end)) for a, b in lanes if min(b, end) - max(a, start) > _ONE_M]
    out: list[Marked] = []
    at = start
    for a, b in sorted([*free, *within]):
        if out and out[-1].passing and a - at <= _ONE_M:
            if b > at:
                out[-1], at = Marked(way, out[-1].from_m, b, True), b
            continue
        if a - at > _ONE_M:
            out.append(Marked(way, at, a, False))
        out.append(Marked(way, a, b, True))
        at = b
    if end - at > _ONE_M:
        out.append(Marked(way, at, end, False))
    return out


def share_of(marked: list[Marked]) -> float:
    """Share of the length on which passing is possible."""
    length = sum(m.to_m - m.from_m for m in marked)
    return sum(m.to_m - m.from_m for m in marked if m.passing) / length if length > 0 else 0.0


# The same in miles per hour and feet, each 5 mph from 20.
_PASSING_FT = (400, 450, 500, 550, 600, 700, 800, 900, 1000, 1100, 1200, 1300, 1400)


def us_passing_sight_ft(mph: float) -> float:
    """The same by the table in US customary units. [ft]

    >>> us_passing_sight_ft(50)
    800.0
    """
    return float(np.interp(mph, np.arange(20, 81, 5), _PASSING_FT))
