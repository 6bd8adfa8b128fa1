"""Survey points from text columns."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.survey.points import Survey
from delgrun.exchange.text_columns import Layout, LineError, data_rows, parse_number

NEEDED = ("easting", "northing", "level")
_ERRORS_KEPT = 200


@dataclass(frozen=True)
class SurveyText:
    """What a file holds under one layout: the points that could be read, and every line that could not."""

    survey: Survey
    errors: list[LineError]
    error_count: int
    codes: list[tuple[str, int]]


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
    at = {role: layout.roles.index(role) for role in layout.roles if role != "ignore"}
    xyz: list[tuple[float, float, float]] = []
    names: list[str] = []
    codes: list[str] = []
    strings: dict[str, list[int]] = {}
    errors: list[LineError] = []
    count = 0
    wanted = [(role, at[role]) for role in NEEDED]
    name_at, code_at, line_at = at.get("number", -1), at.get("code", -1), at.get("breakline", -1)
    comma = layout.decimal_comma
    for number, row in data_rows(lines, layout):
        values = []
        for role, column in wanted:
            text = row[column] if column < len(row) else ""
            try:
                values.append(parse_number(text, comma))
            except ValueError:
                count += 1
                if len(errors) < _ERRORS_KEPT:
                    why = "is missing" if not text else f"“{text}” is not a number"
                    errors.append(LineError(number, role, text, f"Line {number}: {role} {why}."))
                break
        if len(values) < 3:
            continue
        if 0 <= line_at < len(row) and row[line_at]:
            strings.setdefault(row[line_at], []).append(len(xyz))
        xyz.append((values[0], values[1], values[2]))
        names.append(row[name_at] if 0 <= name_at < len(row) else "")
        codes.append(row[code_at] if 0 <= code_at < len(row) else "")
    survey = Survey(
        np.array(xyz, dtype=np.float64).reshape(-1, 3),
        [np.array(s, dtype=np.int64) for s in strings.values() if len(s) > 1],
        np.array(names, dtype=np.str_),
        np.array(codes, dtype=np.str_),
    )
    return SurveyText(survey, errors, count, Counter(c for c in codes if c).most_common(50))
