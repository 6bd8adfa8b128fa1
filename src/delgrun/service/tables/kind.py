"""What a table is: its rows made of a case, on screen, on the clipboard and as files."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.inputs import LINE
from delgrun.core.units import System
from delgrun.exchange.tables import Cell, Column, Sheet, as_xlsx
from delgrun.service.case import Case
from delgrun.service.errors import NotReady
from delgrun.service.state import MAIN_ROAD

# How far apart places of tables and sheets are where nothing is said. [m]
USUAL_APART_M = 20.0
# What may be said of a table: how far apart its places are, whether at critical points too, how far to the side, and
# that it is about a grade line.
Option = Literal["interval", "critical", "offsets", "line"]
Made = tuple[Sequence[Column], list[list[Cell]]]


@dataclass(frozen=True, kw_only=True)
class TableWish:
    """What is wanted of a table: how far apart (None: as usual; of sections, where they are reported), at critical
    points too or not, how far to the right, of which line or road, [m]; and what it is in.
    """

    interval_m: float | None = None
    critical: bool = True
    offset_m: tuple[float, ...] = (0.0,)
    slot: str | None = None
    road: str = MAIN_ROAD
    system: System = "metric"

    @property
    def apart_m(self) -> float:
        return self.interval_m or USUAL_APART_M


def plain_workbook(_case: Case, _wish: TableWish, sheet: Sheet) -> bytes:
    """A workbook with the table alone; it is in the wish's units already."""
    return as_xlsx([sheet])


@dataclass(frozen=True, kw_only=True)
class TableKind:
    """One table. A new one is a file with one of these, and a line in `TABLES`.

    Parameters
    ----------
    name : what it is called in addresses
    title : its name for people, and of its sheet
    options : what of a wish it heeds
    make : its columns and rows, in SI
    workbook : the workbook of its rows, given in the wish's units
    """

    name: str
    title: str
    make: Callable[[Case, TableWish], Made]
    options: tuple[Option, ...] = ()
    workbook: Callable[[Case, TableWish, Sheet], bytes] = plain_workbook


def metres(heading: str, digits: int = 3) -> Column:
    return Column(heading, digits, "plan")


STATION = (Column("chainage"), metres("chainage"))
PLACE = (metres("easting"), metres("northing"), Column("bearing deg", 6))


def line_of(case: Case) -> GradeLine:
    """The grade line of a table that is about one."""
    if case.grade_line is None:
        raise NotReady(LINE.name, "There is no grade line yet: make one first.")
    return case.grade_line
