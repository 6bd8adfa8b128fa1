"""Use cases on a project: open, save inputs and grade lines, undo and redo, and ask for figures."""

import hashlib
from collections.abc import Container, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, Literal

from delgrun.core.centreline.speeds import us_bend_rules
from delgrun.core.coordinates import Coordinates
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import made_of
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import Edit, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine, LineDesign
from delgrun.core.gradeline.vertical_curve import BY_LIMITS
from delgrun.core.ground.edits import GroundChange, is_bulk
from delgrun.core.inputs import (
    BENDS,
    CENTRELINE,
    COST,
    EQUATIONS,
    GROUND,
    KINDS,
    LIMITS,
    PRACTICE,
    RANGES,
    SURVEY,
    TRUCK,
    WORKS,
    InputKind,
    kind_of,
)
from delgrun.core.limits.asked_curves import AskedCurves
from delgrun.core.limits.asked_curves import around as around_limits
from delgrun.core.practice import Practice, rounded
from delgrun.core.standards.families import FIRST_SPEED_MPH, limits_by
from delgrun.core.standards.standard import Wish
from delgrun.core.survey.points import Survey
from delgrun.core.trucks.trucks import Truck
from delgrun.core.units import FOOT_M, MILE_KM, System, Written, on_road, plain_chainage, written_by
from delgrun.service import coordinates, wire
from delgrun.service.case import Case
from delgrun.service.errors import NoRoom, NotReady
from delgrun.service.glance import glance_of
from delgrun.service.made import Kept, Key, Made
from delgrun.service.products import BY_NAME, ip_figures
from delgrun.service.recent import Recent
from delgrun.service.results import of_design, of_ground, of_limits, of_road
from delgrun.service.sent import Sent
from delgrun.service.shelf import Shelf
from delgrun.service.state import MAIN_ROAD, ProjectState, States, WithChanges
from delgrun.service.together import Together
from delgrun.service.wire import Json
from delgrun.store import glances, inputs, revisions
from delgrun.store.database import Database

# Nothing is saved on a disk with less room: the database writes more than what is saved.
LEAST_FREE_BYTES = 64 * 2**20
_RESTS = 8
_WRITTEN_BY = (CENTRELINE.name, EQUATIONS.name)


def _digest(parts: object) -> str:
    return hashlib.blake2b(repr(parts).encode(), digest_size=9).hexdigest()


@dataclass(frozen=True, kw_only=True)
class Saving:
    """Which project a change is for and what it was made on; `token` is the page's own name of the change."""

    project_id: int
    base: int
    author: str = ""
    token: str | None = None


class Projects:
    """Everything that reads or saves a project."""

    def __init__(self, database: Database, shelf: Shelf | None = None) -> None:
        self.database = database
        self.states = States(database)
        self.made = Made(shelf=shelf)
        self.shelf = shelf
        self._listed = Together(self._list)
        # Lines at rest that something is being tried on, by project, revision and slot.
        self._rests: Recent[tuple[int, int, str], Case] = Recent(_RESTS)
        self._beside: Recent[tuple[int, int, str], Around] = Recent(_RESTS)
        self._sent = Sent()
        # Makes what is sure to be asked for next.
        self._ahead = ThreadPoolExecutor(1)

    @staticmethod
    def at(url: str, shelf: Shelf | None = None) -> "Projects":
        """Use cases over the database at this address."""
        return Projects(Database(url), shelf)

    def listed(self) -> list[Json]:
        """Every project; many who ask at once have one answer."""
        return self._listed()

    def _list(self) -> list[Json]:
        with self.database.session() as session:
            # Of all others chainages are written as they are, and nothing is read of them.
            joined = revisions.projects_with(session, EQUATIONS.name)

            def said_of(p: revisions.Listed) -> str:
                return written_by(p.newest.label, partial(self.written, p.id)) if p.id in joined else p.newest.label

            return [
                {
                    "id": p.id,
                    "name": p.name,
                    "revision": p.newest.number,
                    "saved_at": p.newest.created_at.isoformat() + "Z",
                    "author": p.newest.author,
                    "label": said_of(p),
                }
                for p in revisions.projects(session)
            ]

    def create(self, name: str, system: System = "metric") -> int:
        """A new project with the first limits, section and costs, at revision 1."""
        self.need_room()
        first = {kind.name: kind.first() for kind in KINDS if kind.first is not None}
        if system != "metric":
            wish = Wish(design_speed_kmh=FIRST_SPEED_MPH * MILE_KM, foot_m=FOOT_M[system])
            first = {name: rounded(value, system) for name, value in first.items()}
            first[WORKS.name] = replace(first[WORKS.name], interval_m=25 * wish.foot_m)
            first[LIMITS.name] = limits_by("stopping_us", wish)
            first[COST.name] = replace(first[COST.name], currency="USD")
            first[BENDS.name] = rounded(us_bend_rules(), system)
            first[TRUCK.name] = rounded(Truck(), system)
        first[PRACTICE.name] = Practice(system=system)
        with self.database.session() as session:
            pid = revisions.create_project(session, name)
            revisions.save(session, pid, 0, "", "First limits, section and costs", first)
            return pid

    def opened(self, project_id: int) -> Json:
        """The whole project as of its newest revision, without what is derived."""
        with self.database.session() as session:
            name = revisions.project_name(session, project_id)
            history = revisions.history(session, project_id)
        state = self.states.at(project_id, history.head)
        return {
            "id": project_id,
            "name": name,
            "revision": state.revision,
            "history": wire.history_json(history),
            "land_key": _digest(self._land_parts(state)),
            **{kind.name: wire.input_json(state.get(kind)) for kind in KINDS if not kind.many},
            "sections": [{"slot": slot, **(wire.input_json(k.value) or {})} for slot, k in state.sections.items()],
            "surveys": [{"slot": slot, **(wire.input_json(k.value) or {})} for slot, k in state.surveys.items()],
            "centrelines": [
                {"slot": slot, "still_key": self._still_key(state, slot), **(wire.input_json(k.value) or {})}
                for slot, k in state.roads.items()
            ],
            "lines": [
                {
                    "slot": slot,
                    "road": v.road,
                    "name": v.name,
                    "colour": v.colour,
                    "status": v.status,
                    "ips": ip_figures(v.line),
                }
                for slot, v in state.lines.items()
            ],
        }

    def _land_parts(self, state: ProjectState) -> object:
        if not state.surveys:
            return None
        made_of_it: list[Kept[Any]] = [*state.surveys.values(), *state.changes.values()]
        return (*(k.key.parts for k in made_of_it), state.outline)

    def _still_key(self, state: ProjectState, road: str) -> str:
        """Names what all STILL products of a road are made of: the page asks for them again when it changes."""
        works = state.works
        interval = (works.interval_m, works.batters_to, works.survey) if works else None
        # All roads are drawn with it.
        roads = [(slot, kept.value.start_chainage_m, kept.value.ips) for slot, kept in state.roads.items()]
        return _digest((self._land_parts(state), road, roads, interval, self._design_parts(state, road)))

    def _design_parts(self, state: ProjectState, road: str) -> object:
        try:
            return of_design.still_parts(self.case(state, road=road))
        except (NotReady, DesignInputError):
            return None

    def glance(self, project_id: int) -> Json:
        """What the list shows of a project: its first line over the ground, length, cost, failures.

        It follows from the newest revision, and is kept with that revision's number: a list of many projects is
        read and not worked out. A project without ground or line has what there is.
        """
        with self.database.session() as session:
            head = revisions.head(session, project_id).number
            kept = glances.read(session, project_id, head)
        if kept is not None:
            return kept
        made = glance_of(self.case_of_first_line(self.states.at(project_id, head)))
        with self.database.session() as session:
            glances.write(session, project_id, head, made)
        return made

    def case_of_first_line(self, state: ProjectState) -> Case:
        first = next(iter(state.lines_of(MAIN_ROAD).values()), None)
        return self.case(state, first.line if first else None)

    # Saving

    def save(self, to: Saving, label: str, changes: dict[str, Any], minds: Container[str] | None = None) -> int:
        """Save new values of slots (None takes one away) in one revision; each is held against its rules first.

        `minds`: see `revisions.save`.
        """
        self.need_room()
        changes = changes | self._curves_that_follow(to, changes)
        before = WithChanges(
            self.states.at(to.project_id, to.base), changes, lambda state: of_ground.outlined(self.case(state))
        )
        for value in changes.values():
            if value is not None:
                kind_of(value).check(value, before)
        road = _road_of(changes, before.state)
        with self.database.session() as session:
            return revisions.save(
                session, to.project_id, to.base, to.author, on_road(label, road), changes, to.token, minds
            )

    def written(self, project_id: int, road: str, revision: int | None = None) -> Written:
        """How chainages are written along a road, or along that of a grade line; where none is named, the main one.

        By the project as it is now, or as of a revision that is at hand: then nothing is asked of the database.
        """
        state = self.states.newest(project_id) if revision is None else self.states.at(project_id, revision)
        return of_road.written(self.case(state, road=_road_named(state, road))) or plain_chainage

    def road_of(self, project_id: int, slot: str) -> str:
        """The road of a grade line as a project is now, or the one that the slot names; else the main one."""
        return _road_named(self.states.newest(project_id), slot)

    def _curves_that_follow(self, to: Saving, changes: dict[str, Any]) -> dict[str, Any]:
        """Grade lines whose curves keep what the limits ask, where these changes ask for others."""
        if not any(slot in (LIMITS.name, RANGES.name) or slot.split("-")[0] == CENTRELINE.name for slot in changes):
            return {}
        state = self.states.at(to.project_id, to.base)
        state = state.changed(changes)
        out: dict[str, Any] = {}
        for slot, design in state.lines.items():
            if design.status != "final" and any(ip.held in BY_LIMITS for ip in design.ips):
                limits = (
                    of_limits.limits(self.case(state, road=design.road)).value if state.limits is not None else None
                )
                made = design.line.under(AskedCurves(limits) if limits else None).held()
                if made != design.line and made.conflict() is None:
                    out[slot] = replace(design, ips=made.ips)
        return out

    def need_room(self, size: int = 0) -> None:
        """Raise NoRoom where the disk has none for so many bytes more."""
        if self.shelf is not None and self.shelf.free_bytes() < LEAST_FREE_BYTES + size:
            raise NoRoom

    def turn(self, to: Saving, kind: Literal["undo", "redo"]) -> int:
        """Undo or redo."""
        self.need_room()
        with self.database.session() as session:
            return revisions.turn(session, to.project_id, to.base, to.author, kind, to.token)

    def put(self, to: Saving, kind: InputKind, row: Json) -> int:
        """Save an input that is put as a whole."""
        value: Any = made_of(kind.cls, row)
        if isinstance(value, Coordinates):
            value = coordinates.check(value)
        return self.save(to, kind.label, {kind.name: value})

    def change_ground(self, to: Saving, rows: list[Json], note: str) -> tuple[int, str]:
        """Change the ground by hand; returns the revision and the change's slot."""
        state = self.states.at(to.project_id, to.base)
        _ = of_ground.surveys(self.case(state))
        row = {"author": to.author, "made_at": revisions.now().isoformat() + "Z", "note": note.strip(), "rows": rows}
        change = made_of(GroundChange, row)
        change.check()
        slot = f"{GROUND.name}-{max((int(s.split('-')[1]) for s in state.changes), default=0) + 1}"
        with_it = state.changed({slot: change})
        if change.what in ("edge", "breakline"):
            made = of_ground.ground(self.case(with_it)).value
            why = dict(made.idle).get(made.count - 1)
            if why:
                raise DesignInputError("rows", why)
        elif not is_bulk(change):
            # It is asked for next: made while it is saved and answered, and kept by what it is made of.
            self._ahead.submit(lambda: of_ground.ground(self.case(with_it)))
        return self.save(to, change.label, {slot: change}), slot

    def take_back_change(self, to: Saving, slot: str) -> int:
        """Take one change of the ground back; all others stay."""
        kept = self.states.at(to.project_id, to.base).changes.get(slot)
        if kept is None:
            raise NotReady(SURVEY.name, "This change of the ground is not in the project any more.")
        return self.save(to, f"Take back: {kept.value.label}", {slot: None})

    # Figures

    def around(self, state: ProjectState, road: str) -> Around:
        """What an edit may look at: the limits with the tie-ins of the road, the ground along it, its other lines."""
        key = (state.project_id, state.revision, road)
        found = self._beside.get(key)
        if found is None:
            found = self._around(state, road)
            self._beside.put(key, found)
        return found

    def _around(self, state: ProjectState, road: str) -> Around:
        case = self.case(state, road=road)

        def ground(chainage_m: float) -> float:
            return of_road.ground_at(case, chainage_m)

        limits = of_limits.limits(case).value if state.limits is not None else None
        lines = {slot: design.line for slot, design in state.lines_of(road).items()}
        return around_limits(limits, ground if state.surveys else None, lines)

    def case(self, state: ProjectState, line: GradeLine | None = None, road: str = MAIN_ROAD) -> Case:
        """What is derived from a project's inputs, one of its centrelines, and a line."""
        return Case(self.made, self._points_of, state, line, road)

    def _at_rest(self, state: ProjectState, slot: str) -> Case:
        """The case of a line as it is saved, kept for what is tried on it."""
        key = (state.project_id, state.revision, slot)
        found = self._rests.get(key)
        if found is None:
            found = self.case_of(state, slot)
            self._rests.put(key, found)
        return found

    def case_of(self, state: ProjectState, slot: str) -> Case:
        """The same for a grade line that is in the project."""
        design = state.line(slot)
        return self.case(state, design.line, design.road)

    @staticmethod
    def version_of(key: Key) -> int:
        """The version of an input that is known by it."""
        _, version = key.parts
        assert isinstance(version, int)
        return version

    def _points_of(self, key: Key) -> Survey:
        with self.database.session() as session:
            return inputs.read_survey(session, self.version_of(key))

    def figures(
        self,
        project_id: int,
        revision: int,
        want: Iterable[str],
        *,
        slot: str | None = None,
        road: str | None = None,
        ips: list[Json] | None = None,
        edits: Iterable[Edit] = (),
        at_m: float | None = None,
        some_m: Sequence[float] = (),
        have: Iterable[str] = (),
        system: System = "metric",
        upon: str | None = None,
        reader: System = "metric",
    ) -> bytes:
        """The wanted products of a line as of a revision, or of other IPs, with edits tried on it in turn.

        `road` is the slot of the centreline where it is not the line's own. `system`: where round figures are drawn,
        they are round in its units. `upon`: token of an answer that whoever asks has, in the words of `reader`; its
        lists are not told again (`Sent.beside`).

        The answer is binary: see `wire.pack`. Nothing is saved.
        """
        state = self.states.at(project_id, revision)
        line = wire.line_of(ips) if ips is not None else state.line(slot).line if slot is not None else None
        road = road or (state.line(slot).road if slot is not None else MAIN_ROAD)
        header: Json = {"revision": revision, "slot": slot, "selected": None, "stopped": None}
        edits = list(edits)
        if line is not None:
            around = self.around(state, road)
            for edit in edits:
                result = apply_edit(line, edit, around)
                line = result.line
                header |= {"selected": result.selected, "stopped": result.stopped}
        case = self.case(state, line, road)
        case.system = system
        if slot is not None and ips is None:
            if edits:
                case.rest = self._at_rest(state, slot)
            else:
                self._rests.put((project_id, revision, slot), case)
        products: Json = {}
        arrays: dict[str, Any] = {}
        for name in dict.fromkeys(want):
            product = BY_NAME[name]
            if product.at == "many":
                products[name], more = product.make(case, some_m)
            elif product.at:
                at = of_road.centreline(case).value.start_chainage_m if at_m is None else at_m
                products[name], more = product.make(case, at)
            else:
                products[name], more = product.make(case)
            arrays |= more
        if upon is not None:
            # What chainages are written by: the roads and their equations.
            writes = tuple(kept.key for name, kept in state.slots.items() if name.startswith(_WRITTEN_BY))
            header["token"], products = self._sent.beside(upon, (project_id, road, reader, writes), products)
        return wire.pack({**header, "products": products}, arrays, frozenset(have))


def _road_of(changes: Mapping[str, Any], state: ProjectState) -> str:
    """The road that a change is about; the main one where it is about none, or several."""
    roads = {
        slot if slot in state.roads else (value or state.lines[slot]).road
        for slot, value in changes.items()
        if slot in state.roads or isinstance(value, LineDesign) or (value is None and slot in state.lines)
    }
    return roads.pop() if len(roads) == 1 else MAIN_ROAD


def _road_named(state: ProjectState, slot: str) -> str:
    """The road of a grade line, or the one that the slot names; else the main one."""
    return state.lines[slot].road if slot in state.lines else slot if slot in state.roads else MAIN_ROAD
