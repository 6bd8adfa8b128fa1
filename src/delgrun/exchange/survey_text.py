"""Survey points from text columns."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import islice

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.survey.doubts import unlikely
from delgrun.core.survey.points import Survey
from delgrun.exchange.text_columns import SURVEY_WORDS, Layout, LineError, data_rows, detect, lines_of, parse_number

NEEDED = ("easting", "northing", "level")
_ERRORS_KEPT = 200
_ROWS_SHOWN = 12
# Numbers and codes are kept as far as this; whatever is longer was no code.
_LONGEST_TEXT = 60
_FEET = re.compile(r"(^|[^a-z])(ft|feet|foot|usft|sft|ftus)([^a-z]|$)", re.IGNORECASE)


@dataclass(frozen=True)
class SurveyText:
    """What a file holds under one layout: the points that could be read, and every line that could not."""

    survey: Survey
    errors: list[LineError]
    error_count: int
    codes: list[tuple[str, int]]
    #: (n,) line of the file of each point
    line: NDArray[np.int64]
    texts_cut: int = 0


@dataclass(frozen=True)
class SurveyLook:
    """How a file reads: the layout used, its heading and first rows, and the points, or why there are none."""

    layout: Layout
    titles: list[str]
    rows: list[tuple[int, list[str]]]
    line_count: int
    text: SurveyText | None
    problem: str | None


def look(data: bytes, layout: Layout | None) -> SurveyLook:
    """Read a file under a layout; what the layout leaves open is detected."""
    lines = lines_of(data)
    if not any(ln.strip() for ln in lines):
        raise DesignInputError("file", "The file is empty: choose the survey's text file.")
    if layout is None or not layout.roles:
        # Another delimiter makes other columns: what they hold is to be found again.
        layout = detect(lines, SURVEY_WORDS, layout.delimiter if layout else None)
    rows = list(islice(data_rows(lines, layout), _ROWS_SHOWN))
    plain = replace(layout, header=False)
    titles = next((row for _, row in data_rows(lines, plain)), []) if layout.header else []
    width = max([len(cells) for _, cells in rows] + [len(layout.roles), len(titles)])
    layout = replace(layout, roles=(*layout.roles, *["ignore"] * (width - len(layout.roles))))
    try:
        text, problem = read_survey(lines, layout), None
    except DesignInputError as e:
        text, problem = None, e.message
    return SurveyLook(layout, titles, rows, len(lines), text, problem)


def read(data: bytes, layout: Layout | None) -> SurveyText:
    """Points, breaklines and errors of a whole file; see `read_survey`."""
    lines = lines_of(data)
    return read_survey(lines, detect(lines, SURVEY_WORDS) if layout is None else layout)


def read_survey(lines: Sequence[str], layout: Layout) -> SurveyText:
    """Points, breaklines and errors; a bad line never loses the rest.

    Points with the same non-empty entry in the breakline column are joined in the order of the file.

    Raises
    ------
    DesignInputError
        The layout names no column for easting, northing or level, or one of them twice.
    """
    for role in NEEDED:
        if layout.roles.count(role) != 1:
            times = "no column" if role not in layout.roles else f"{layout.roles.count(role)} columns"
            raise DesignInputError("roles", f"There is {times} for {role}: give it exactly one.")
    _refuse_feet(lines, layout)
    at = {role: layout.roles.index(role) for role in layout.roles if role != "ignore"}
    xyz: list[tuple[float, float, float]] = []
    names: list[str] = []
    codes: list[str] = []
    strings: dict[str, list[int]] = {}
    errors: list[LineError] = []
    at_line: list[int] = []
    count = cut = 0
    wanted = [(role, at[role]) for role in NEEDED]
    name_at, code_at, line_at = at.get("number", -1), at.get("code", -1), at.get("breakline", -1)
    comma = layout.decimal_comma
    for number, row in data_rows(lines, layout):
        values = []
        for role, column in wanted:
            text = row[column] if column < len(row) else ""
            try:
                values.append(value := parse_number(text, comma))
                why = unlikely(role, value)
            except ValueError:
                why = f"“{text[:_LONGEST_TEXT]}” is not a number" if text else "is missing"
            if why:
                count += 1
                if len(errors) < _ERRORS_KEPT:
                    short = text[:_LONGEST_TEXT]
                    errors.append(LineError(number, role, short, f"Line {number}: {role} {why}."))
                break
        else:
            at_line.append(number)
        if len(values) < 3 or why:
            continue
        if 0 <= line_at < len(row) and row[line_at]:
            strings.setdefault(row[line_at], []).append(len(xyz))
        xyz.append((values[0], values[1], values[2]))
        name = row[name_at] if 0 <= name_at < len(row) else ""
        code = row[code_at] if 0 <= code_at < len(row) else ""
        cut += len(name) > _LONGEST_TEXT or len(code) > _LONGEST_TEXT
        names.append(name[:_LONGEST_TEXT])
        codes.append(code[:_LONGEST_TEXT])
    survey = Survey(
        np.array(xyz, dtype=np.float64).reshape(-1, 3),
        [np.array(s, dtype=np.int64) for s in strings.values() if len(s) > 1],
        np.array(names, dtype=np.str_),
        np.array(codes, dtype=np.str_),
    )
    usual = Counter(c for c in codes if c).most_common(50)
    return SurveyText(survey, errors, count, usual, np.array(at_line, dtype=np.int64), cut)


def _refuse_feet(lines: Sequence[str], layout: Layout) -> None:
    """Raise where a heading says that its figures are feet: taken for metres, a road would be three times as long."""
    if not layout.header:
        return
    number, titles = next(data_rows(lines, replace(layout, header=False)), (0, []))
    for title, role in zip(titles, layout.roles, strict=False):
        if role in NEEDED and _FEET.search(title):
            raise DesignInputError(
                "roles",
                f"Line {number}: the heading “{title[:_LONGEST_TEXT]}” says feet. Metres are read: convert the file to "
                "metres, or mend the heading if its figures are metres.",
            )
