"""What is built along a case's road: its bends, how sections vary and lean, and the ground across at each of them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.speeds import BendRules, BendSpeed, RoadWidth, bend_speeds
from delgrun.core.centreline.superelevation import Diagram, Superelevation, diagram_of
from delgrun.core.controls.controls import LevelControls
from delgrun.core.ground.along import GroundSections, ground_and_surface
from delgrun.core.ground.tin import Tin
from delgrun.core.inputs import ALONG, BENDS, CONTROLS, LIMITS, RANGES, RESERVE, STRATA, SUPERELEVATION
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import LimitRanges
from delgrun.core.section.along import SectionsAlong
from delgrun.core.section.road_design import Built, RoadDesign
from delgrun.core.section.roadside import SURVEY as SURVEY_SURFACE
from delgrun.core.section.roadside import ReserveBounds, Strata, Works
from delgrun.core.section.typical_section import TypicalSection
from delgrun.service.case import Case, once
from delgrun.service.made import Kept, Key
from delgrun.service.results import of_ground, of_road

FloatArray = NDArray[np.float64]

# What projects of earlier versions have.
_NO_STRATA, _NO_RESERVE = Kept(Strata(), Key("first strata")), Kept(ReserveBounds(), Key("first reserve"))
_ALIKE = Kept(SectionsAlong(), Key("first along"))
_FIRST_RULES: Kept[BendRules] = Kept(BendRules(), Key("first", BENDS.name))
_LEVEL: Kept[Superelevation] = Kept(Superelevation(built=False, widened=False), Key("first superelevation"))


@once
def ranged(case: Case) -> Kept[LimitSet]:
    """The project's limits with the ranges of this road."""
    typed = case.state.need(LIMITS, "The project has no limits yet: choose a design speed.")
    ranges = case.state.slots.get(RANGES.name)
    if ranges is None or not ranges.value.of(case.road):
        return typed
    return case.made(_ranged, typed, ranges, case.road)


def _ranged(typed: LimitSet, ranges: LimitRanges, road: str) -> LimitSet:
    """Limits with the ranges of one road."""
    return typed.with_ranges(ranges.of(road))


def bend_rules(case: Case) -> Kept[BendRules]:
    """By what bends are judged; projects of earlier versions have the first rules."""
    return case.state.slots.get(BENDS.name, _FIRST_RULES)


def superelevation(case: Case) -> Kept[Superelevation]:
    return case.state.slots.get(SUPERELEVATION.name, _LEVEL)


@once
def upright(case: Case) -> Kept[RoadDesign]:
    """What is built along the road, did it not lean in its bends."""
    slots = case.state.slots
    inputs = (slots.get(k.name, first) for k, first in ((STRATA, _NO_STRATA), (RESERVE, _NO_RESERVE), (ALONG, _ALIKE)))
    built = case.works.value.section
    others = {slot: kept for slot, kept in case.state.sections.items() if slot != built}
    road = case.road, of_road.centreline(case)
    more = tuple(others), *others.values(), *met(case)
    return case.made(_upright, case.section, case.works, *inputs, *road, *more)


def _upright(
    section: TypicalSection,
    works: Works,
    strata: Strata,
    reserve: ReserveBounds,
    along: SectionsAlong,
    road: str,
    centreline: Centreline,
    slots: tuple[str, ...],
    *more: TypicalSection | Tin,
) -> RoadDesign:
    others = dict(zip(slots, more, strict=False))
    surface = more[len(slots)] if len(more) > len(slots) else None
    return RoadDesign(section, works, strata, reserve, road, centreline, surface, along, others)  # type: ignore[arg-type]


def design_speeds(bends: Sequence[Bend], limits: LimitSet) -> list[float]:
    """The design speed of each bend: the fastest of the ranges it touches. [km/h]"""
    return [limits.over("design_speed_kmh", b.from_chainage_m, b.to_chainage_m) for b in bends]


def road_width(case: Case) -> RoadWidth:
    """The road where no range says otherwise."""
    return RoadWidth(*case.section.value.lane())


def _widths(design: RoadDesign, line: Centreline) -> list[RoadWidth]:
    return design.widths(np.array([(b.from_chainage_m + b.to_chainage_m) / 2 for b in line.bends]))


def _speeds_of(line: Centreline, rules: BendRules, limits: LimitSet, widths: list[RoadWidth]) -> list[BendSpeed]:
    return bend_speeds(line.bends, line.ips, rules, design_speeds(line.bends, limits), widths)


def speeds(case: Case) -> Kept[list[BendSpeed]]:
    """What each bend allows and needs."""
    line = of_road.centreline(case)
    return case.made(_speeds_of, line, bend_rules(case), ranged(case), case.made(_widths, upright(case), line))


@once
def diagram(case: Case) -> Kept[Diagram]:
    """How the road leans and widens."""
    line = of_road.centreline(case)
    widths = case.made(_widths, upright(case), line)
    return case.made(_diagram, line, speeds(case), widths, bend_rules(case), superelevation(case), upright(case))


def _diagram(
    line: Centreline,
    speeds: list[BendSpeed],
    widths: list[RoadWidth],
    rules: BendRules,
    settings: Superelevation,
    upright: RoadDesign,
) -> Diagram:
    return diagram_of(line.bends, speeds, widths, rules, settings, upright.road, upright.crown)


@once
def design(case: Case) -> Kept[RoadDesign]:
    """What is built along the road."""
    settings: Superelevation = superelevation(case).value
    if not (settings.built or settings.widened or settings.rows):
        return upright(case)
    return case.made(_leaning, upright(case), diagram(case))


def _leaning(upright: RoadDesign, diagram: Diagram) -> RoadDesign:
    return replace(upright, diagram=diagram)


@once
def met(case: Case) -> tuple[Kept[Tin], ...]:
    """The survey that batters run to, where that is not the ground."""
    works: Works = case.works.value
    if works.batters_to != SURVEY_SURFACE or works.survey not in case.state.surveys:
        return ()
    alone = replace(case.state, slots={works.survey: case.state.slots[works.survey]})
    return (of_ground.tin(Case(case.made, case.points_of, alone)),)


@once
def asked(case: Case) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Chainages of sections beside those at even intervals, and those of them at which what is built may jump. [m]"""
    works: Works = case.works.value
    controls: LevelControls = case.state.get(CONTROLS)
    turns, steps = design(case).value.places
    also = {*turns, *controls.ends(case.road), *works.asked(case.road, of_road.centreline(case).value.curved)}
    return tuple(sorted(also)), steps


@once
def chainages(case: Case) -> Kept[FloatArray]:
    """Chainages at which sections are worked out."""
    road = of_road.stretch(case)
    # By their values: what else changes in a section leaves the ground across as it is.
    return case.made(
        Centreline.priced_chainages, of_road.centreline(case), case.works.value.interval_m, road.from_m, road.to_m,
        *asked(case),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class LaneFalls:
    """Falls and widening [m] of the lanes, left and right (n, 2), straight between (n,) chainages; and how far out the
    lanes go that are not added. [m]
    """

    chainage_m: FloatArray
    fall: FloatArray
    widening_m: FloatArray
    lanes_m: FloatArray


def lane_falls(case: Case) -> Kept[LaneFalls]:
    """How the road leans along its whole centreline."""
    return case.made(_lane_falls, design(case), of_road.centreline(case))


def _lane_falls(design: RoadDesign, line: Centreline) -> LaneFalls:
    s = design.turns_along(line)
    wide = np.zeros((len(s), 2)) if design.diagram is None else design.diagram.at(s).widening_m
    return LaneFalls(s, design.lane_falls(s), wide, design.lanes_m(s, added=False))


def still_parts(case: Case) -> object:
    """What of the design shows where no line is needed: where sections are, and how the road leans."""
    found = lane_falls(case).value
    return asked(case), found.fall.tobytes(), found.widening_m.tobytes()


@once
def cut_across(case: Case) -> Kept[GroundSections]:
    """The ground across as far as is asked for."""
    return case.made(
        ground_and_surface, of_ground.tin(case), of_road.centreline(case), chainages(case), case.works.value.reach_m,
        *met(case),
    )  # fmt: skip


@once
def built(case: Case) -> Kept[Built]:
    """What is built at the sections."""
    return case.made(RoadDesign.built_along, design(case), chainages(case))


@once
def across(case: Case) -> Kept[GroundSections]:
    """The ground across, further where batters need it."""
    return case.made(
        _reached, design(case), cut_across(case), of_ground.tin(case), of_road.centreline(case), built(case)
    )


def _reached(design: RoadDesign, ground: GroundSections, tin: Tin, line: Centreline, built: Built) -> GroundSections:
    return design.reached(ground, tin, line, built)


def ground_at(case: Case, at_m: tuple[float, ...]) -> Kept[GroundSections]:
    """The ground across at some chainages: the same while a line is dragged over them."""
    return case.made(_ground_at, design(case), of_ground.tin(case), of_road.centreline(case), at_m)


def _ground_at(design: RoadDesign, tin: Tin, line: Centreline, at_m: tuple[float, ...]) -> GroundSections:
    return design.ground_reached(tin, line, np.array(at_m))
