"""A project as of one revision: its inputs, read once and kept, since revisions never change."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from threading import Lock
from typing import Any

from sqlalchemy.orm import Session

from delgrun.core.centreline.centreline import CentrelineDesign
from delgrun.core.coordinates import Coordinates
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.gradeline.grade_line import LineDesign
from delgrun.core.ground.edits import GroundChange, is_bulk
from delgrun.core.ground.outline import Outline
from delgrun.core.inputs import (
    CENTRELINE,
    CODES,
    COORDINATES,
    COST,
    GROUND,
    KINDS,
    LIMITS,
    LINE,
    OUTLINE,
    SECTION,
    SURVEY,
    WORKS,
    InputKind,
    kind_of_slot,
)
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.section.roadside import Works
from delgrun.core.section.typical_section import TypicalSection
from delgrun.core.survey.codes import Codes
from delgrun.core.survey.points import SurveyHead
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key
from delgrun.store import inputs, revisions
from delgrun.store.database import Database

_KEPT_STATES, _KEPT_INPUTS = 256, 8192
# The slot of a project's first centreline.
MAIN_ROAD = CENTRELINE.name


@dataclass(frozen=True)
class WithChanges:
    """A project with values of slots that are being saved (None: taken away), for the rules of their kinds."""

    state: "ProjectState"
    changes: dict[str, Any]
    trimmed: Callable[["ProjectState"], object]

    def all_of(self, kind: InputKind) -> list[Any]:
        """Every input of a kind, as it will be."""
        slots = self.state.changed(self.changes).slots
        return [kept.value for slot, kept in slots.items() if kind_of_slot(slot) is kind]

    def slots_of(self, kind: InputKind) -> list[str]:
        """The slots of a kind that will hold something."""
        return [slot for slot in self.state.changed(self.changes).slots if kind_of_slot(slot) is kind]

    def trim(self) -> None:
        """Cut the ground as it will be to its outline; raises DesignInputError where none of it would be left.

        Who brings a survey has built its ground, and cut it, before.
        """
        if any(value is not None and kind_of_slot(slot) is SURVEY for slot, value in self.changes.items()):
            return
        state = self.state.changed(self.changes)
        if state.surveys:
            self.trimmed(state)


@dataclass(frozen=True)
class ProjectState:
    """Inputs of one revision by slot, each with the key that results made from it are kept under."""

    project_id: int
    revision: int
    slots: dict[str, Kept[Any]] = field(default_factory=dict)

    def changed(self, changes: dict[str, Any]) -> "ProjectState":
        """The same with other values of slots; None takes one away. Results made from them are kept by the values."""
        new = {slot: Kept(v, Key(kind_of_slot(slot).name, v)) for slot, v in changes.items() if v is not None}
        return replace(self, slots={k: v for k, v in self.slots.items() if k not in changes} | new)

    def get(self, kind: InputKind) -> Any:
        """The input of a kind that has one slot; None where there is none."""
        kept = self.slots.get(kind.name)
        if kept is None:
            return None if kind.unsaved is None else kind.unsaved()
        return kept.value

    def need(self, kind: InputKind, message: str) -> Kept[Any]:
        """The same with its key; raises NotReady naming the step to do."""
        kept = self.slots.get(kind.name)
        if kept is None:
            raise NotReady(kind.name, message)
        return kept

    @property
    def centreline(self) -> CentrelineDesign | None:
        """The main road's."""
        kept = self.slots.get(MAIN_ROAD)
        return None if kept is None else kept.value

    @property
    def roads(self) -> dict[str, Kept[CentrelineDesign]]:
        """Centrelines by slot, in the order in which they were made, the main road's first."""
        found = {s: k for s, k in self.slots.items() if s.split("-")[0] == CENTRELINE.name}
        return dict(sorted(found.items(), key=lambda item: int(item[0].partition("-")[2] or 0)))

    def lines_of(self, road: str) -> dict[str, LineDesign]:
        """Grade lines of one road by slot."""
        return {slot: design for slot, design in self.lines.items() if design.road == road}

    @property
    def limits(self) -> LimitSet | None:
        return self.get(LIMITS)  # type: ignore[no-any-return]

    @property
    def sections(self) -> dict[str, Kept[TypicalSection]]:
        """Typical sections by slot, in the order in which they were made; the first has no number."""
        found = {s: k for s, k in self.slots.items() if s.split("-")[0] == SECTION.name}
        return dict(sorted(found.items(), key=lambda item: int(item[0].partition("-")[2] or 0)))

    @property
    def works(self) -> Works | None:
        return self.get(WORKS)  # type: ignore[no-any-return]

    @property
    def codes(self) -> Codes | None:
        return self.get(CODES)  # type: ignore[no-any-return]

    @property
    def coordinates(self) -> Coordinates:
        """Which coordinates the project is in."""
        return self.get(COORDINATES) or Coordinates()

    @property
    def outline(self) -> Outline:
        """How the ground is bounded; projects of earlier versions have no boundary."""
        return self.get(OUTLINE) or Outline()

    @property
    def cost(self) -> CostModel | None:
        return self.get(COST)  # type: ignore[no-any-return]

    @property
    def lines(self) -> dict[str, LineDesign]:
        """Grade lines by slot, in the order in which they were made."""
        found = {s: k.value for s, k in self.slots.items() if s.startswith(f"{LINE.name}-")}
        return dict(sorted(found.items(), key=lambda item: int(item[0].split("-")[1])))

    @property
    def surveys(self) -> dict[str, Kept[SurveyHead]]:
        """Surveys by slot, in the order in which they came; the first of earlier versions has no number."""
        found = {s: k for s, k in self.slots.items() if s.split("-")[0] == SURVEY.name}
        return dict(sorted(found.items(), key=lambda item: int(item[0].partition("-")[2] or 0)))

    @property
    def read_as(self) -> str:
        """How the newest survey's file was read, for the next one; empty where there is none."""
        return next((k.value.read_as for k in reversed(self.surveys.values())), "")

    @property
    def changes(self) -> dict[str, Kept[GroundChange]]:
        """Changes of the ground by slot, in the order in which they were made."""
        found = {s: k for s, k in self.slots.items() if s.startswith(f"{GROUND.name}-")}
        return dict(sorted(found.items(), key=lambda item: int(item[0].split("-")[1])))

    def line(self, slot: str) -> LineDesign:
        kept = self.slots.get(slot)
        if kept is None or not isinstance(kept.value, LineDesign):
            words = f"This grade line is not in revision {self.revision}: it was made later, or taken away before."
            raise NotReady(LINE.name, words)
        return kept.value


class _Newest:
    """The newest few values by key; they are small."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._values: OrderedDict[Hashable, Any] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable) -> Any:
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
            return self._values.get(key)

    def put(self, key: Hashable, value: Any) -> None:
        with self._lock:
            self._values[key] = value
            while len(self._values) > self._size:
                self._values.popitem(last=False)


class States:
    """Reads project states from the store; what was read once is kept."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._states = _Newest(_KEPT_STATES)
        self._inputs = _Newest(_KEPT_INPUTS)

    def at(self, project_id: int, revision: int) -> ProjectState:
        found = self._states.get((project_id, revision))
        if found is None:
            found = self._read(project_id, revision)
            self._states.put((project_id, revision), found)
        return found  # type: ignore[no-any-return]

    def newest(self, project_id: int) -> ProjectState:
        with self._database.session() as session:
            number = revisions.head(session, project_id).number
        return self.at(project_id, number)

    def _read(self, project_id: int, revision: int) -> ProjectState:
        with self._database.session() as session:
            newest = revisions.head(session, project_id).number
            if not 0 <= revision <= newest:
                raise NotReady("project", f"The project has no revision {revision}; its newest is {newest}.")
            found = revisions.slots_at(session, project_id, revision)
            self._read_numerous(session, found)
            slots: dict[str, Kept[Any]] = {}
            for slot, (version, kind) in found.items():
                kept = self._inputs.get(version)
                if kept is None:
                    kept = self._keep(version, kind, inputs.read(session, version, kind))
                slots[slot] = kept
        return ProjectState(project_id, revision, slots)

    def _read_numerous(self, session: Session, found: dict[str, tuple[int, str]]) -> None:
        """Read what is not kept of the kinds of which there may be thousands."""
        for kind in KINDS:
            if kind.numerous:
                new = [v for v, name in found.values() if name == kind.name and self._inputs.get(v) is None]
                for version, value in (inputs.read_many(session, new, kind.name) if new else {}).items():
                    self._keep(version, kind.name, value)

    def _keep(self, version: int, kind: str, value: Any) -> Kept[Any]:
        # Points are too many to be a key: what holds them is known by its version. Everything else is its own key,
        # so that an old value typed again finds what was made from it.
        many = kind == SURVEY.name or (isinstance(value, GroundChange) and is_bulk(value))
        kept = Kept(value, Key(kind, version if many else value))
        self._inputs.put(version, kept)
        return kept
