"""The kinds of input a project is made of. A new kind is one class and one line in `KINDS`."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from delgrun.core.centreline.centreline import CentrelineDesign
from delgrun.core.centreline.speeds import BendRules
from delgrun.core.centreline.stations import Equations
from delgrun.core.controls.controls import LevelControls
from delgrun.core.controls.services import Services
from delgrun.core.earthworks.evaluator import CostModel
from delgrun.core.fields import Field, check_fields, fields_of
from delgrun.core.gradeline.grade_line import LineDesign
from delgrun.core.ground.backdrop import Backdrop
from delgrun.core.ground.edits import GroundChange
from delgrun.core.ground.outline import Outline
from delgrun.core.ground.spots import SpotMarks
from delgrun.core.limits.limit_set import FIRST_SPEED_KMH, LimitSet
from delgrun.core.limits.ranges import LimitRanges
from delgrun.core.notes.notes import Notes
from delgrun.core.practice import Practice
from delgrun.core.section.typical_section import SectionSetting
from delgrun.core.standards.families import limits_by
from delgrun.core.standards.standard import Wish
from delgrun.core.survey.codes import Codes
from delgrun.core.survey.coordinates import Coordinates
from delgrun.core.survey.points import SurveyHead
from delgrun.core.trucks.trucks import Truck


@dataclass(frozen=True, kw_only=True)
class InputKind:
    """One kind of input.

    Parameters
    ----------
    name : what its slot and its address are called
    table : name of the table of its versions
    cls : a frozen dataclass whose fields are declared with `meant`; at most one of them holds rows (`of`)
    label : what the history calls a save of it
    first : what a new project has of it, if anything
    many : slots `<name>-1`, `<name>-2`... instead of one slot; the first survey and the first centreline may have none
        of these numbers
    rows_table : name of the table of its rows
    numerous : of these there may be thousands; they are read together
    unsaved : what a project has that never saved one, if anything
    put : whether it is saved as a whole by a PUT of its fields; surveys and grade lines have ways of their own
    """

    name: str
    table: str
    cls: type
    label: str
    first: Callable[[], Any] | None = None
    many: bool = False
    rows_table: str = ""
    numerous: bool = False
    unsaved: Callable[[], Any] | None = None
    put: bool = True

    @property
    def fields(self) -> tuple[Field, ...]:
        """Fields kept in its own table."""
        return tuple(f for f in fields_of(self.cls) if f.of is None)

    @property
    def rows(self) -> Field | None:
        """The field that holds its rows."""
        return next((f for f in fields_of(self.cls) if f.of is not None), None)

    def check(self, value: object) -> None:
        """Bounds and rules, on saving only; raises DesignInputError."""
        check_fields(value)
        rule = getattr(value, "check", None)
        if rule is not None:
            rule()


SURVEY = InputKind(name="survey", table="survey_version", cls=SurveyHead, label="Survey", many=True, put=False)
CENTRELINE = InputKind(
    name="centreline",
    table="centreline_version",
    cls=CentrelineDesign,
    label="Centreline",
    many=True,
    rows_table="centreline_ip",
    put=False,
)
LIMITS = InputKind(
    name="limits",
    table="limits_version",
    cls=LimitSet,
    label="Limits",
    rows_table="limit_source",
    first=lambda: limits_by("stopping", Wish(design_speed_kmh=FIRST_SPEED_KMH)),
)
SECTION = InputKind(
    name="section", table="section_version", cls=SectionSetting, label="Typical section", first=SectionSetting
)
COST = InputKind(name="cost", table="cost_version", cls=CostModel, label="Costs", first=CostModel)
LINE = InputKind(
    name="line",
    table="grade_line_version",
    cls=LineDesign,
    label="Grade line",
    many=True,
    rows_table="grade_line_ip",
    put=False,
)

GROUND = InputKind(
    name="ground",
    table="ground_change_version",
    cls=GroundChange,
    label="Change of the ground",
    many=True,
    rows_table="ground_edit",
    numerous=True,
    put=False,
)
CODES = InputKind(name="codes", table="codes_version", cls=Codes, label="Meaning of codes", rows_table="code_meaning")
OUTLINE = InputKind(
    name="outline",
    table="outline_version",
    cls=Outline,
    label="Boundary of the ground",
    rows_table="outline_corner",
)
COORDINATES = InputKind(name="coordinates", table="coordinates_version", cls=Coordinates, label="Coordinates")
BACKDROP = InputKind(name="backdrop", table="backdrop_version", cls=Backdrop, label="Picture under the map")
BENDS = InputKind(
    name="bends",
    table="bend_rules_version",
    cls=BendRules,
    label="Rules for bends",
    rows_table="bend_speed_row",
    unsaved=BendRules,
)
EQUATIONS = InputKind(
    name="equations",
    table="equations_version",
    cls=Equations,
    label="Chainage equations",
    rows_table="chainage_equation",
    unsaved=Equations,
    put=False,
)
PRACTICE = InputKind(name="practice", table="practice_version", cls=Practice, label="Units", unsaved=Practice)
TRUCK = InputKind(name="truck", table="truck_version", cls=Truck, label="Truck", unsaved=Truck)
RANGES = InputKind(
    name="ranges",
    table="ranges_version",
    cls=LimitRanges,
    label="Ranges",
    rows_table="limit_range",
    unsaved=LimitRanges,
)
CONTROLS = InputKind(
    name="controls",
    table="controls_version",
    cls=LevelControls,
    label="Level controls",
    rows_table="level_control",
    unsaved=LevelControls,
)
SERVICES = InputKind(
    name="services",
    table="services_version",
    cls=Services,
    label="Services",
    rows_table="service_point",
    unsaved=Services,
)
SPOTS = InputKind(
    name="spots", table="spots_version", cls=SpotMarks, label="Spot levels", rows_table="spot_mark", unsaved=SpotMarks
)
NOTES = InputKind(name="notes", table="notes_version", cls=Notes, label="Notes", rows_table="note")

KINDS: tuple[InputKind, ...] = (
    SURVEY,
    CENTRELINE,
    LIMITS,
    SECTION,
    COST,
    LINE,
    NOTES,
    GROUND,
    CODES,
    OUTLINE,
    COORDINATES,
    BACKDROP,
    BENDS,
    EQUATIONS,
    PRACTICE,
    TRUCK,
    RANGES,
    CONTROLS,
    SERVICES,
    SPOTS,
)


def kind_of_slot(slot: str) -> InputKind:
    """The kind whose inputs a slot holds.

    >>> kind_of_slot("line-12").name
    'line'
    """
    name = slot.split("-")[0]
    return next(k for k in KINDS if k.name == name)


def kind_of(value: object) -> InputKind:
    """The kind a value is of; raises TypeError for anything else."""
    for kind in KINDS:
        if isinstance(value, kind.cls):
            return kind
    raise TypeError(f"{type(value).__name__} is no kind of input")
