"""What would mend a finding about sections: not another line, but something else built along the road."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.limits.check import Checked, LimitUse
from delgrun.core.section.along import AddedLane, SectionChange
from delgrun.core.section.area_kernels import WALLED
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import WIDEST_M, ReserveStretch
from delgrun.core.section.typical_section import SIDES, Side
from delgrun.core.units import say

# Where a way leads: rows of an input, or a step of the work where it is done by hand.
Into = Literal["changes", "lanes", "reserve", "works", "centreline", "survey", "along"]

# Batters are tried so steep, from the flattest on: common practice, no source.
_STEEPER = (2.0, 1.75, 1.5, 1.25, 1.0, 0.75, 0.5, 0.33, 0.25)
# No fill stands steeper without help.
_STEEPEST_FILL = 1.25
# A way holds so far to both sides of what it mends. [m]
_BESIDE_M = 10.0
# A wall stands so far within where the ground ends. [m]
_WITHIN_M = 0.5
# Where ground ends and sections are cut is the same within so much; they are cut no further. [m]
_END_M = 0.01
# A wall that is no higher is none. [m]
_NO_WALL_M = 1e-3
# The road's end is so near that it may end before. [m]
_NEAR_END_M = 60.0
# Of an added lane: tapers [m], common practice, no source.
_TAPER_M = 60.0
# Findings that there are such ways for.
MENDED_ON_SITE = ("slow_truck", "no_catch_left", "no_catch_right", "lean_quick", "lean_level")


@dataclass(frozen=True)
class Wider:
    """Sections cut so far to each side. [m]"""

    reach_m: float


@dataclass(frozen=True)
class SiteWay:
    """A way to mend a finding at a stretch: the row that is added to an input, what is changed of it, or the step where
    it is done.
    """

    check: str
    from_m: float
    label: str
    into: Into
    row: SectionChange | AddedLane | ReserveStretch | Wider | None = None


def site_ways(c: Checked, u: LimitUse, road: str) -> Iterator[SiteWay]:
    """Ways for what one finding says."""
    if u.check == "slow_truck":
        yield from _lane(c, u, road)
    elif u.check in ("no_catch_left", "no_catch_right"):
        yield from _batters(c, u, SIDES[u.check == "no_catch_right"], road)
    else:
        yield SiteWay(u.check, u.from_chainage_m, "Type falls of your own there", "along")


def _lane(c: Checked, u: LimitUse, road: str) -> Iterator[SiteWay]:
    ahead = u.about.startswith("ahead")
    driving: Side = "left" if c.limits.drive_on == "left" else "right"
    side: Side = driving if ahead else ("left" if driving == "right" else "right")
    wide = 3.0
    if c.design is not None:
        mine = c.design.widths(np.array([(u.from_chainage_m + u.to_chainage_m) / 2]))[0].lane_m
        wide = round(min(mine, 3.5), 2) or wide
        if any(
            row.side == side and row.from_m <= u.from_chainage_m + 1 and row.to_m >= u.to_chainage_m - 1
            for row in c.design.varies.lanes
        ):
            return
    start = c.design.centreline.start_chainage_m if c.design and c.design.centreline else u.from_chainage_m
    lane = AddedLane(
        from_m=round(max(u.from_chainage_m, start), 2), to_m=round(u.to_chainage_m, 2), taper_in_m=_TAPER_M,
        taper_out_m=_TAPER_M, side=side, name="climbing lane", width_m=wide, reason="slow trucks", road=road,
    )  # fmt: skip
    words = f"Add a climbing lane of {{w:size}} on the {side}, {{l:about}} long"
    yield SiteWay(u.check, u.from_chainage_m, say(words, w=wide, l=lane.to_m - lane.from_m), "lanes", lane)


def _batters(c: Checked, u: LimitUse, side: Side, road: str) -> Iterator[SiteWay]:
    works, evaluation, design = c.works, c.evaluation, c.design
    if works is None or evaluation is None or design is None:
        return
    s = works.chainage_m
    rows = np.flatnonzero((s >= u.from_chainage_m - 1e-9) & (s <= u.to_chainage_m + 1e-9))
    level = evaluation.level_m[rows]
    column = SIDES.index(side)
    ends = [works.open_end(int(i), column, float(z)) for i, z in zip(rows, level, strict=True)]
    known = [e for e in ends if e is not None]
    if not known:
        return
    reach = design.works.reach_m
    cut = works.ground.cut_m
    if cut is not None:
        reach = float(cut[rows].max())
    if any(e.offset_m >= reach - _END_M for e in known) and reach < WIDEST_M:
        needed = max(e.offset_m + (reach if e.lacks_m is None else e.lacks_m) for e in known)
        wider = min(10.0 * np.ceil(needed / 10.0) + 10.0, WIDEST_M)
        label = say("Cut sections to {m:size} to each side", m=float(wider))
        yield SiteWay(u.check, u.from_chainage_m, label, "works", Wider(float(wider)))
    start, end = round(u.from_chainage_m - _BESIDE_M, 2), round(u.to_chainage_m + _BESIDE_M, 2)
    in_fill = known[0].gap_m > 0
    of = "fill" if in_fill else "cut"
    for run in _STEEPER:
        if in_fill and run < _STEEPEST_FILL:
            break
        change = SectionChange(
            from_m=start, to_m=end, side=side, cut_h_over_v=None if in_fill else run,
            fill_h_over_v=run if in_fill else None, reason="no ground further out", road=road,
        )  # fmt: skip
        words = f"Steepen the {of} there to {{r:steepness}} on the {side}"
        way = SiteWay(u.check, u.from_chainage_m, say(words, r=run), "changes", change)
        if _caught(works.some(rows, applied(design, way)), level, column):
            yield way
            break
    offset = float(np.floor((min(e.offset_m for e in known) - _WITHIN_M) * 10) / 10)
    if offset > 0:
        held = ReserveStretch(from_m=start, to_m=end, side=side, offset_m=offset, road=road)
        way = SiteWay(u.check, u.from_chainage_m, "", "reserve", held)
        found = works.some(rows, applied(design, way))
        if _caught(found, level, column):
            high = float(np.nanmax(found.areas(level)[0][:, WALLED]))
            words = f"End the works {{o:length}} out on the {side}, " + (
                "with a wall of up to {h:length}" if high > _NO_WALL_M else "steeper than the section's batters"
            )
            yield replace(way, label=say(words, o=offset, h=high))
    other = "right" if side == "left" else "left"
    lacks = [e.lacks_m for e in known if e.lacks_m is not None]
    if u.value > 0 and lacks:
        words = f"Shift the centreline {{m:length}} to the {other} there"
        yield SiteWay(u.check, u.from_chainage_m, say(words, m=max(lacks)), "centreline")
        words = f"Survey {{m:length}} more on the {side}, from {{a:chainage}} to {{b:chainage}}"
        label = say(words, m=max(lacks), a=u.from_chainage_m, b=u.to_chainage_m)
        yield SiteWay(u.check, u.from_chainage_m, label, "survey")
    # Where all of it is open there is no end before.
    if u.from_chainage_m - s[0] < _NEAR_END_M and s[-1] - u.to_chainage_m > _NEAR_END_M:
        label = say("Let the road begin at {s:chainage}", s=u.to_chainage_m)
        yield SiteWay(u.check, u.from_chainage_m, label, "centreline")
    if s[-1] - u.to_chainage_m < _NEAR_END_M and u.from_chainage_m - s[0] > _NEAR_END_M:
        label = say("End the road at {s:chainage}", s=u.from_chainage_m)
        yield SiteWay(u.check, u.from_chainage_m, label, "centreline")


def _caught(works: Earthworks, level: np.ndarray, side: int) -> bool:
    caught = works.areas(np.ascontiguousarray(level))[1]
    return bool(((caught & (1 + side)) > 0).all())


def applied(design: RoadDesign, way: SiteWay) -> RoadDesign:
    """A design with what a way adds."""
    along, reserve = design.along, design.reserve
    match way.row:
        case SectionChange():
            return replace(design, along=replace(along, changes=(*along.changes, way.row)))
        case AddedLane():
            return replace(design, along=replace(along, lanes=(*along.lanes, way.row)))
        case ReserveStretch():
            return replace(design, reserve=replace(reserve, rows=(*reserve.rows, way.row)))
    return design
