"""Where the end of one road lies on another: the level that the other hands over."""

import numpy as np

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.section.road_design import RoadDesign

# Levels are kept to the millimetre.
_DIGITS = 3
# A surface's slope is taken over such a step. [m]
_STEP_M = 0.05


def level_on(
    road: Centreline, line: GradeLine, design: RoadDesign, easting_m: float, northing_m: float
) -> float | None:
    """Level of a road's finished surface at a place on it; None where the place is not on it. [m]"""
    level = _surface(road, line, design, easting_m, northing_m)
    return None if level is None else round(level, _DIGITS)


def _surface(
    road: Centreline, line: GradeLine, design: RoadDesign, easting_m: float, northing_m: float
) -> float | None:
    at = road.line.nearest(np.array([easting_m]), np.array([northing_m]))
    built = design.resolve(at.chainage_m)
    # Off by a millimetre is on the edge.
    if abs(float(at.ahead_m[0])) > 1e-3 or float(built.beyond_m(at.offset_m)[0]) > 1e-3:
        return None
    level = float((line.levels(at.chainage_m) + built.surface_m(at.offset_m))[0])
    return None if np.isnan(level) else level


def grade_on(
    road: Centreline,
    line: GradeLine,
    design: RoadDesign,
    place: tuple[float, float],
    direction: float,
    *,
    leaves: bool,
) -> float | None:
    """How a road's finished surface rises in a direction [rad, from east] at a place on it; None off it. [m/m]

    On the side that a line is on which `leaves` there in that direction, or arrives: at the crown these differ. At an
    edge, where there is no surface on that side, what it is up to there.
    """
    here = _surface(road, line, design, *place)
    if here is None:
        return None
    for ahead in (1.0, -1.0) if leaves else (-1.0, 1.0):
        e, n = (c + ahead * _STEP_M * d for c, d in zip(place, (np.cos(direction), np.sin(direction)), strict=True))
        there = _surface(road, line, design, float(e), float(n))
        if there is not None:
            return float(ahead * (there - here) / _STEP_M)
    return None


def check_on(road: Centreline, name: str, design: RoadDesign, end: str, easting_m: float, northing_m: float) -> None:
    """Raise DesignInputError where an end of another line lies beside a road, and not on it."""
    at = road.line.nearest(np.array([easting_m]), np.array([northing_m]))
    away = float(np.hypot(at.offset_m[0], at.ahead_m[0]))
    half = float(design.resolve(at.chainage_m).edge_m(at.offset_m)[0])
    if away > half + 1e-3:
        raise DesignInputError(
            f"{end}_meets",
            f"The line's {end} lies {{away:length}} from the centreline of “{{name}}”, whose surface reaches "
            "{half:length}: put it on that road, or let its level be free.",
            name=name,
            away=away,
            half=half,
        )
