"""The road of a case: its centreline, how chainages are written along it, and the ground along and across it."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.stations import Equations, Stations
from delgrun.core.ground.along import (
    LongSection,
    Stretch,
    ground_sections,
    long_section,
    stretch_with_ground,
)
from delgrun.core.inputs import CENTRELINE, EQUATIONS
from delgrun.core.units import Written
from delgrun.service.case import Case, once
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept
from delgrun.service.results import of_ground

FloatArray = NDArray[np.float64]

# The ground at one place is looked up this far to both sides of the line. [m]
BESIDE_M = 1.0


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
def long(case: Case) -> Kept[LongSection]:
    return case.made(long_section, of_ground.tin(case), centreline(case))


def ground_at(case: Case, chainage_m: float) -> float:
    """The level of the ground at a chainage, NaN where there is none. [m]"""
    line = centreline(case).value
    if not line.start_chainage_m <= chainage_m <= line.end_chainage_m:
        return float("nan")
    at = ground_sections(of_ground.tin(case).value, line, np.array([chainage_m]), BESIDE_M)
    return float(at.centre_level_m[0])
