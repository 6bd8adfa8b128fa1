"""The road of a case: its centreline, how chainages are written along it, and the ground along and across it."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.stations import Equations, Stations
from delgrun.core.ground.along import (
    GroundSections,
    LongSection,
    Stretch,
    ground_and_surface,
    ground_sections,
    long_section,
    stretch_with_ground,
)
from delgrun.core.ground.tin import Tin
from delgrun.core.inputs import CENTRELINE, EQUATIONS, RESERVE, STRATA
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import SURVEY as SURVEY_SURFACE
from delgrun.core.section.roadside import ReserveBounds, Strata, Works
from delgrun.core.section.typical_section import TypicalSection
from delgrun.core.units import Written
from delgrun.service.case import Case, once
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key
from delgrun.service.results import of_ground

FloatArray = NDArray[np.float64]

# Ground is cut this far to both sides of the line. [m]
SECTION_REACH_M = 60.0


@once
def centreline(case: Case) -> Kept[Centreline]:
    design = case.state.roads.get(case.road)
    if design is None:
        raise NotReady(CENTRELINE.name, "There is no centreline yet: draw it, or enter or import its IPs.")
    return case.made(CentrelineDesign.made, design)


@once
def stations(case: Case) -> Stations:
    """What is written along the road."""
    equations: Equations = case.state.get(EQUATIONS)
    return equations.of(case.road)


def written(case: Case) -> Written | None:
    """How chainages are written along the road; None: as they are."""
    return stations(case).text if len(stations(case)) else None


def roads(case: Case) -> dict[str, Centreline]:
    """All centrelines of the project by slot."""
    return {slot: case.made(CentrelineDesign.made, kept).value for slot, kept in case.state.roads.items()}


@once
def stretch(case: Case) -> Stretch:
    """Where the road can be: the centreline as far as there is ground."""
    found = case.made(stretch_with_ground, long(case), centreline(case)).value
    if found is None:
        raise NotReady(CENTRELINE.name, "The centreline meets no ground of the survey: move it, or add a survey.")
    return found


@once
def chainages(case: Case) -> Kept[FloatArray]:
    road, interval = stretch(case), case.works.value.interval_m
    return case.made(Centreline.priced_chainages, centreline(case), interval, road.from_m, road.to_m)


@once
def long(case: Case) -> Kept[LongSection]:
    return case.made(long_section, of_ground.tin(case), centreline(case))


@once
def across(case: Case) -> Kept[GroundSections]:
    return case.made(
        ground_and_surface, of_ground.tin(case), centreline(case), chainages(case), SECTION_REACH_M, *met(case)
    )


@once
def met(case: Case) -> tuple[Kept[Tin], ...]:
    """The survey that batters run to, where that is not the ground."""
    works: Works = case.works.value
    if works.batters_to != SURVEY_SURFACE or works.survey not in case.state.surveys:
        return ()
    alone = replace(case.state, slots={works.survey: case.state.slots[works.survey]})
    return (of_ground.tin(Case(case.made, case.points_of, alone)),)


@once
def design(case: Case) -> Kept[RoadDesign]:
    """What is built along the road."""
    slots = case.state.slots
    inputs = (slots.get(k.name, first) for k, first in ((STRATA, _NO_STRATA), (RESERVE, _NO_RESERVE)))
    return case.made(_design, case.section, case.works, *inputs, case.road, centreline(case), *met(case))


def _design(
    section: TypicalSection,
    works: Works,
    strata: Strata,
    reserve: ReserveBounds,
    road: str,
    centreline: Centreline,
    met: Tin | None = None,
) -> RoadDesign:
    return RoadDesign(section, works, strata, reserve, road, centreline, met)


# What projects of earlier versions have.
_NO_STRATA, _NO_RESERVE = Kept(Strata(), Key("first strata")), Kept(ReserveBounds(), Key("first reserve"))


def ground_at(case: Case, chainage_m: float) -> float:
    """The level of the ground at a chainage, NaN where there is none. [m]"""
    line = centreline(case).value
    if not line.start_chainage_m <= chainage_m <= line.end_chainage_m:
        return float("nan")
    at = ground_sections(of_ground.tin(case).value, line, np.array([chainage_m]), SECTION_REACH_M)
    return float(at.centre_level_m[0])
