"""A case: one revision's inputs and the line that is being looked at. Everything else follows, each result once."""

from collections.abc import Callable
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.earthworks.evaluator import Earthworks, Evaluation, evaluate_line
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import (
    GroundSections,
    LongSection,
    Stretch,
    ground_sections,
    long_section,
    stretch_with_ground,
)
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.inputs import CENTRELINE, COST, LIMITS, LINE, SECTION, SURVEY
from delgrun.core.limits.check import Checked, LimitUse
from delgrun.core.limits.checks import all_uses
from delgrun.core.section.section import DepthTable, build_depth_table
from delgrun.core.survey.points import Survey, SurveyHead
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key, Made
from delgrun.service.state import ProjectState

FloatArray = NDArray[np.float64]

# Ground is cut this far to both sides of the line. [m]
SECTION_REACH_M = 60.0


class Case:
    """Results of one revision and one line, each kept under what it used.

    Parameters
    ----------
    made : where results are kept
    points_of : reads the points of a survey by the key it is known under
    line : the line looked at; None for what needs none

    Raises
    ------
    NotReady
        (each property) An input is missing; it names the step to do next.
    """

    def __init__(
        self, made: Made, points_of: Callable[[Key], Survey], state: ProjectState, line: GradeLine | None = None
    ) -> None:
        self.made, self.state = made, state
        self._points_of = points_of
        self.grade_line = line

    def with_line(self, line: GradeLine) -> "Case":
        return Case(self.made, self._points_of, self.state, line)

    # Inputs

    @cached_property
    def line(self) -> GradeLine:
        if self.grade_line is None:
            raise NotReady(LINE.name, "There is no grade line yet: make one.")
        return self.grade_line

    @property
    def limits(self) -> Kept[Any]:
        return self.state.need(LIMITS, "The project has no limits yet: choose a design speed.")

    @property
    def cost(self) -> Kept[Any]:
        return self.state.need(COST, "The project has no costs yet: type them.")

    @property
    def setting(self) -> Kept[Any]:
        return self.state.need(SECTION, "There is no typical section yet: type one.")

    # Ground

    @cached_property
    def tin(self) -> Kept[Tin]:
        survey = self.state.need(SURVEY, "There is no survey yet: import one.")
        tin = self.made(self._ground_model, survey, Kept(survey.key, survey.key), on_shelf=Tin)
        # Part of what it weighs, and wanted by whatever asks it for a level.
        _ = tin.value.cells
        return tin

    def _ground_model(self, head: SurveyHead, key: Key) -> Tin:
        points = self._points_of(key)
        return build_tin(points.xyz, points.breaklines, head.longest_edge_m)

    @cached_property
    def centreline(self) -> Kept[Centreline]:
        design = self.state.need(CENTRELINE, "There is no centreline yet: enter or import its IPs.")
        return self.made(CentrelineDesign.made, design)

    @cached_property
    def stretch(self) -> Stretch:
        """Where the road can be: the centreline as far as there is ground."""
        found = self.made(stretch_with_ground, self.long, self.centreline).value
        if found is None:
            raise NotReady(CENTRELINE.name, "The centreline meets no ground of the survey: move it, or add a survey.")
        return found

    @cached_property
    def chainages(self) -> Kept[FloatArray]:
        road, interval = self.stretch, self.setting.value.interval_m
        return self.made(Centreline.priced_chainages, self.centreline, interval, road.from_m, road.to_m)

    @cached_property
    def long(self) -> Kept[LongSection]:
        return self.made(long_section, self.tin, self.centreline)

    @cached_property
    def across(self) -> Kept[GroundSections]:
        return self.made(ground_sections, self.tin, self.centreline, self.chainages, SECTION_REACH_M)

    # Earthworks

    @cached_property
    def tables(self) -> Kept[DepthTable]:
        return self.made(build_depth_table, self.across, self.setting, on_shelf=DepthTable)

    @cached_property
    def works(self) -> Kept[Earthworks]:
        return self.made(Earthworks.of, self.across, self.tables, self.setting)

    @cached_property
    def evaluation(self) -> Evaluation:
        # Quicker made than looked up, and each move of the pointer is another line.
        return evaluate_line(self.works.value, self.line, self.cost.value)

    @cached_property
    def checked(self) -> Checked:
        return Checked(self.line, self.limits.value, self.works.value, self.evaluation)

    @cached_property
    def uses(self) -> list[LimitUse]:
        return all_uses(self.checked)
