"""A case: one revision's inputs and the line that is being looked at. Everything else follows, each result once."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.speeds import BendRules, BendSpeed, RoadWidth, bend_speeds
from delgrun.core.centreline.stations import Equations, Stations
from delgrun.core.controls.junction import grade_on, level_on
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
from delgrun.core.ground.edits import Edited, GroundChange, as_built, edited, is_bulk, meant_by
from delgrun.core.ground.outline import Outline, cut_out
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.inputs import (
    BENDS,
    CENTRELINE,
    COST,
    EQUATIONS,
    LIMITS,
    LINE,
    OUTLINE,
    RANGES,
    SECTION,
    SURVEY,
    TRUCK,
)
from delgrun.core.limits.check import Checked, LimitUse, PlanBend
from delgrun.core.limits.checks import all_uses
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import LimitRanges
from delgrun.core.limits.topics import TieIn
from delgrun.core.section.section import DepthTable, build_depth_table
from delgrun.core.survey.joining import Layer, joined, longest_edge_of
from delgrun.core.survey.points import Survey, SurveyHead
from delgrun.core.trucks.trucks import Truck
from delgrun.core.units import System, Written
from delgrun.service.controls import bands_of_case
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key, Made
from delgrun.service.space import InSpace, sight_in_both_ways
from delgrun.service.state import MAIN_ROAD, ProjectState

FloatArray = NDArray[np.float64]

# Ground is cut this far to both sides of the line. [m]
SECTION_REACH_M = 60.0


def _surface_of(ground: Edited) -> Tin:
    return ground.tin


_FIRST_RULES: Kept[BendRules] = Kept(BendRules(), Key("first", BENDS.name))


def _speeds_of(line: Centreline, rules: BendRules, limits: LimitSet, road: RoadWidth) -> list[BendSpeed]:
    return bend_speeds(line.bends, line.ips, rules, design_speeds(line.bends, limits), road)


def design_speeds(bends: Sequence[Bend], limits: LimitSet) -> list[float]:
    """The design speed of each bend: the fastest of the ranges it touches. [km/h]"""
    return [limits.over("design_speed_kmh", b.from_chainage_m, b.to_chainage_m) for b in bends]


def plan_bends(line: Centreline, speeds: list[BendSpeed]) -> tuple[PlanBend, ...]:
    """The bends of a line as checks look at them."""
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
            widening_m=s.widening_m,
        )
        for b, s in zip(line.bends, speeds, strict=True)
    )


def _ranged(typed: LimitSet, ranges: LimitRanges, road: str) -> LimitSet:
    """Limits with the ranges of one road."""
    return typed.with_ranges(ranges.of(road))


def _tied(typed: LimitSet, main: bool, start: TieIn, end: TieIn) -> LimitSet:
    """Limits with what is handed over at the ends; those of a side road without the main road's."""
    own = typed if main else replace(typed, start_level_m=None, start_grade=None, end_level_m=None, end_grade=None)
    handed: dict[str, Any] = {
        "start_level_m": start.level_m, "start_grade": start.grade, "end_level_m": end.level_m, "end_grade": end.grade,
    }  # fmt: skip
    return replace(own, **{name: value for name, value in handed.items() if value is not None})


def _within(tin: Tin, outline: Outline) -> Tin:
    return cut_out(tin, outline.rings)


class Case:
    """Results of one revision and one line, each kept under what it used.

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
        self.made, self.state, self.road = made, state, road
        self._points_of = points_of
        self.grade_line = line
        self.system: System = "metric"
        # The line at rest, where this one is a move of it.
        self.rest: Case | None = None
        # What was made of this line for people, for moves of it to take over.
        self.told: dict[Any, Any] = {}

    def with_line(self, line: GradeLine) -> "Case":
        return Case(self.made, self._points_of, self.state, line, self.road)

    # Inputs

    @cached_property
    def line(self) -> GradeLine:
        if self.grade_line is None:
            raise NotReady(LINE.name, "There is no grade line yet: make one.")
        return self.grade_line

    @cached_property
    def limits(self) -> Kept[LimitSet]:
        """The project's limits, with the tie-ins of this road.

        Typed ones are the main road's; at a junction another road hands over its level, and its grade if wished.
        """
        typed = self.state.need(LIMITS, "The project has no limits yet: choose a design speed.")
        ranges = self.state.slots.get(RANGES.name)
        if ranges is not None and ranges.value.of(self.road):
            typed = self.made(_ranged, typed, ranges, self.road)
        asked = bands_of_case(self)
        if asked is not None:
            typed = self.made(LimitSet.with_bands, typed, asked)
        start, end = self._handed_over("start"), self._handed_over("end")
        if self.road == MAIN_ROAD and start == end == TieIn():
            return typed
        return self.made(_tied, typed, self.road == MAIN_ROAD, start, end)

    def _handed_over(self, end: Literal["start", "end"]) -> TieIn:
        """The level that another road hands to an end of this one, and its grade where that is taken too."""
        own = self.state.roads.get(self.road)
        if own is None:
            return TieIn()
        design: CentrelineDesign = own.value
        first = end == "start"
        met = self.state.lines.get(design.start_meets if first else design.end_meets)
        if met is None or met.road not in self.state.roads:
            return TieIn()
        ip = design.ips[0 if first else -1]
        there = self.roads[met.road], met.line, self.setting.value
        level = level_on(*there, ip.easting_m, ip.northing_m)
        if not (design.start_takes_grade if first else design.end_takes_grade):
            return TieIn(level_m=level)
        line = self.centreline.value
        at = line.line.at(np.array([line.start_chainage_m if first else line.end_chainage_m]))
        place = ip.easting_m, ip.northing_m
        return TieIn(level_m=level, grade=grade_on(*there, place, float(at.direction[0]), leaves=first))

    @property
    def cost(self) -> Kept[Any]:
        return self.state.need(COST, "The project has no costs yet: type them.")

    @property
    def setting(self) -> Kept[Any]:
        return self.state.need(SECTION, "There is no typical section yet: type one.")

    # Bends

    @property
    def bend_rules(self) -> Kept[BendRules]:
        """By what bends are judged; projects of earlier versions have the first rules."""
        return self.state.slots.get(BENDS.name, _FIRST_RULES)

    @property
    def road_width(self) -> RoadWidth:
        """The road that is turned in bends."""
        typical = self.setting.value
        return RoadWidth(typical.lane_width_m, typical.lane_crossfall)

    @property
    def bend_speeds(self) -> Kept[list[BendSpeed]]:
        """What each bend allows and needs."""
        return self.made(_speeds_of, self.centreline, self.bend_rules, self.limits, self.road_width)

    @cached_property
    def plan_bends(self) -> tuple[PlanBend, ...]:
        """The bends as checks look at them."""
        return self.made(plan_bends, self.centreline, self.bend_speeds).value

    # Ground

    @cached_property
    def surveys(self) -> Kept[tuple[Kept[SurveyHead], ...]]:
        """All surveys, in the order in which they came."""
        found = tuple(self.state.surveys.values())
        if not found:
            raise NotReady(SURVEY.name, "There is no survey yet: import one.")
        return Kept(found, Key(*(s.key for s in found)))

    @property
    def longest_edge_m(self) -> float:
        """How long an outer edge of the ground may be: as the outline says, else as the surveys do. [m]"""
        said = self.state.outline.longest_edge_m
        return longest_edge_of([s.value.longest_edge_m for s in self.surveys.value]) if said is None else said

    @property
    def layers(self) -> dict[str, Layer]:
        """The surveys with their points, by slot."""
        return dict(zip(self.state.surveys, self._layers(self.surveys.value), strict=True))

    @cached_property
    def points(self) -> Kept[Survey]:
        """The points of all surveys as they were accepted."""
        return self.made(self._joined, self.surveys)

    def _layers(self, surveys: tuple[Kept[SurveyHead], ...]) -> list[Layer]:
        return [Layer(self._points_of(s.key), s.value.joins, s.value.longest_edge_m) for s in surveys]

    def _joined(self, surveys: tuple[Kept[SurveyHead], ...]) -> Survey:
        return joined(self._layers(surveys))

    @cached_property
    def tin(self) -> Kept[Tin]:
        """The ground: the survey's triangles with all changes by hand."""
        return self.made(_surface_of, self.ground)

    @cached_property
    def ground(self) -> Kept[Edited]:
        """The ground with what its changes by hand have touched."""
        few = [c for c in self.state.changes.values() if not is_bulk(c.value)]
        return self._edited(self.outlined, few)

    @cached_property
    def outlined(self) -> Kept[Tin]:
        """The same within its boundary."""
        outline = self.state.slots.get(OUTLINE.name)
        return self.made(_within, self.built, outline) if outline is not None and outline.value.rows else self.built

    @cached_property
    def built(self) -> Kept[Tin]:
        """The survey's triangles, without the points that are taken out by the hundred."""
        many = [c for c in self.state.changes.values() if is_bulk(c.value)]
        built = self.made(self._ground_model, self.surveys, self.longest_edge_m, *many, on_shelf=Tin)
        # Part of what it weighs, and wanted by whatever asks it for a level.
        _ = built.value.cells
        return built

    def _edited(self, built: Kept[Tin], changes: list[Kept[GroundChange]]) -> Kept[Edited]:
        longest = self.longest_edge_m

        def points() -> FloatArray:
            return self.points.value.xyz

        def from_start(tin: Tin, *all_of_them: GroundChange) -> Edited:
            return edited(as_built(tin), all_of_them, longest, points)

        # With one more change it is the surface before with that one made, if that surface is at hand.
        before = self.made.has(from_start, built, *changes[:-1]) if changes else None

        def one_more() -> Edited:
            assert before is not None
            return edited(before.value, [changes[-1].value], longest, points)

        return self.made(from_start, built, *changes, quicker=one_more if before else None)

    def take_built(self, tin: Tin) -> None:
        """Keep the surface of surveys that was just built, so that it isn't built again."""
        if not any(is_bulk(c.value) for c in self.state.changes.values()):
            self.made(self._ground_model, self.surveys, self.longest_edge_m, on_shelf=Tin, quicker=lambda: tin)

    def _ground_model(self, surveys: tuple[Kept[SurveyHead], ...], longest: float, *without: GroundChange) -> Tin:
        points = self._joined(surveys)
        if not without:
            return build_tin(points.xyz, points.breaklines, longest)
        kept = np.flatnonzero(~meant_by(points.xyz, without))
        number = np.full(len(points.xyz), -1)
        number[kept] = np.arange(len(kept))
        lines = [number[line][number[line] >= 0] for line in points.breaklines]
        tin = build_tin(points.xyz[kept], lines, longest)
        # Rows are those of the whole survey.
        row = np.where(tin.row >= 0, kept[tin.row], -1)
        return replace(tin, row=row, doubles=kept[tin.doubles])

    @cached_property
    def centreline(self) -> Kept[Centreline]:
        design = self.state.roads.get(self.road)
        if design is None:
            raise NotReady(CENTRELINE.name, "There is no centreline yet: draw it, or enter or import its IPs.")
        return self.made(CentrelineDesign.made, design)

    @cached_property
    def stations(self) -> Stations:
        """What is written along the road."""
        equations: Equations = self.state.get(EQUATIONS)
        return equations.of(self.road)

    @property
    def written(self) -> Written | None:
        """How chainages are written along the road; None: as they are."""
        return self.stations.text if len(self.stations) else None

    @property
    def roads(self) -> dict[str, Centreline]:
        """All centrelines of the project by slot."""
        return {slot: self.made(CentrelineDesign.made, kept).value for slot, kept in self.state.roads.items()}

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

    def ground_at(self, chainage_m: float) -> float:
        """The level of the ground at a chainage, NaN where there is none. [m]"""
        line = self.centreline.value
        if not line.start_chainage_m <= chainage_m <= line.end_chainage_m:
            return float("nan")
        at = ground_sections(self.tin.value, line, np.array([chainage_m]), SECTION_REACH_M)
        return float(at.centre_level_m[0])

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
        truck: Truck = self.state.get(TRUCK)
        rest = self.rest.checked if self.rest else None
        return Checked(self.line, self.limits.value, self.works.value, self.evaluation, self.plan_bends, truck, rest)

    @cached_property
    def uses(self) -> list[LimitUse]:
        return all_uses(self.checked)

    @cached_property
    def in_space(self) -> InSpace:
        """Sight past batters and over the ground beside the road, both ways."""
        return sight_in_both_ways(self)
