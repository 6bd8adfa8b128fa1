"""Tables that leave the program: elements, points and places to be set out, of a project's centreline."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from delgrun.core.centreline.points import critical_points
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.level_table import coefficients, level_stations
from delgrun.core.ground.along import ground_sections
from delgrun.core.inputs import CENTRELINE, LINE
from delgrun.core.limits.water import water_along
from delgrun.core.setting_out import places, stations
from delgrun.core.units import System, chainage_text, spoken
from delgrun.exchange.landxml_alignments import Written, write
from delgrun.exchange.level_workbook import level_workbook
from delgrun.exchange.tables import MIME, Cell, Column, Format, Sheet, table
from delgrun.service import summary
from delgrun.service.case import SECTION_REACH_M, Case
from delgrun.service.errors import NotReady
from delgrun.service.projects import Projects
from delgrun.service.state import MAIN_ROAD, ProjectState
from delgrun.service.wire import Json, table_json
from delgrun.store import revisions

TableName = Literal["elements", "points", "setting-out", "levels", "curves", "markings", "water", "checks"]
# More rows are not shown on screen; the file has all of them.
_SHOWN = 400


def _metres(heading: str, digits: int = 3) -> Column:
    return Column(heading, digits, "plan")


_STATION = (Column("station"), _metres("chainage"))
_PLACE = (_metres("easting"), _metres("northing"), Column("bearing deg", 6))


@dataclass(frozen=True, kw_only=True)
class SettingOut:
    """What is set out: how far apart, at critical points too or not, how far to the right, of which line, [m]; and
    what the table is in.
    """

    interval_m: float = 20.0
    critical: bool = True
    offset_m: tuple[float, ...] = (0.0,)
    slot: str | None = None
    road: str = MAIN_ROAD
    system: System = "metric"


def _degrees(angle: float) -> float:
    return float(np.degrees(angle))


def _elements(case: Case, _wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    line = case.centreline.value
    columns = (
        Column("element"), *_STATION, *_PLACE, _metres("length"), _metres("radius at start"),
        _metres("radius at end"),
    )  # fmt: skip
    at = line.line.at(np.array([e.from_chainage_m for e in line.elements]))
    rows: list[list[Cell]] = []
    for k, e in enumerate(line.elements):
        bearing = (90.0 - _degrees(float(at.direction[k]))) % 360
        radii = [-1 / k if k else None for k in (e.curvature, e.to_curvature)]
        place = [float(at.easting_m[k]), float(at.northing_m[k])]
        rows.append([e.kind, chainage_text(e.from_chainage_m), e.from_chainage_m, *place, bearing, e.length_m, *radii])
    return columns, rows


def _points(case: Case, _wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    columns = (Column("point"), *_STATION, *_PLACE, _metres("radius"), _metres("length"))
    return columns, [
        [
            p.what,
            chainage_text(p.chainage_m),
            p.chainage_m,
            p.easting_m,
            p.northing_m,
            _degrees(p.bearing),
            p.radius_m or None,
            p.length_m or None,
        ]
        for p in critical_points(case.centreline.value, case.stations)
    ]


def _setting_out(case: Case, wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    columns = (
        Column("point"), *_STATION, _metres("offset"), *_PLACE, _metres("ground"), _metres("design, not superelevated"),
        _metres("design less ground"),
    )  # fmt: skip
    line = case.centreline.value
    tin = case.tin.value if case.state.surveys else None
    typical = case.state.section
    s, names = stations(line, case.stations, wish.interval_m, wish.critical)
    found = places(line, s, names, wish.offset_m, tin, case.grade_line, typical)
    numbers = np.column_stack(
        [
            found.chainage_m,
            found.offset_m,
            found.easting_m,
            found.northing_m,
            np.degrees(found.bearing),
            found.ground_m,
            found.design_m,
            found.design_m - found.ground_m,
        ]
    ).tolist()
    return columns, [[what, chainage_text(row[0]), *row] for what, row in zip(found.what, numbers, strict=True)]


def _line_of(case: Case) -> GradeLine:
    if case.grade_line is None:
        raise NotReady(LINE.name, "There is no grade line yet: make one first.")
    return case.grade_line


def _markings(case: Case, _wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    """Where passing is possible and where not, one direction behind the other."""
    _line_of(case)
    columns = (
        Column("direction"), *_STATION, Column("to station"), Column("marking"), _metres("length", 1),
        _metres("ends at", 1),
    )  # fmt: skip
    return columns, [
        [
            m.way, chainage_text(m.from_m), m.from_m, chainage_text(m.to_m), "passing" if m.passing else "no passing",
            m.to_m - m.from_m, m.to_m,
        ]
        for m in (*case.checked.marked[0], *case.checked.marked[1])
    ]  # fmt: skip


def _water(case: Case, _wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    """High and low points, and stretches flatter than what drains, by chainage."""
    _line_of(case)
    columns = (
        Column("what"), *_STATION, _metres("ends at"), _metres("level"), Column("grade", 3, "exact_grade"),
        Column("K", 2, "k"), Column("lies in"), Column("says"),
    )  # fmt: skip
    return columns, [
        [w.what, chainage_text(w.from_m), w.from_m, w.to_m, w.level_m, w.grade, w.k_m_per_pct, w.lies_in, w.says]
        for w in water_along(case.checked)
    ]


def _checks(case: Case, _wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    """Every check with its worst use and where what it goes by comes from."""
    _line_of(case)
    heads = ("check", "verdict", "fails", "use %", "value", "limit", "where", "says", "source")
    columns = [Column(h, 1 if h == "use %" else 0 if h == "fails" else None) for h in heads]
    return columns, [
        [
            r.name, r.verdict, float(r.fails), None if r.use is None else 100 * r.use, r.value, r.limit, r.where,
            r.says, r.source,
        ]
        for r in summary.checks_of(case)
    ]  # fmt: skip


def _levels(case: Case, wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    columns = (
        Column("point"), *_STATION, _metres("level", 4), Column("grade", 4, "exact_grade"), _metres("ground"),
        _metres("level less ground"),
    )  # fmt: skip
    line = _line_of(case)
    s, names = level_stations(line, case.stations, wish.interval_m, wish.critical)
    ground = np.full(len(s), np.nan)
    if case.state.surveys:
        ground = ground_sections(case.tin.value, case.centreline.value, s, SECTION_REACH_M).centre_level_m
    levels = line.levels(s)
    numbers = np.column_stack([s, levels, line.grades(s), ground, levels - ground]).tolist()
    return columns, [[what, chainage_text(row[0]), *row] for what, row in zip(names, numbers, strict=True)]


def _curves(case: Case, _wish: SettingOut) -> tuple[Sequence[Column], list[list[Cell]]]:
    columns = (
        Column("curve"), *_STATION, _metres("ends at"), _metres("from level", 4), Column("b0", 4, "exact_grade"),
        Column("c0", 9, "bend"), Column("c1", 9, "bend"), _metres("length"), Column("K", 2, "k"), _metres("radius"),
    )  # fmt: skip
    rows: list[list[Cell]] = [
        [
            c.name, chainage_text(c.from_m), c.from_m, c.to_m, c.level_m, c.grade, c.before, c.after,
            c.to_m - c.from_m, c.k_m_per_pct, c.radius_m,
        ]
        for c in coefficients(_line_of(case))
    ]  # fmt: skip
    return columns, rows


_MAKERS = {
    "elements": _elements, "points": _points, "setting-out": _setting_out, "levels": _levels, "curves": _curves,
    "markings": _markings, "water": _water, "checks": _checks,
}  # fmt: skip


def _made(
    projects: Projects, project_id: int, revision: int, name: TableName, wish: SettingOut, form: Format | None = None
) -> tuple[str, list[Sheet]]:
    """The name of its file, without what says its form; the table, and in a workbook what goes with it."""
    state = projects.states.at(project_id, revision)
    case = projects.case_of(state, wish.slot) if wish.slot else projects.case(state, road=wish.road)
    case.speak()
    with spoken(wish.system):
        sheets = [Sheet(name.replace("-", " "), *_MAKERS[name](case, wish))]
        if name == "checks" and form == "xlsx":
            sheets += summary.sheets(case)
        sheets = [sheet.shown_in(wish.system) for sheet in sheets]
    return named_file(projects, project_id, revision, name, state, wish.slot, wish.road), sheets


_NOT_IN_NAMES = re.compile(r"[^\w .,()+\-]+")


def named_file(
    projects: Projects,
    project_id: int,
    revision: int,
    what: str,
    state: ProjectState,
    slot: str | None = None,
    road: str | None = None,
) -> str:
    """What a file is called: project, road, line, what it holds, revision; none can pass for another one."""
    with projects.database.session() as session:
        parts = [revisions.project_name(session, project_id)]
    line = state.lines.get(slot) if slot else None
    of = state.roads.get(line.road if line else road or "")
    parts += [x for x in (of.value.name if of else None, line.name if line else None, what, f"r{revision}") if x]
    return " - ".join(_NOT_IN_NAMES.sub("_", part).strip()[:60] for part in parts)


def shown(projects: Projects, project_id: int, revision: int, name: TableName, wish: SettingOut) -> Json:
    """A table for the screen: its first rows, and how many there are."""
    _, (made, *_) = _made(projects, project_id, revision, name, wish)
    return table_json(made, _SHOWN)


def file(
    projects: Projects, project_id: int, revision: int, name: TableName, wish: SettingOut, form: Format
) -> tuple[str, str, bytes]:
    """A table as a file: its name, its kind, its bytes."""
    file_name, sheets = _made(projects, project_id, revision, name, wish, form)
    if name == "levels" and form == "xlsx" and wish.slot:
        line = projects.states.at(project_id, revision).line(wish.slot).line
        data = level_workbook(line, sheets[0].columns, sheets[0].rows, wish.system)
    else:
        data = table(form, sheets)
    return f"{file_name}.{form}", MIME[form], data


def landxml(projects: Projects, project_id: int, revision: int) -> tuple[str, str, bytes]:
    """All centrelines, each with its grade lines, as a LandXML file: its name, its kind, its bytes."""
    state = projects.states.at(project_id, revision)
    roads = [
        Written(
            kept.value.name,
            projects.case(state, road=road).centreline.value,
            tuple((v.name, v.line) for v in state.lines_of(road).values()),
            projects.case(state, road=road).stations,
        )
        for road, kept in state.roads.items()
    ]
    if not roads:
        raise NotReady(CENTRELINE.name, "There is no centreline yet: draw it, or enter or import its IPs.")
    name = named_file(projects, project_id, revision, "centrelines", state)
    return f"{name}.xml", "application/xml", write(roads)
