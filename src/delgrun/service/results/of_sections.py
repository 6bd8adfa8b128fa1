"""Where sections of a case are reported."""

from delgrun.core.section.chainages import Reported, reported
from delgrun.service.case import Case, once
from delgrun.service.results import of_design, of_road


@once
def reported_at(case: Case) -> list[Reported]:
    """Sections that are reported, and what is there."""
    road = of_road.stretch(case)
    return reported(
        of_road.centreline(case).value, of_design.design(case).value, case.grade_line, of_road.stations(case),
        of_design.asked(case), (road.from_m, road.to_m),
    )  # fmt: skip
