"""A case: one revision's inputs and the line that is being looked at. What follows from it stands in `results`."""

from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.inputs import COST, LINE, SECTION, WORKS
from delgrun.core.survey.points import Survey
from delgrun.core.units import System
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key, Made
from delgrun.service.state import MAIN_ROAD, ProjectState

T = TypeVar("T")


class Case:
    """What results are of.

    Parameters
    ----------
    made : where results are kept
    points_of : reads the points of a survey by the key it is known under
    line : the line looked at; None for what needs none
    road : slot of the centreline looked at
    system : in whose units round figures are round

    Raises
    ------
    NotReady
        (each property) An input is missing; it names the step to do next.
    """

    def __init__(
        self,
        made: Made,
        points_of: Callable[[Key], Survey],
        state: ProjectState,
        line: GradeLine | None = None,
        road: str = MAIN_ROAD,
    ) -> None:
        self.made, self.points_of, self.state, self.road = made, points_of, state, road
        self.grade_line = line
        self.system: System = "metric"
        # The line at rest, where this one is a move of it.
        self.rest: Case | None = None
        # What was made of this line for people, for moves of it to take over.
        self.told: dict[Any, Any] = {}
        # Results that were asked for, by what made them.
        self.known: dict[Any, Any] = {}

    def with_line(self, line: GradeLine) -> "Case":
        return Case(self.made, self.points_of, self.state, line, self.road)

    @property
    def line(self) -> GradeLine:
        if self.grade_line is None:
            raise NotReady(LINE.name, "There is no grade line yet: make one.")
        return self.grade_line

    @property
    def cost(self) -> Kept[Any]:
        return self.state.need(COST, "The project has no costs yet: type them.")

    @property
    def works(self) -> Kept[Any]:
        return self.state.need(WORKS, "The project does not say which section is built: choose one.")

    @property
    def section(self) -> Kept[Any]:
        """The typical section that is built."""
        kept = self.state.sections.get(self.works.value.section)
        if kept is None:
            raise NotReady(SECTION.name, "There is no typical section yet: make one.")
        return kept


def once(make: Callable[[Case], T]) -> Callable[[Case], T]:
    """A result of a case that is worked out, or looked up, once for it."""

    @wraps(make)
    def found(case: Case) -> T:
        if make not in case.known:
            case.known[make] = make(case)
        value: T = case.known[make]
        return value

    return found
