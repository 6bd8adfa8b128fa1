"""The kinds of input a project is made of. A new kind is one class and one line in `KINDS`."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Protocol

from delgrun.core.budget import check_sections
from delgrun.core.centreline.centreline import CentrelineDesign
from delgrun.core.centreline.speeds import BendRules
from delgrun.core.centreline.stations import Equations
from delgrun.core.centreline.superelevation import Superelevation
from delgrun.core.controls.controls import LevelControls
from delgrun.core.controls.utilities import Utilities
from delgrun.core.coordinates import Coordinates
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.errors import DesignInputError
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
from delgrun.core.section.along import NO_SECTION, SectionsAlong
from delgrun.core.section.roadside import ReserveBounds, Strata, Works
from delgrun.core.section.typical_section import TypicalSection, plain_section
from delgrun.core.standards.families import limits_by
from delgrun.core.standards.standard import Wish
from delgrun.core.survey.codes import Codes
from delgrun.core.survey.points import SurveyHead
from delgrun.core.trucks.trucks import Truck


@dataclass(frozen=True)
class RowList:
    """A field of a kind that holds rows: its name, the table of the rows, and their class."""

    name: str
    table: str
    of: type

    @property
    def fields(self) -> tuple[Field, ...]:
        return fields_of(self.of)


class Before(Protocol):
    """What a rule of a kind may look at: the project as it is with what is being saved."""

    def all_of(self, kind: "InputKind") -> Sequence[Any]:
        """Every input of a kind."""

    def slots_of(self, kind: "InputKind") -> Sequence[str]:
        """The slots of a kind that hold something."""

    def trim(self) -> None:
        """Cut the ground as it will be to its outline; raises DesignInputError where none of it would be left."""


@dataclass(frozen=True, kw_only=True)
class InputKind:
    """One kind of input.

    Parameters
    ----------
    name : what its slot and its address are called
    table : name of the table of its versions
    cls : a frozen dataclass whose fields are declared with `meant`; some may hold rows (`of`)
    label : what the history calls a save of it
    first : what a new project has of it, if anything
    many : slots `<name>-1`, `<name>-2`... instead of one slot; the first survey and the first centreline may have none
        of these numbers
    rows : name of the table of the rows of each field that holds some
    numerous : of these there may be thousands; they are read together
    unsaved : what a project has that never saved one, if anything
    put : whether it is saved as a whole by a PUT of its fields; surveys and grade lines have ways of their own
    check_in : a rule that looks at the project it is saved into; raises DesignInputError
    """

    name: str
    table: str
    cls: type
    label: str
    first: Callable[[], Any] | None = None
    many: bool = False
    rows: Mapping[str, str] = field(default_factory=dict)
    numerous: bool = False
    unsaved: Callable[[], Any] | None = None
    put: bool = True
    check_in: Callable[[Any, Before], None] | None = None

    @property
    def fields(self) -> tuple[Field, ...]:
        """Fields kept in its own table."""
        return tuple(f for f in fields_of(self.cls) if f.of is None)

    @property
    def lists(self) -> tuple[RowList, ...]:
        """The fields that hold rows."""
        return tuple(RowList(f.name, self.rows[f.name], f.of) for f in fields_of(self.cls) if f.of is not None)

    def check(self, value: object, before: Before | None = None) -> None:
        """Bounds and rules, on saving only; raises DesignInputError.

        `before`: the project that it is saved into, for a rule of the kind that looks at more than the value itself.
        """
        check_fields(value)
        rule = getattr(value, "check", None)
        if rule is not None:
            rule()
        if before is not None and self.check_in is not None:
            self.check_in(value, before)


def _few_sections(value: Any, before: Before) -> None:
    """No road of the project may have more sections than can be worked out, at the interval that is set."""
    (setting,) = before.all_of(WORKS) or (None,)
    for design in before.all_of(CENTRELINE):
        if setting is not None:
            made = design.made()
            check_sections(made, setting.interval_m, setting.count_asked(made.curved))


def _works_fit(value: Works, before: Before) -> None:
    """There are few enough sections, and what is named is there."""
    _few_sections(value, before)
    if value.section not in before.slots_of(SECTION):
        raise DesignInputError("section", "This typical section is not there any more: choose another one.")
    if value.survey and value.survey not in before.slots_of(SURVEY):
        raise DesignInputError("survey", "This survey is not there any more: choose another surface.")


def _sections_are_there(value: SectionsAlong, before: Before) -> None:
    slots = before.slots_of(SECTION)
    for row in value.ranges:
        if row.section != NO_SECTION and row.section not in slots:
            raise DesignInputError(
                "section", "The typical section from {a:chainage} on is not there any more: choose another one.",
                a=row.from_m,
            )  # fmt: skip


def _leaves_ground(_: Any, before: Before) -> None:
    before.trim()


SURVEY = InputKind(name="survey", table="survey_version", cls=SurveyHead, label="Survey", many=True, put=False)
CENTRELINE = InputKind(
    name="centreline",
    table="centreline_version",
    cls=CentrelineDesign,
    label="Centreline",
    check_in=_few_sections,
    many=True,
    rows={"ips": "centreline_ip"},
    put=False,
)
LIMITS = InputKind(
    name="limits",
    table="limits_version",
    cls=LimitSet,
    label="Limits",
    rows={"sources": "limit_source"},
    first=lambda: limits_by("stopping", Wish(design_speed_kmh=FIRST_SPEED_KMH)),
)
SECTION = InputKind(
    name="section",
    table="typical_section_version",
    cls=TypicalSection,
    label="Typical section",
    first=plain_section,
    many=True,
    rows={"elements": "section_element", "layers": "section_layer", "batters": "section_batter"},
    put=False,
)
WORKS = InputKind(
    name="works",
    table="works_version",
    cls=Works,
    label="Earthworks",
    rows={"rows": "topsoil_stretch", "intervals": "interval_stretch", "singles": "own_section"},
    first=lambda: Works(reported_m=20.0, in_curves_m=10.0),
    check_in=_works_fit,
)
STRATA = InputKind(
    name="strata",
    table="strata_version",
    cls=Strata,
    label="Ground in layers",
    rows={"materials": "ground_material", "rows": "stratum_depth"},
    unsaved=Strata,
)
RESERVE = InputKind(
    name="reserve",
    table="reserve_version",
    cls=ReserveBounds,
    label="Reserve",
    rows={"rows": "reserve_stretch", "corners": "reserve_corner"},
    unsaved=ReserveBounds,
)
ALONG = InputKind(
    name="along",
    table="along_version",
    cls=SectionsAlong,
    label="Sections along the road",
    rows={"ranges": "section_range", "changes": "section_change", "lanes": "added_lane", "corners": "line_corner"},
    unsaved=SectionsAlong,
    check_in=_sections_are_there,
)
SUPERELEVATION = InputKind(
    name="superelevation",
    table="superelevation_version",
    cls=Superelevation,
    label="Superelevation",
    rows={"rows": "own_falls"},
    first=Superelevation,
    unsaved=lambda: Superelevation(built=False, widened=False),
)
COST = InputKind(name="cost", table="cost_version", cls=CostModel, label="Costs", first=CostModel)
LINE = InputKind(
    name="line",
    table="grade_line_version",
    cls=LineDesign,
    label="Grade line",
    many=True,
    rows={"ips": "grade_line_ip"},
    put=False,
)

GROUND = InputKind(
    name="ground",
    table="ground_change_version",
    cls=GroundChange,
    label="Change of the ground",
    many=True,
    rows={"rows": "ground_edit"},
    numerous=True,
    put=False,
)
CODES = InputKind(
    name="codes", table="codes_version", cls=Codes, label="Meaning of codes", rows={"rows": "code_meaning"}
)
OUTLINE = InputKind(
    name="outline",
    table="outline_version",
    cls=Outline,
    label="Boundary of the ground",
    rows={"rows": "outline_corner"},
    check_in=_leaves_ground,
)
COORDINATES = InputKind(name="coordinates", table="coordinates_version", cls=Coordinates, label="Coordinates")
BACKDROP = InputKind(name="backdrop", table="backdrop_version", cls=Backdrop, label="Picture under the map")
BENDS = InputKind(
    name="bends",
    table="bend_rules_version",
    cls=BendRules,
    label="Rules for bends",
    rows={"rows": "bend_speed_row"},
    unsaved=BendRules,
)
EQUATIONS = InputKind(
    name="equations",
    table="equations_version",
    cls=Equations,
    label="Chainage equations",
    rows={"rows": "chainage_equation"},
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
    rows={"rows": "limit_range"},
    unsaved=LimitRanges,
)
CONTROLS = InputKind(
    name="controls",
    table="controls_version",
    cls=LevelControls,
    label="Level controls",
    rows={"rows": "level_control"},
    unsaved=LevelControls,
)
UTILITIES = InputKind(
    name="utilities",
    table="utilities_version",
    cls=Utilities,
    label="Utilities",
    rows={"rows": "utility_point"},
    unsaved=Utilities,
)
SPOTS = InputKind(
    name="spots",
    table="spots_version",
    cls=SpotMarks,
    label="Spot levels",
    rows={"rows": "spot_mark"},
    unsaved=SpotMarks,
)
NOTES = InputKind(name="notes", table="notes_version", cls=Notes, label="Notes", rows={"rows": "note"})

KINDS: tuple[InputKind, ...] = (
    SURVEY,
    CENTRELINE,
    LIMITS,
    SECTION,
    WORKS,
    STRATA,
    RESERVE,
    ALONG,
    SUPERELEVATION,
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
    UTILITIES,
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
