"""Buried and overhead utilities: lines with levels, and the cover or headroom that they ask of the road."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.controls.bands import Band
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.ground.tin import Tin
from delgrun.core.section.carriageway import Carriageway
from delgrun.core.section.road_design import RoadDesign

FloatArray = NDArray[np.float64]

KINDS = ("buried", "overhead")
# A utility is looked at so often along itself: on a road that is curved to 100 m per percent a metre between two
# places would hide 0.01 mm. [m]
_STEP_M = 0.25
# What runs along within so much of a section is shown in it. [m]
_IN_M = 1.0
# So far behind the edge of the surface is behind it. [m]
_BEHIND_M = 1e-6
# So far to each side of the centreline earthworks may reach it. [m]
_REACH_M = 60.0


@dataclass(frozen=True, kw_only=True)
class UtilityPoint:
    """A vertex of a utility: rows with the same name, one behind the other, are one line.

    The level is that of the top of what is buried, and of the lowest wire overhead; `least_m` the least cover over it,
    or clearance under it.
    """

    name: str = meant("name", "utility")
    what: str = meant("word", "kind", choices=KINDS, first="buried")
    least_m: float = meant(
        "length", "least room", low=0, high=100, first=1.0, says="cover over it, or clearance under it"
    )
    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)


@dataclass(frozen=True)
class Utility:
    """One utility: its name, "buried" or "overhead", its least cover or clearance [m], and (k, 3) vertices [m]."""

    name: str
    what: str
    least_m: float
    xyz: FloatArray

    def along(self, step_m: float = _STEP_M) -> FloatArray:
        """(n, 3) places on it, its vertices among them, no further apart than a step. [m]"""
        at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(self.xyz[:, :2], axis=0).T))])
        count = max(int(np.ceil(at[-1] / step_m)), 1)
        s = np.union1d(at, np.linspace(0.0, at[-1], count + 1))
        return np.column_stack([np.interp(s, at, self.xyz[:, k]) for k in range(3)])


@dataclass(frozen=True, kw_only=True)
class Utilities:
    """All utilities of a project, vertex by vertex."""

    rows: tuple[UtilityPoint, ...] = meant("count", "utilities", of=UtilityPoint, most=5000, first=())

    @cached_property
    def _by_name(self) -> dict[str, list[UtilityPoint]]:
        out: dict[str, list[UtilityPoint]] = {}
        for row in self.rows:
            out.setdefault(row.name, []).append(row)
        return out

    @cached_property
    def lines(self) -> list[Utility]:
        """The utilities, in the order of their first vertices."""
        out = []
        for name, own in self._by_name.items():
            xyz = np.array([(r.easting_m, r.northing_m, r.level_m) for r in own])
            out.append(Utility(name, own[0].what, own[0].least_m, xyz))
        return out

    def check(self) -> None:
        """Raises DesignInputError where a utility is no line, or its vertices say different things of it."""
        for name, own in self._by_name.items():
            if len({(row.what, row.least_m) for row in own}) > 1:
                raise DesignInputError(
                    "least_m",
                    "The vertices of “{name}” say different kinds or least covers: give all the same.",
                    name=name,
                )


def utility_bands(
    utilities: Utilities, centreline: Centreline, design: RoadDesign, tin: Tin | None
) -> tuple[Band, ...]:
    """What utilities ask of the line where they lie under or over the road or its earthworks.

    Where the road's own surface is, cover is measured from it. Beside it, in a cut, from the batter, so that the line
    may lie lower by what the batter has risen to there; where the ground has less cover as it is, nothing may be taken
    off it. Overhead the same the other way round with fill.
    """
    out = []
    for row, utility in enumerate(utilities.lines):
        xyz = _with_corners(utility.along(), centreline, design)
        at = centreline.line.nearest(xyz[:, 0], xyz[:, 1])
        s, offset = at.chainage_m, at.offset_m
        on = (np.abs(offset) <= _REACH_M) & (np.abs(at.ahead_m) < 1e-3)
        if not on.any():
            continue
        s, offset, level = s[on], offset[on], xyz[on, 2]
        ground = np.full(len(s), np.nan) if tin is None else tin.level_at(xyz[on, 0], xyz[on, 1])
        road = design.resolve(s)
        edge = np.full(len(s), np.nan)
        if tin is not None:
            place, aside = centreline.line.at(s), road.reference_m(offset)[0]
            edge = tin.level_at(
                place.easting_m + aside * np.sin(place.direction), place.northing_m - aside * np.cos(place.direction)
            )
        asked = _asked(utility, road, offset, level, ground, edge)
        known = ~np.isnan(asked)
        order = np.argsort(s[known], kind="stable")
        s, asked = s[known][order], asked[known][order]
        if len(s):
            low, high = (0.0, np.inf) if utility.what == "buried" else (-np.inf, 0.0)
            why = "cover" if utility.what == "buried" else "clearance"
            hangs = utility.least_m if utility.what == "overhead" else None
            out.append(Band("utility", row, utility.name, s, asked, low, high, joined=False, why=why, hangs_m=hangs))
    return tuple(out)


def _with_corners(xyz: FloatArray, centreline: Centreline, design: RoadDesign) -> FloatArray:
    """Places along a utility, and those between them where it passes a corner of the road's surface. [m]"""
    at = centreline.line.nearest(xyz[:, 0], xyz[:, 1])
    offset = at.offset_m
    parts = [xyz]
    corners = design.resolve(at.chainage_m).corners_m()
    # Right behind the surface's edge the batter begins, lower by the pavement.
    ends = np.nanmin(corners, axis=0) - _BEHIND_M, np.nanmax(corners, axis=0) + _BEHIND_M
    for corner in [ends[0], *corners, ends[1]]:
        over = offset - corner
        i = np.flatnonzero(_turns(over) & np.isfinite(over[:-1]) & np.isfinite(over[1:]))
        share = (over[i] / (over[i] - over[i + 1]))[:, None]
        parts.append(xyz[i] + share * (xyz[i + 1] - xyz[i]))
    return np.concatenate(parts)


def _asked(
    utility: Utility, road: Carriageway, offset: FloatArray, level: FloatArray, ground: FloatArray, edge: FloatArray
) -> FloatArray:
    """(n,) least level of the line, or greatest under what is overhead, at each place; NaN where it does not matter.

    `edge`: the ground where it is looked which variant of the side holds; NaN where there is none, so that all may. A
    variant asks for nothing at levels of the line at which it does not hold.
    """
    under, beyond = road.surface_m(offset), road.beyond_m(offset)
    buried = utility.what == "buried"
    kept = level + utility.least_m if buried else level - utility.least_m
    works, above = road.batters_m(offset, cut=buried)
    # Levels of the line at which the ground lies so deep over the reference.
    holds = edge - road.reference_m(offset)[1] - above
    if buried:
        asked = np.fmin(ground, kept) - works
        beside = np.nanmax(np.fmin(asked, holds[:-1]), axis=0)
    else:
        asked = np.fmax(ground, kept) - works
        beside = np.nanmin(np.where(np.isnan(asked), np.nan, np.fmax(asked, holds[1:])), axis=0)
    return np.where(beyond > 0, np.where(np.isnan(ground), np.nan, beside), kept - under)


def crossings(utilities: Utilities, centreline: Centreline) -> list[tuple[int, float, float]]:
    """Where utilities cross the centreline: (which, chainage [m], level [m]), by utility."""
    out = []
    for row, utility in enumerate(utilities.lines):
        xyz = utility.along(2.0)
        at = centreline.line.nearest(xyz[:, 0], xyz[:, 1])
        near = np.abs(at.ahead_m) < 1e-3
        for i in np.flatnonzero(near[:-1] & near[1:] & _turns(at.offset_m)).tolist():
            a, b = float(at.offset_m[i]), float(at.offset_m[i + 1])
            share = a / (a - b)
            s = at.chainage_m[i] + share * (at.chainage_m[i + 1] - at.chainage_m[i])
            out.append((row, float(s), float(xyz[i, 2] + share * (xyz[i + 1, 2] - xyz[i, 2]))))
    return out


def _turns(side: FloatArray) -> NDArray[np.bool_]:
    """(n - 1,) where a row of values goes from one side of nothing to the other."""
    out: NDArray[np.bool_] = (side[:-1] < 0) != (side[1:] < 0)
    return out


def _nearest(a: float, b: float) -> float:
    """Share of the way between two offsets at which the centreline is nearest."""
    return float(np.clip(a / (a - b), 0.0, 1.0)) if a != b else 0.0


def in_section(
    utilities: Utilities, centreline: Centreline, chainage_m: float, reach_m: float
) -> list[tuple[int, float, float]]:
    """Where utilities pass through the section at a chainage: (which, offset [m], level [m])."""
    e, n, direction = (float(v[0]) for v in centreline.locate(np.array([chainage_m])))
    out = []
    for row, utility in enumerate(utilities.lines):
        x, y = utility.xyz[:, 0] - e, utility.xyz[:, 1] - n
        ahead = x * np.cos(direction) + y * np.sin(direction)
        offset = x * np.sin(direction) - y * np.cos(direction)
        # One that lies in the section itself is shown where it is nearest to the road.
        flat = (np.abs(ahead[:-1]) < _IN_M) & (np.abs(ahead[1:]) < _IN_M)
        for i in np.flatnonzero(_turns(ahead) | flat).tolist():
            share = float(ahead[i] / (ahead[i] - ahead[i + 1])) if not flat[i] else _nearest(offset[i], offset[i + 1])
            o = float(offset[i] + share * (offset[i + 1] - offset[i]))
            if abs(o) <= reach_m:
                out.append((row, o, float(utility.xyz[i, 2] + share * (utility.xyz[i + 1, 2] - utility.xyz[i, 2]))))
    return out
