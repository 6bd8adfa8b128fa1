"""A project as of one revision: its inputs, read once and kept, since revisions never change."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from threading import Lock
from typing import TypeVar

from delgrun.core.earthworks.evaluator import CostModel
from delgrun.core.limits.limit_set import LimitSet
from delgrun.service.errors import NotReady
from delgrun.store import inputs, revisions
from delgrun.store.database import Database

SURVEY, CENTRELINE, LIMITS, SECTION, COST = "survey", "centreline", "limits", "section", "cost"
LINE_PREFIX = "line-"

T = TypeVar("T")


@dataclass(frozen=True)
class ProjectState:
    """Inputs of one revision with the ids of their versions."""

    project_id: int
    revision: int
    versions: dict[str, int]
    survey: inputs.SurveyHead | None = None
    centreline: inputs.CentrelineInput | None = None
    limits: LimitSet | None = None
    section: inputs.SectionInput | None = None
    cost: CostModel | None = None
    lines: dict[str, inputs.LineInput] = field(default_factory=dict)

    def line(self, slot: str) -> inputs.LineInput:
        if slot not in self.lines:
            raise NotReady("line", "This grade line is not in the project any more: choose another one.")
        return self.lines[slot]


class Cache:
    """Newest `size` values by key; a value asked for twice at once is made once."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._values: OrderedDict[Hashable, object] = OrderedDict()
        self._lock = Lock()
        self._making: dict[Hashable, Lock] = {}

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]  # type: ignore[return-value]
            making = self._making.setdefault(key, Lock())
        with making:
            with self._lock:
                if key in self._values:
                    return self._values[key]  # type: ignore[return-value]
            value = make()
            with self._lock:
                self._values[key] = value
                self._making.pop(key, None)
                while len(self._values) > self._size:
                    self._values.popitem(last=False)
            return value


class States:
    """Reads project states from the store through a cache."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._cache = Cache(64)
        self._inputs = Cache(512)

    def at(self, project_id: int, revision: int) -> ProjectState:
        return self._cache.get((project_id, revision), lambda: self._read(project_id, revision))

    def newest(self, project_id: int) -> ProjectState:
        with self._database.session() as session:
            number = revisions.head(session, project_id).number
        return self.at(project_id, number)

    def _read(self, project_id: int, revision: int) -> ProjectState:
        with self._database.session() as session:
            newest = revisions.head(session, project_id).number
            if not 0 <= revision <= newest:
                raise NotReady("project", f"The project has no revision {revision}; its newest is {newest}.")
            slots = revisions.slots_at(session, project_id, revision)
            values = {
                slot: self._inputs.get(vid, lambda vid=vid, kind=kind: inputs.read(session, vid, kind))  # type: ignore[misc]
                for slot, (vid, kind) in slots.items()
            }
        fixed = {k: values[k] for k in (SURVEY, CENTRELINE, LIMITS, SECTION, COST) if k in values}
        lines = {k: v for k, v in values.items() if k.startswith(LINE_PREFIX)}
        return ProjectState(
            project_id,
            revision,
            {slot: vid for slot, (vid, _) in slots.items()},
            lines=dict(sorted(lines.items(), key=lambda kv: int(kv[0].removeprefix(LINE_PREFIX)))),  # type: ignore[arg-type]
            **fixed,  # type: ignore[arg-type]
        )
