"""Tables as files: comma-separated text, and a workbook with numbers that are numbers."""

import csv
import io
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from delgrun.core.units import DIMENSIONS, System, spoken, worded
from delgrun.exchange.text_columns import NUMBER

Cell = str | float | None
Format = Literal["csv", "tsv", "xlsx"]
MIME: dict[str, str] = {
    "csv": "text/csv; charset=utf-8",
    "tsv": "text/tab-separated-values; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
# What a spreadsheet runs begins with one of these.
_RUN = ("=", "+", "-", "@", "\t", "\r", "\n")


@dataclass(frozen=True)
class Column:
    """A column of a table: its heading, how many digits its numbers have (None: text), and what they are.

    `dimension` is one of `core/units.py`; empty, the numbers stand as they are.
    """

    heading: str
    digits: int | None = None
    dimension: str = ""


def in_units(columns: Sequence[Column], system: System) -> list[Column]:
    """The same columns with headings in the words and units of a system."""
    with spoken(system):
        return [replace(c, heading=f"{worded(c.heading)} {_unit(c, system)}".rstrip()) for c in columns]


def _unit(column: Column, system: System) -> str:
    return DIMENSIONS[column.dimension].unit_in(system) if column.dimension else ""


def converted(columns: Sequence[Column], rows: Iterable[Sequence[Cell]], system: System) -> list[list[Cell]]:
    """Rows of SI as they stand in a table of a system."""
    factors = [DIMENSIONS[c.dimension].factor(system) if c.dimension else 1.0 for c in columns]
    return [
        [cell * f if isinstance(cell, float) else cell for cell, f in zip(row, factors, strict=True)] for row in rows
    ]


@dataclass(frozen=True)
class Sheet:
    """A table with its title."""

    title: str
    columns: Sequence[Column]
    rows: Sequence[Sequence[Cell]]

    def shown_in(self, system: System) -> "Sheet":
        """It, its SI numbers and its headings in the units of a system."""
        return Sheet(self.title, in_units(self.columns, system), converted(self.columns, self.rows, system))


def as_text(columns: Sequence[Column], rows: Iterable[Sequence[Cell]], between: str) -> bytes:
    """RFC 4180 with commas, or tabs, between the cells, in UTF-8.

    Decimal points, as many digits as each column has; empty where there is no value.
    """
    out = io.StringIO()
    writer = csv.writer(out, delimiter=between)
    # A heading may be somebody's own word, as the name of a material.
    writer.writerow(no_formulas([c.heading for c in columns]))
    for row in rows:
        writer.writerow(no_formulas([_text(cell, c.digits) for cell, c in zip(row, columns, strict=True)]))
    return out.getvalue().encode()


def no_formulas(cells: Iterable[str]) -> list[str]:
    """Cells of a text that a spreadsheet takes as they are: one that would be a formula has an apostrophe before it.

    Numbers stay numbers. Source: OWASP, CSV injection: what begins with =, +, -, @, a tab or the end of a line is run.
    """
    return [f"'{cell}" if cell[:1] in _RUN and not NUMBER.fullmatch(cell) else cell for cell in cells]


def as_typed(cell: str) -> str:
    """A cell without the apostrophe that `no_formulas` puts before it."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _RUN else cell


def as_xlsx(sheets: Iterable[Sheet]) -> bytes:
    """Sheets with headings kept in sight; numbers with all their digits, shown with those of their column."""
    from xlsxwriter import Workbook

    out = io.BytesIO()
    # Text stays text, whatever it begins with.
    with Workbook(out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}) as book:
        head = book.add_format({"bold": True, "bottom": 1})
        shown: dict[int | None, Any] = {}
        for of in sheets:
            sheet = book.add_worksheet(_sheet_name(of.title))
            for k, column in enumerate(of.columns):
                if column.digits not in shown:
                    shown[column.digits] = book.add_format({"num_format": number_format(column.digits)})
                sheet.write_string(0, k, column.heading, head)
                sheet.set_column(k, k, max(len(column.heading), 12) + 2)
            sheet.freeze_panes(1, 0)
            for r, row in enumerate(of.rows, 1):
                for k, (cell, column) in enumerate(zip(row, of.columns, strict=True)):
                    if isinstance(cell, str):
                        sheet.write_string(r, k, cell)
                    elif cell is not None and math.isfinite(cell):
                        sheet.write_number(r, k, cell, shown[column.digits])
    return out.getvalue()


def table(form: Format, sheets: Sequence[Sheet]) -> bytes:
    """Tables as a file of a form; a text holds the first of them."""
    if form == "xlsx":
        return as_xlsx(sheets)
    return as_text(sheets[0].columns, sheets[0].rows, "\t" if form == "tsv" else ",")


def _text(cell: Cell, digits: int | None) -> str:
    if cell is None or isinstance(cell, str):
        return cell or ""
    if not math.isfinite(cell):
        return ""
    text = f"{cell:.{digits or 0}f}"
    # Minus nothing is nothing.
    return text.lstrip("-") if float(text) == 0 else text


def number_format(digits: int | None) -> str:
    """How a workbook shows numbers with so many digits."""
    return "0." + "0" * digits if digits else "0"


def _sheet_name(title: str) -> str:
    """What a sheet may be called: up to 31 characters, none of those kept for formulas."""
    return "".join(" " if ch in "[]:*?/\\'" else ch for ch in title)[:31].strip() or "Table"
