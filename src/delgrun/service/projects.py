"""Use cases on a project: open, save inputs and grade lines, undo and redo."""

from dataclasses import replace

import numpy as np

from delgrun.core.centreline.centreline import Centreline, CentrelineIp
from delgrun.core.earthworks.evaluator import CostModel
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine, Ip
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.section.typical_section import TypicalSection
from delgrun.exchange.centreline_text import read_centreline
from delgrun.exchange.text_columns import lines_of
from delgrun.service import imports, live, wire
from delgrun.service.state import CENTRELINE, COST, LIMITS, LINE_PREFIX, SECTION, SURVEY, ProjectState, States
from delgrun.service.terrain import Terrains
from delgrun.service.wire import Json
from delgrun.store import inputs, models, revisions
from delgrun.store.database import Database

# Colours a line can have; the front end has one ink and one dash for each.
COLOURS = 6

# What a new project starts with; every value can be changed. Common practice for a rural road.
FIRST_SECTION = inputs.SectionInput(
    TypicalSection(
        lane_width_m=3.0,
        lane_crossfall=0.03,
        shoulder_width_m=1.0,
        shoulder_crossfall=0.04,
        pavement_thickness_m=0.45,
        topsoil_depth_m=0.15,
        cut_batter_h_over_v=1.5,
        fill_batter_h_over_v=2.0,
    ),
    10.0,
)
FIRST_COST = CostModel(
    currency="EUR",
    cut_per_m3=6.0,
    fill_per_m3=4.0,
    haul_per_m3_m=0.0012,
    borrow_per_m3=6.0,
    spoil_per_m3=3.0,
    compacted_per_bank=0.9,
)
_FIRST_SPEED_KMH = 70.0


class Projects:
    """Everything that reads or saves a project."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.states = States(database)
        self.terrains = Terrains(database)

    @staticmethod
    def at(url: str) -> "Projects":
        """Use cases over the database at this address."""
        return Projects(Database(url))

    def listed(self) -> list[Json]:
        with self.database.session() as session:
            out = []
            for p in session.query(models.Project).order_by(models.Project.id):
                top = revisions.head(session, p.id)
                out.append(
                    {"id": p.id, "name": p.name, "revision": top.number, "saved_at": top.created_at.isoformat() + "Z"}
                )
            return out

    def create(self, name: str) -> int:
        """A new project with default limits, section and costs, at revision 1."""
        with self.database.session() as session:
            pid = revisions.create_project(session, name)
            revisions.save(
                session,
                pid,
                0,
                "",
                "Defaults for limits, section and costs",
                {LIMITS: default_limits(_FIRST_SPEED_KMH), SECTION: FIRST_SECTION, COST: FIRST_COST},
            )
            return pid

    def opened(self, project_id: int) -> Json:
        """The whole project as of its newest revision, without terrain."""
        with self.database.session() as session:
            project = session.get(models.Project, project_id)
            if project is None:
                raise revisions.UnknownProject(project_id)
            name = project.name
            history = revisions.history(session, project_id)
        state = self.states.at(project_id, history.head)
        survey = state.survey
        return {
            "id": project_id,
            "name": name,
            "revision": state.revision,
            "history": wire.history_json(history),
            "survey": None
            if survey is None
            else {
                "file_name": survey.file_name,
                "point_count": survey.point_count,
                "breakline_count": survey.breakline_count,
                "left_out": survey.left_out,
                "longest_edge_m": survey.longest_edge_m,
            },
            "centreline": wire.centreline_json(state.centreline) if state.centreline else None,
            "limits": wire.limits_json(state.limits) if state.limits else None,
            "section": wire.section_json(state.section) if state.section else None,
            "cost": wire.cost_json(state.cost) if state.cost else None,
            "lines": [wire.line_json(slot, line) for slot, line in state.lines.items()],
        }

    def save(self, project_id: int, base: int, author: str, label: str, changes: dict[str, inputs.Input | None]) -> int:
        with self.database.session() as session:
            return revisions.save(session, project_id, base, author, label, changes)

    def turn(self, project_id: int, base: int, author: str, kind: str) -> int:
        """Undo or redo."""
        with self.database.session() as session:
            return revisions.turn(session, project_id, base, author, kind)

    # Inputs

    def save_limits(self, project_id: int, base: int, author: str, row: Json) -> int:
        return self.save(project_id, base, author, "Limits", {LIMITS: wire.limits_of(row)})

    def default_limits(self, design_speed_kmh: float) -> Json:
        """The limits of a design speed, without tie-ins."""
        return wire.limits_json(default_limits(design_speed_kmh))

    def save_section(self, project_id: int, base: int, author: str, row: Json) -> int:
        row = dict(row)
        interval = row.pop("interval_m")
        section = inputs.SectionInput(TypicalSection(**row), interval)
        return self.save(project_id, base, author, "Typical section", {SECTION: section})

    def save_cost(self, project_id: int, base: int, author: str, row: Json) -> int:
        return self.save(project_id, base, author, "Costs", {COST: CostModel(**row)})

    def preview_survey(self, data: bytes, layout: Json | None) -> Json:
        """How a survey file reads; see `imports.preview`."""
        return imports.preview(data, layout)

    def accept_survey(
        self,
        project_id: int,
        base: int,
        author: str,
        file_name: str,
        data: bytes,
        layout: Json | None,
        longest_edge_m: float,
    ) -> int:
        """Store a survey; see `imports.accepted`."""
        survey = imports.accepted(file_name, data, layout, longest_edge_m)
        return self.save(project_id, base, author, f"Survey “{file_name}”", {SURVEY: survey})

    def centreline_from_text(self, data: bytes) -> list[Json]:
        """IPs of a text table, not stored."""
        ips = read_centreline(lines_of(data))
        Centreline(ips)
        return [{"easting_m": p.easting_m, "northing_m": p.northing_m, "radius_m": p.radius_m} for p in ips]

    def centreline_elements(self, ips: list[Json], start_m: float) -> Json:
        """Table of tangents and arcs of a centreline that is not stored; radii positive to the right."""
        line = Centreline([CentrelineIp(**p) for p in ips], start_m)
        rows = [
            {
                "kind": "arc" if e.curvature else "tangent",
                "from_chainage_m": e.from_chainage_m,
                "to_chainage_m": e.to_chainage_m,
                "length_m": e.length_m,
                "radius_m": -1 / e.curvature if e.curvature else 0.0,
            }
            for e in line.elements
        ]
        return {"length_m": line.length_m, "elements": rows}

    def save_centreline(self, project_id: int, base: int, author: str, ips: list[Json], start_m: float) -> int:
        """Check and save the centreline; grade lines are fitted to its new length in the same revision."""
        points = tuple(CentrelineIp(**p) for p in ips)
        centreline = Centreline(list(points), start_m)
        state = self.states.at(project_id, base)
        changes: dict[str, inputs.Input | None] = {CENTRELINE: inputs.CentrelineInput(points, start_m)}
        for slot, line in state.lines.items():
            fitted = _fitted(line.line, centreline.start_chainage_m, centreline.end_chainage_m)
            if fitted != line.line:
                changes[slot] = replace(line, line=fitted)
        return self.save(project_id, base, author, "Centreline", changes)

    def length_of(self, project_id: int) -> float:
        """End chainage of the newest centreline. [m]"""
        return self.terrains.terrain(self.states.newest(project_id)).centreline.end_chainage_m

    # Grade lines

    def new_line(self, project_id: int, base: int, author: str, name: str) -> tuple[int, str]:
        """A straight line between the tie-ins, or the ground at the ends."""
        state = self.states.at(project_id, base)
        terrain = self.terrains.terrain(state)
        ground = terrain.works.tables.centre_level_m
        if np.isnan(ground[[0, -1]]).any():
            raise DesignInputError("centreline", "The survey has no ground at an end of the centreline.")
        levels = [float(round(ground[0], 3)), float(round(ground[-1], 3))]
        if state.limits is not None:
            for i, tie in enumerate((state.limits.start, state.limits.end)):
                if tie.level_m is not None:
                    levels[i] = tie.level_m
        c = terrain.centreline
        line = GradeLine.of(
            [Ip(chainage_m=c.start_chainage_m, level_m=levels[0]), Ip(chainage_m=c.end_chainage_m, level_m=levels[1])]
        )
        return self._add_line(project_id, base, author, state, name, line, f"New grade line “{name}”")

    def copy_line(self, project_id: int, base: int, author: str, slot: str, name: str) -> tuple[int, str]:
        state = self.states.at(project_id, base)
        return self._add_line(project_id, base, author, state, name, state.line(slot).line, f"Copy as “{name}”")

    def adopt_line(self, project_id: int, base: int, author: str, name: str, ips: list[Json]) -> tuple[int, str]:
        """Take a line in that came from elsewhere: a search, or another tab's unsaved work."""
        state = self.states.at(project_id, base)
        return self._add_line(project_id, base, author, state, name, wire.line_of(ips), f"Adopt “{name}”")

    def _add_line(
        self, project_id: int, base: int, author: str, state: ProjectState, name: str, line: GradeLine, label: str
    ) -> tuple[int, str]:
        used = {int(s.removeprefix(LINE_PREFIX)) for s in state.lines}
        slot = f"{LINE_PREFIX}{max(used, default=0) + 1}"
        taken = {v.colour for v in state.lines.values()}
        colour = next((c for c in range(COLOURS) if c not in taken), len(used) % COLOURS)
        value = inputs.LineInput(name, colour, line)
        return self.save(project_id, base, author, label, {slot: value}), slot

    def rename_line(self, project_id: int, base: int, author: str, slot: str, name: str) -> int:
        line = self.states.at(project_id, base).line(slot)
        return self.save(project_id, base, author, f"Rename to “{name}”", {slot: replace(line, name=name)})

    def delete_line(self, project_id: int, base: int, author: str, slot: str) -> int:
        line = self.states.at(project_id, base).line(slot)
        return self.save(project_id, base, author, f"Delete “{line.name}”", {slot: None})

    def edit_line(self, project_id: int, base: int, author: str, slot: str, edit: Json) -> tuple[int, int | None]:
        """Apply and save one edit; returns the revision and the IP that is selected then."""
        state = self.states.at(project_id, base)
        old = state.line(slot)
        result = live.apply_edit(state, old.line, edit)
        if result.line == old.line:
            return base, result.selected
        label = live.edit_label(old.line, edit)
        return self.save(project_id, base, author, label, {slot: replace(old, line=result.line)}), result.selected

    # Live

    def preview(
        self,
        project_id: int,
        revision: int,
        slot: str,
        ips: list[Json] | None,
        edit: Json | None,
        plumb_m: float | None,
    ) -> bytes:
        state = self.states.at(project_id, revision)
        line = state.line(slot).line if ips is None else wire.line_of(ips)
        return live.preview(self.terrains, state, line, edit, plumb_m)

    def remedies(self, project_id: int, revision: int, slot: str, ip: int) -> list[Json]:
        state = self.states.at(project_id, revision)
        return live.remedies(self.terrains, state, state.line(slot).line, ip)

    def terrain(self, project_id: int, revision: int) -> bytes:
        return live.terrain_answer(self.terrains, self.states.at(project_id, revision))


def _fitted(line: GradeLine, start: float, end: float) -> GradeLine:
    """The line over a centreline from start to end: IPs outside go, curves at the ends give way."""
    ips = [ip for ip in line.ips[1:-1] if start < ip.chainage_m < end]
    first = replace(line.ips[0], chainage_m=start)
    last = replace(line.ips[-1], chainage_m=end)
    if ips:
        room = 2 * (ips[0].chainage_m - start)
        ips[0] = replace(ips[0], curve_length_m=min(ips[0].curve_length_m, room))
        room = 2 * (end - ips[-1].chainage_m)
        ips[-1] = replace(ips[-1], curve_length_m=min(ips[-1].curve_length_m, room))
    return GradeLine((first, *ips, last))
