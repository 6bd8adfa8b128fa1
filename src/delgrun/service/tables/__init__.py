"""Tables that leave the program. A new one is a file here with a `TableKind`, and a line in `TABLES`."""

from typing import TYPE_CHECKING, Literal

from delgrun.core.units import spoken
from delgrun.exchange.tables import MIME, Format, Sheet, table
from delgrun.service.case import Case
from delgrun.service.named import named_file
from delgrun.service.projects import Projects
from delgrun.service.results import of_road
from delgrun.service.tables.along_tables import EXCEPTIONS, SUPERELEVATION
from delgrun.service.tables.centreline_tables import ELEMENTS, POINTS, SETTING_OUT
from delgrun.service.tables.check_tables import CHECKS
from delgrun.service.tables.kind import TableKind, TableWish
from delgrun.service.tables.line_tables import CURVES, LEVELS, MARKINGS, WATER
from delgrun.service.tables.section_tables import NAMED_POINTS, TAKES
from delgrun.service.wire import Json, table_json

TABLES: tuple[TableKind, ...] = (
    ELEMENTS,
    POINTS,
    SETTING_OUT,
    LEVELS,
    CURVES,
    MARKINGS,
    WATER,
    CHECKS,
    NAMED_POINTS,
    TAKES,
    SUPERELEVATION,
    EXCEPTIONS,
)
if TYPE_CHECKING:
    TableName = str
else:
    TableName = Literal[tuple(t.name for t in TABLES)]
_BY_NAME = {t.name: t for t in TABLES}
# More rows are not shown on screen; the file has all of them.
_SHOWN = 400


def _case(projects: Projects, project_id: int, revision: int, wish: TableWish) -> Case:
    state = projects.states.at(project_id, revision)
    return projects.case_of(state, wish.slot) if wish.slot else projects.case(state, road=wish.road)


def _made(case: Case, kind: TableKind, wish: TableWish) -> Sheet:
    return Sheet(kind.name.replace("-", " "), *kind.make(case, wish)).shown_in(wish.system)


def shown(projects: Projects, project_id: int, revision: int, name: str, wish: TableWish) -> Json:
    """A table for the screen: its first rows, and how many there are."""
    case = _case(projects, project_id, revision, wish)
    with spoken(wish.system, of_road.written(case)):
        return table_json(_made(case, _BY_NAME[name], wish), _SHOWN)


def file(
    projects: Projects, project_id: int, revision: int, name: str, wish: TableWish, form: Format
) -> tuple[str, str, bytes]:
    """A table as a file: its name, its kind, its bytes."""
    kind, case = _BY_NAME[name], _case(projects, project_id, revision, wish)
    with spoken(wish.system, of_road.written(case)):
        sheet = _made(case, kind, wish)
        data = kind.workbook(case, wish, sheet) if form == "xlsx" else table(form, [sheet])
    return f"{named_file(projects, case.state, name, wish.slot, wish.road)}.{form}", MIME[form], data
