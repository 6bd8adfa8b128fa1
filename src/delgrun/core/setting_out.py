"""Places to be set out along a centreline and beside it, with the ground there and the road to be built."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.points import bearing_of, critical_points
from delgrun.core.centreline.stations import MOST_PLACES, Stations, each_and_at
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.tin import Tin
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import exact_section

FloatArray = NDArray[np.float64]

# What is off the road or its batter by no more than this is on it. [m]
_SAME_M = 5e-4

# Batters are looked for so far beside the line. [m]
_REACH_M = 60.0


@dataclass(frozen=True)
class Places:
    """Places to be set out, by chainage and then by offset: (n,) each. [m]

    `what` names critical points, and is empty elsewhere; `offset_m` is to the right; `bearing` is that of the line,
    clockwise from north [rad]; levels are NaN where there is no ground, or no road is designed.
    """

    what: list[str]
    chainage_m: FloatArray
    offset_m: FloatArray
    easting_m: FloatArray
    northing_m: FloatArray
    bearing: FloatArray
    ground_m: FloatArray
    design_m: FloatArray


def stations(c: Centreline, written: Stations, interval_m: float, critical: bool) -> tuple[FloatArray, list[str]]:
    """Chainages at which whole intervals are written, and those of critical points with their names. [m]"""
    named = critical_points(c, written) if critical else []
    ends = c.start_chainage_m, c.end_chainage_m
    return each_and_at(ends, written, interval_m, [(p.chainage_m, p.what) for p in named])


def places(
    c: Centreline,
    chainage_m: FloatArray,
    names: Sequence[str],
    offset_m: Sequence[float],
    tin: Tin | None,
    line: GradeLine | None,
    design: RoadDesign | None,
) -> Places:
    """Each offset at each chainage.

    The road's level beside its centreline is that of its finished surface, and beyond it that of the batter, as far as
    that runs. [m]
    """
    count = len(chainage_m) * len(offset_m)
    if count > MOST_PLACES:
        raise DesignInputError("offsets", f"These are {count} places, more than {MOST_PLACES}: use a longer interval.")
    s = np.repeat(chainage_m, len(offset_m))
    offset = np.tile(np.array(offset_m, dtype=np.float64), len(chainage_m))
    at = c.line.at(s)
    e = at.easting_m + offset * np.sin(at.direction)
    n = at.northing_m - offset * np.cos(at.direction)
    nothing = np.full(len(s), np.nan)
    planned = nothing
    if line is not None:
        # Outside the road's ends no level is designed.
        within = (s >= line.chainage_m[0] - _SAME_M) & (s <= line.chainage_m[-1] + _SAME_M)
        level = line.levels(np.clip(s, line.chainage_m[0], line.chainage_m[-1]))
        if design is None:
            on = offset == 0.0
            over = np.zeros(len(s))
        else:
            road = design.resolve(s)
            within &= design.built(s)
            on = road.beyond_m(offset) == 0.0
            over = road.surface_m(offset)
        planned = np.where(within & on, level + over, np.nan)
        if tin is not None and design is not None:
            beyond = within & ~on
            planned[beyond] = _batters(c, tin, design, s[beyond], offset[beyond], level[beyond])
    return Places(
        [name for name in names for _ in offset_m],
        s,
        offset,
        e,
        n,
        bearing_of(at.direction),
        nothing if tin is None else tin.level_at(e, n),
        planned,
    )


def _batters(
    c: Centreline, tin: Tin, design: RoadDesign, chainage_m: FloatArray, offset_m: FloatArray, level_m: FloatArray
) -> FloatArray:
    """Levels beyond what is built everywhere of a road at these levels: of drains and verges as they are built there,
    then of batters; NaN beyond their catch points. [m]
    """
    out = np.full(len(chainage_m), np.nan)
    stations, which = np.unique(chainage_m, return_inverse=True)
    across = design.ground(tin, c, stations, _REACH_M)
    road, depth = design.resolve(stations), design.in_ground(stations).depth_m
    for k in range(len(stations)):
        mine = np.flatnonzero(which == k)
        ground = across.one(k)
        level = float(level_m[mine[0]])
        if len(ground[0]) < 2 or np.isnan(across.centre_level_m[k]) or np.isnan(level):
            continue
        both = road.both(k)
        section = exact_section(*ground, both, level, depth[k], across.met(k))
        for i in mine.tolist():
            at = int(offset_m[i] > 0)
            side = (section.left, section.right)[at]
            out_m = abs(float(offset_m[i]))
            surface = both[at].variants[side.variant].surface
            if out_m <= surface[-1, 0]:
                out[i] = level + float(np.interp(out_m, surface[:, 0], surface[:, 1]))
            elif side.caught and out_m <= side.catch_offset_m + _SAME_M:
                out[i] = side.works_m(min(out_m, side.catch_offset_m))
    return out
