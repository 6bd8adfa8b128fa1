"""Tables of workbooks (XLSX) as the text columns that readers of tables take: one sheet, a line for each row."""

import io
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import date, time
from typing import Any, BinaryIO
from zipfile import BadZipFile

import openpyxl
from openpyxl.utils.exceptions import InvalidFileException

from delgrun.core.errors import DesignInputError
from delgrun.exchange.survey_text import PLAIN, Reading, SurveyLook

# A look reads so many rows of a long sheet.
_LOOKED_AT = 40_000
# A sheet with fewer numbers in its first rows is no table of them.
_FIRST_ROWS, _LEAST_NUMBERS = 30, 2
_BREAKS = str.maketrans("\t\r\n", "   ")


def look_with(of: Callable[[BinaryIO, Any], Any]) -> Callable[[BinaryIO, Any], Any]:
    """The look of a reader of text tables, at a workbook."""

    def look(file: BinaryIO, options: Any) -> Any:
        text, share, said = as_text(file, _LOOKED_AT)
        found = of(text, options)
        if isinstance(found, SurveyLook):
            return replace(found, share=share * found.share, doubts=[*found.doubts, *said])
        return found

    return look


def read_with(of: Callable[..., Any]) -> Callable[..., Any]:
    """The same for reading the whole."""

    def read(file: BinaryIO, options: Any = None, how: Reading = PLAIN) -> Any:
        return of(as_text(file)[0], options, how)

    return read


def as_text(file: BinaryIO, most: int | None = None) -> tuple[BinaryIO, float, list[str]]:
    """The first sheet with numbers, tabs between its cells; the share of it that is; and which one it is of several.

    Formulas are the values that were kept with them; a row stands on the line of its number.

    Raises
    ------
    DesignInputError
        It is no workbook, or no sheet of it has numbers.
    """
    try:
        book = openpyxl.load_workbook(file, read_only=True, data_only=True, keep_links=False)
        sheets = [s for s in book.worksheets if s.sheet_state == "visible"]
        for sheet in sheets:
            # What a file says of its own extent may be wrong.
            sheet.reset_dimensions()
            if sum(isinstance(c, float | int) for row in _rows(sheet, _FIRST_ROWS) for c in row) < _LEAST_NUMBERS:
                continue
            out = io.StringIO()
            count = 0
            for row in _rows(sheet, most):
                out.write("\t".join(map(_cell, row)) + "\n")
                count += 1
            left = 0 if most is None or count < most else sum(1 for _ in sheet.iter_rows(min_row=most + 1))
            said = [] if len(sheets) == 1 else [f"The workbook has {len(sheets)} sheets: “{sheet.title}” is read."]
            return io.BytesIO(out.getvalue().encode()), count / max(count + left, 1), said
    except (BadZipFile, InvalidFileException, KeyError, ValueError, TypeError, AttributeError, IndexError) as e:
        raise DesignInputError(
            "file", f"This packed file is no workbook that can be read ({e}): save the sheet as XLSX again, or as CSV."
        ) from e
    raise DesignInputError(
        "file",
        "No sheet of this workbook has numbers in its first rows: put the table into a sheet of its own. Formulas "
        "whose values were never worked out count as none.",
    )


def _rows(sheet: Any, most: int | None) -> Iterator[tuple[Any, ...]]:
    return sheet.iter_rows(max_row=most, values_only=True)  # type: ignore[no-any-return]


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, float):
        return repr(value)
    if isinstance(value, date | time):
        return value.isoformat()
    return str(value).translate(_BREAKS)
