"""The limits of a case's road, with its ranges, level controls and what is handed over at its ends; and its bends."""

from dataclasses import replace
from typing import Any, Literal

import numpy as np

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.speeds import BendSpeed
from delgrun.core.centreline.superelevation import Diagram
from delgrun.core.controls.junction import grade_on, level_on
from delgrun.core.errors import DesignInputError
from delgrun.core.limits.check import PlanBend
from delgrun.core.limits.clashes import Clash, clashes
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.topics import TieIn
from delgrun.service.case import Case, once
from delgrun.service.made import Kept
from delgrun.service.results import of_controls, of_design, of_road
from delgrun.service.state import MAIN_ROAD


def as_checked(line: Centreline, speeds: list[BendSpeed], diagram: Diagram | None = None) -> tuple[PlanBend, ...]:
    """The bends of a line as checks look at them; `diagram`: how its sections widen."""
    built = np.zeros(len(line.bends))
    least = 0.0
    if diagram is not None and diagram.settings.widened:
        built = diagram.at(np.array([(b.from_chainage_m + b.to_chainage_m) / 2 for b in line.bends])).widening_m.sum(1)
        least = diagram.settings.least_widening_m
    return tuple(
        PlanBend(
            from_m=b.from_chainage_m,
            to_m=b.to_chainage_m,
            radius_m=float(np.copysign(b.radius_m, b.deflection)),
            allowed_kmh=s.allowed_kmh,
            design_kmh=s.design_kmh,
            least_radius_m=s.least_radius_m,
            transition_m=min(b.transition_in_m, b.transition_out_m),
            usual_m=s.transition_m,
            without=s.without,
            # Less than is built at all does not lack.
            widening_m=max(s.widening_m - wide, 0.0) if s.widening_m >= least else 0.0,
        )
        for b, s, wide in zip(line.bends, speeds, built.tolist(), strict=True)
    )


def _tied(typed: LimitSet, main: bool, start: TieIn, end: TieIn) -> LimitSet:
    """Limits with what is handed over at the ends; those of a side road without the main road's."""
    own = typed if main else replace(typed, start_level_m=None, start_grade=None, end_level_m=None, end_grade=None)
    handed: dict[str, Any] = {
        "start_level_m": start.level_m, "start_grade": start.grade, "end_level_m": end.level_m, "end_grade": end.grade,
    }  # fmt: skip
    return replace(own, **{name: value for name, value in handed.items() if value is not None})


@once
def limits(case: Case) -> Kept[LimitSet]:
    """The project's limits, with the tie-ins of this road.

    Typed ones are the main road's; at a junction another road hands over its level, and its grade if wished.
    """
    typed = of_design.ranged(case)
    asked = of_controls.bands(case)
    if asked is not None:
        typed = case.made(LimitSet.with_bands, typed, asked)
    start, end = _handed_over(case, "start"), _handed_over(case, "end")
    if case.road == MAIN_ROAD and start == end == TieIn():
        return typed
    return case.made(_tied, typed, case.road == MAIN_ROAD, start, end)


def _handed_over(case: Case, end: Literal["start", "end"]) -> TieIn:
    """The level that another road hands to an end of this one, and its grade where that is taken too."""
    own = case.state.roads.get(case.road)
    if own is None:
        return TieIn()
    design: CentrelineDesign = own.value
    first = end == "start"
    met = case.state.lines.get(design.start_meets if first else design.end_meets)
    if met is None or met.road not in case.state.roads:
        return TieIn()
    ip = design.ips[0 if first else -1]
    # What is built there is the other road's.
    other = Case(case.made, case.points_of, case.state, met.line, met.road)
    there = of_road.roads(case)[met.road], met.line, of_design.design(other).value
    level = level_on(*there, ip.easting_m, ip.northing_m)
    if not (design.start_takes_grade if first else design.end_takes_grade):
        return TieIn(level_m=level)
    line = of_road.centreline(case).value
    at = line.line.at(np.array([line.start_chainage_m if first else line.end_chainage_m]))
    place = ip.easting_m, ip.northing_m
    return TieIn(level_m=level, grade=grade_on(*there, place, float(at.direction[0]), leaves=first))


@once
def plan_bends(case: Case) -> tuple[PlanBend, ...]:
    """The bends as checks look at them."""
    return case.made(as_checked, of_road.centreline(case), of_design.speeds(case), of_design.diagram(case)).value


def clashes_of(case: Case) -> list[Clash]:
    """What no line of the road can keep together."""
    own, road = limits(case).value, of_road.stretch(case)
    steps = [own.steps(name).values for name in ("most_cut_m", "most_fill_m")]
    asked = any(v is not None for values in steps for v in values)
    ground = (of_design.chainages(case).value, of_design.cut_across(case).value.centre_level_m) if asked else None
    return clashes(own, (road.from_m, road.to_m), ground)


def check_possible(case: Case) -> None:
    """Raises DesignInputError where no line can keep the limits and level controls together."""
    found = [c for c in clashes_of(case) if c.proven]
    if found:
        raise DesignInputError("limits", "{why}. Change one of them: no line keeps both.", why=found[0].sentence)
