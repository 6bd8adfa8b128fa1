"""What stands beside the typical section: the ground's materials, topsoil, the reserve, and which section is built."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.section.typical_section import SIDES, Side

# What batters run to.
GROUND, STRIPPED, SURVEY = "ground", "stripped ground", "a survey"
FloatArray = NDArray[np.float64]

# No section is cut further than so much to each side. [m]
WIDEST_M = 300.0
# Boundaries have so many corners together.
MOST_CORNERS = 5000
# A stretch shorter than this is none. [m]
_LEAST_M = 0.1


@dataclass(frozen=True, kw_only=True)
class _Stretch:
    from_m: float = meant("chainage", "from", low=-1e8, high=1e8)
    to_m: float = meant("chainage", "to", low=-1e8, high=1e8)


def _check_stretches(rows: tuple[_Stretch, ...], what: str) -> None:
    for row in rows:
        if row.to_m - row.from_m < _LEAST_M:
            raise DesignInputError(
                "to_m", f"The {what} from {{a:chainage}} to {{b:chainage}} has no length.", a=row.from_m, b=row.to_m
            )


def multiples(of_m: float, a: float, b: float) -> set[float]:
    """Multiples of a length from one chainage to another. [m]"""
    return {k * of_m for k in range(ceil(a / of_m), floor(b / of_m) + 1)}


@dataclass(frozen=True, kw_only=True)
class TopsoilStretch(_Stretch):
    """A stretch of a road with another depth of topsoil."""

    depth_m: float = meant("size", "topsoil strip", low=0, high=2, first=0.15)
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class IntervalStretch(_Stretch):
    """A stretch with more sections, in the computation and in what is reported of it."""

    interval_m: float = meant("size", "sections each", low=0.5, high=100, first=5.0)
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class OwnSection:
    """A section of one's own, at a chainage."""

    at_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    words: str = meant("line", "what is there", first="")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class Works:
    """Which typical section is built, how densely sections lie, and how the ground is met.

    Volumes are worked out at `interval_m`, whatever is reported. Where stretches of topsoil overlap the one typed last
    holds.
    """

    section: str = meant("word", "typical section", first="section")
    interval_m: float = meant("size", "sections each", low=1, high=100, first=10.0)
    reported_m: float | None = meant(
        "size", "reported each", low=1, high=1000, first=None, optional=True, says="free, as they are worked out"
    )
    in_curves_m: float | None = meant(
        "size", "in curves each", low=0.5, high=1000, first=None, optional=True,
        says="in bends, transitions and vertical curves; free, as elsewhere",
    )  # fmt: skip
    reach_m: float = meant(
        "size", "ground to each side", low=5, high=WIDEST_M, first=60.0,
        says="that sections are cut to, and further where batters need it",
    )  # fmt: skip
    topsoil_depth_m: float = meant("size", "topsoil strip", low=0, high=2, first=0.15, aside="deep")
    topsoil_back_m: float = meant("size", "topsoil back", low=0, high=2, first=0.0, aside="on batters")
    batters_to: Literal["ground", "stripped ground", "a survey"] = meant(
        "word", "batters run to", choices=(GROUND, STRIPPED, SURVEY), first=GROUND
    )
    survey: str = meant("line", "surface", first="", says="the survey whose surface batters run to")
    rows: tuple[TopsoilStretch, ...] = meant("count", "topsoil by stretch", of=TopsoilStretch, most=200, first=())
    intervals: tuple[IntervalStretch, ...] = meant("count", "more sections", of=IntervalStretch, most=100, first=())
    singles: tuple[OwnSection, ...] = meant("count", "sections of one's own", of=OwnSection, most=1000, first=())

    def asked(self, road: str, curved: Sequence[tuple[float, float]]) -> set[float]:
        """Chainages of sections that are asked for beside those at even intervals all along, given where it bends."""
        found = {row.at_m for row in self.singles if row.road == road}
        for row in self.intervals:
            if row.road == road:
                found |= multiples(row.interval_m, row.from_m, row.to_m) | {row.from_m, row.to_m}
        for a, b in curved if self.in_curves_m else ():
            found |= multiples(self.in_curves_m or 1.0, a, b)
        return found

    def count_asked(self, curved: Sequence[tuple[float, float]]) -> int:
        """How many sections are asked for beside those all along, without working out where."""
        parts = [(row.to_m - row.from_m) / row.interval_m for row in self.intervals]
        parts += [(b - a) / self.in_curves_m for a, b in curved if self.in_curves_m]
        return int(sum(parts)) + len(self.singles)

    def check(self) -> None:
        """Raises DesignInputError where a stretch has no length, or no survey is named."""
        _check_stretches(self.rows, "stretch of topsoil")
        _check_stretches(self.intervals, "stretch of sections")
        if self.batters_to == SURVEY and not self.survey:
            raise DesignInputError("survey", "Choose the survey whose surface batters run to.")


@dataclass(frozen=True, kw_only=True)
class Material:
    """What lies below the soil, in order downwards; without a slope of its own it stands as steep as the soil."""

    name: str = meant("name", "material")
    batter_h_over_v: float | None = meant(
        "batter", "batter in it", low=0.05, high=20, first=None, optional=True, says="1 : ; free, as the section's"
    )
    cut_per_m3: float = meant("price_m3", "cut", low=0, high=1e9, first=9.0, says="per bank m³")
    compacted_per_bank: float = meant(
        "factor", "bulking", low=0.1, above=True, high=3, first=1.1, says="compacted m³ per bank m³"
    )
    may_be_fill: bool = meant("flag", "may be fill", first=True)


@dataclass(frozen=True, kw_only=True)
class StratumDepth(_Stretch):
    """How deep below the ground a material begins along a stretch; where no stretch says so there is none."""

    material: str = meant("name", "material")
    depth_m: float = meant("size", "depth", low=0, high=1000, first=2.0, says="of its top below the ground")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, eq=False)
class InGround:
    """What is met below the ground at (n,) chainages. [m]

    `depth_m` (n, 2 + k): what batters run to, the stripped ground, and the top of each further material, none above
    the one before.
    """

    depth_m: FloatArray
    materials: tuple[Material, ...] = ()

    @property
    def topsoil_m(self) -> FloatArray:
        return self.depth_m[:, 1]


@dataclass(frozen=True, kw_only=True)
class Strata:
    """Materials of the ground. On top lies soil: its price and bulking are costs, its slope is the section's."""

    top_may_be_fill: bool = meant("flag", "soil may be fill", first=True)
    materials: tuple[Material, ...] = meant("count", "materials", of=Material, most=8, first=())
    rows: tuple[StratumDepth, ...] = meant("count", "strata", of=StratumDepth, most=400, first=())

    def check(self) -> None:
        """Raises DesignInputError where a stretch has no length, or names what is no material."""
        _check_stretches(self.rows, "stratum")
        names = [m.name for m in self.materials]
        if len(set(names)) < len(names):
            raise DesignInputError("name", "Two materials have the same name.")
        for row in self.rows:
            if row.material not in names:
                raise DesignInputError("material", "There is no material “{name}”.", name=row.material)


@dataclass(frozen=True, kw_only=True)
class ReserveStretch(_Stretch):
    """A stretch along which the reserve ends so far beside the centreline, on one side."""

    side: Side = meant("word", "side", choices=SIDES, first="right")
    offset_m: float = meant("size", "offset", low=0, above=True, high=1000, first=15.0)
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class ReserveCorner:
    """A corner of a boundary: rows with the same name, one behind the other, are one line."""

    name: str = meant("name", "boundary")
    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)


@dataclass(frozen=True, kw_only=True)
class ReserveBounds:
    """Land that the works must not leave: of stretches and lines on a side the nearest to the road holds.

    A batter that would pass it is steepened to end there; where that would be steeper than the least slopes, a wall
    takes what is left.
    """

    least_cut_h_over_v: float = meant("batter", "steepest in cut 1 :", low=0.05, high=20, first=0.5)
    least_fill_h_over_v: float = meant("batter", "steepest in fill 1 :", low=0.05, high=20, first=1.0)
    rows: tuple[ReserveStretch, ...] = meant("count", "stretches", of=ReserveStretch, most=400, first=())
    corners: tuple[ReserveCorner, ...] = meant("count", "boundary lines", of=ReserveCorner, most=MOST_CORNERS, first=())

    def check(self) -> None:
        """Raises DesignInputError where a stretch has no length or a line only one corner."""
        _check_stretches(self.rows, "reserve")
        for name in {c.name for c in self.corners}:
            if sum(c.name == name for c in self.corners) < 2:
                raise DesignInputError("corners", "The boundary “{name}” has one corner: give it two.", name=name)
