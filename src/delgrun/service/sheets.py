"""Sheets of paper that leave the program. A new one is a function that makes its pages, and a line in `SHEETS`."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC
from typing import TYPE_CHECKING, Literal

import numpy as np

from delgrun.core.drawing.long_sheet import LongOnPaper, long_sheets
from delgrun.core.drawing.paper import Paper, Titles
from delgrun.core.drawing.scene import Page
from delgrun.core.drawing.section_sheet import section_sheets
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.level_table import level_stations
from delgrun.core.ground.along import ground_sections
from delgrun.core.units import System, spoken
from delgrun.exchange.drawing_forms import MIME, DrawingForm
from delgrun.service.case import Case
from delgrun.service.named import named_file
from delgrun.service.projects import Projects
from delgrun.service.results import of_design, of_ground, of_road, of_sections
from delgrun.service.section_figures import section_at
from delgrun.service.tables.kind import USUAL_APART_M, line_of
from delgrun.store import revisions

# More sections take minutes to draw, and fill hundreds of pages.
_MOST_SECTIONS = 2000


@dataclass(frozen=True, kw_only=True)
class SheetWish:
    """What is wanted of a sheet: of which line, from where to where (None: all of it), how far apart its figures or
    sections are [m] (None: as usual; sections where they are reported), on what paper, at a scale of 1 to how much,
    heights drawn how much higher, in which units.
    """

    slot: str
    from_m: float | None = None
    to_m: float | None = None
    interval_m: float | None = None
    paper: Paper = "A3"
    scale: float = 1000.0
    exaggeration: float = 10.0
    system: System = "metric"


@dataclass(frozen=True, kw_only=True)
class SheetKind:
    """One kind of sheet.

    Parameters
    ----------
    name : what it is called in addresses
    title : its name for people
    scale : that it has if none is wished for, 1 to so much
    exaggerated : whether heights may be drawn higher
    make : its pages, of a line with what stands on each
    """

    name: str
    title: str
    scale: float
    exaggerated: bool
    make: Callable[[Case, SheetWish, Titles], list[Page]]


def _long(case: Case, wish: SheetWish, titles: Titles) -> list[Page]:
    line, apart = line_of(case), wish.interval_m or USUAL_APART_M
    s, names = level_stations(line, of_road.stations(case), apart, critical=True)
    within = (s >= _or(wish.from_m, -np.inf)) & (s <= _or(wish.to_m, np.inf))
    s, critical = s[within], np.array([bool(name) for name in names])[within]
    across = ground_sections(of_ground.tin(case).value, of_road.centreline(case).value, s, of_road.BESIDE_M)
    return long_sheets(
        LongOnPaper(
            line=line, ground=of_road.long(case).value, bends=of_road.centreline(case).value.bends, at_m=s,
            ground_m=across.centre_level_m, critical=critical, interval_m=apart, paper=wish.paper,
            scale=wish.scale, exaggeration=wish.exaggeration,
            from_m=_or(wish.from_m, -np.inf), to_m=_or(wish.to_m, np.inf),
        ),
        titles,
    )  # fmt: skip


def _sections(case: Case, wish: SheetWish, titles: Titles) -> list[Page]:
    line, road = line_of(case), of_road.stretch(case)
    start = max(_or(wish.from_m, -np.inf), float(line.chainage_m[0]), road.from_m)
    end = min(_or(wish.to_m, np.inf), float(line.chainage_m[-1]), road.to_m)
    reported = [r.chainage_m for r in of_sections.reported_at(case) if start <= r.chainage_m <= end]
    count = len(reported) if wish.interval_m is None else (end - start) / wish.interval_m
    if not 0 <= count <= _MOST_SECTIONS or end < start:
        raise DesignInputError(
            "interval_m",
            "Between {a:chainage} and {b:chainage} there would be no section, or more than {most}: give another"
            " stretch, or a longer interval.",
            a=start, b=end, most=_MOST_SECTIONS,
        )  # fmt: skip
    inner = reported if wish.interval_m is None else of_road.stations(case).even(start, end, wish.interval_m)
    s = np.unique([start, *inner, end])
    across = of_design.ground_at(case, tuple(s.tolist())).value
    sections = [section_at(case, across, i, at) for i, at in enumerate(s.tolist())]
    return section_sheets(sections, wish.paper, wish.scale, titles)


def _or(value: float | None, other: float) -> float:
    return other if value is None else value


SHEETS: tuple[SheetKind, ...] = (
    SheetKind(name="long-section", title="Long section", scale=1000.0, exaggerated=True, make=_long),
    SheetKind(name="sections", title="Cross-sections", scale=200.0, exaggerated=False, make=_sections),
)
_BY_NAME = {s.name: s for s in SHEETS}
if TYPE_CHECKING:
    SheetName = str
else:
    SheetName = Literal[tuple(s.name for s in SHEETS)]


def _pages(projects: Projects, case: Case, name: str, wish: SheetWish) -> list[Page]:
    with spoken(wish.system, of_road.written(case)):
        return _BY_NAME[name].make(case, wish, _titles(projects, case, wish))


def _titles(projects: Projects, case: Case, wish: SheetWish) -> Titles:
    state = case.state
    with projects.database.session() as session:
        project = revisions.project_name(session, state.project_id)
        saved = revisions.saved_at(session, state.project_id, state.revision)
    line, road = state.lines[wish.slot], state.roads[case.road].value
    when = saved.replace(tzinfo=UTC).strftime("%Y-%m-%d %H:%M UTC")
    return Titles(project, f"{road.name}, line “{line.name}”, {line.status}", f"revision {state.revision}, {when}")


def told(projects: Projects, project_id: int, revision: int, name: str, wish: SheetWish) -> list[str]:
    """What each page shows, in order."""
    case = projects.case_of(projects.states.at(project_id, revision), wish.slot)
    return [page.name for page in _pages(projects, case, name, wish)]


def page(projects: Projects, project_id: int, revision: int, name: str, wish: SheetWish, number: int) -> bytes:
    """One page for the screen, as SVG; `number` from 1."""
    # The writers are imported when the first sheet is made: a server that is started again must be back soon.
    from delgrun.exchange import drawings

    case = projects.case_of(projects.states.at(project_id, revision), wish.slot)
    pages = _pages(projects, case, name, wish)
    return drawings.svg(pages[min(number, len(pages)) - 1])


def file(
    projects: Projects, project_id: int, revision: int, name: str, wish: SheetWish, form: DrawingForm
) -> tuple[str, str, bytes]:
    """All pages as a file: its name, its kind, its bytes. Several pages of SVG are a ZIP of them."""
    from delgrun.exchange import drawings

    case = projects.case_of(projects.states.at(project_id, revision), wish.slot)
    pages = _pages(projects, case, name, wish)
    called = named_file(projects, case.state, name, wish.slot)
    if form == "pdf":
        return f"{called}.pdf", MIME[form], drawings.pdf(pages, called)
    if form == "dxf":
        return f"{called}.dxf", MIME[form], drawings.dxf(pages)
    if len(pages) == 1:
        return f"{called}.svg", MIME[form], drawings.svg(pages[0])
    return f"{called}.zip", "application/zip", drawings.svgs(pages)
