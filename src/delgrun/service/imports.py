"""Survey import: look first, accept later; nothing is stored before."""

from dataclasses import asdict

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tin import LARGEST_COORDINATE_M, build_tin
from delgrun.core.survey.doubts import doubts, suggested_longest_edge_m
from delgrun.exchange.survey_text import NEEDED, read_survey
from delgrun.exchange.text_columns import SURVEY_WORDS, Layout, data_rows, detect, lines_of
from delgrun.service.wire import Json
from delgrun.store.inputs import SurveyInput

_PREVIEW_ROWS = 12
_ERRORS_SHOWN = 50


def _layout_of(row: Json) -> Layout:
    return Layout(row["delimiter"], row["header"], row["decimal_comma"], tuple(row["roles"]))


def preview(data: bytes, layout: Json | None) -> Json:
    """How a file reads under a layout, or under the detected one: columns, first rows, points, errors."""
    lines = lines_of(data)
    if not any(ln.strip() for ln in lines):
        raise DesignInputError("file", "The file is empty: choose the survey's text file.")
    if layout is None:
        used = detect(lines, SURVEY_WORDS)
    elif not layout["roles"]:
        # Another delimiter makes other columns: what they hold is to be found again.
        used = detect(lines, SURVEY_WORDS, layout["delimiter"])
    else:
        used = _layout_of(layout)
    rows = []
    for number, row in data_rows(lines, used):
        rows.append({"line": number, "cells": row})
        if len(rows) == _PREVIEW_ROWS:
            break
    titles = _titles(lines, used)
    width = max([len(r["cells"]) for r in rows] + [len(used.roles), len(titles)])  # type: ignore[arg-type]
    used = Layout(
        used.delimiter, used.header, used.decimal_comma, (*used.roles, *["ignore"] * (width - len(used.roles)))
    )
    out: Json = {
        "layout": {**asdict(used), "roles": list(used.roles)},
        "roles": ["ignore", *NEEDED, "number", "code", "breakline"],
        "titles": titles,
        "rows": rows,
        "line_count": len(lines),
        "problem": None,
        "points": 0,
        "breaklines": 0,
        "error_count": 0,
        "errors": [],
        "codes": [],
        "box": None,
        "suggested_longest_edge_m": 0.0,
        "doubts": [],
    }
    try:
        text = read_survey(lines, used)
    except DesignInputError as e:
        return {**out, "problem": e.message}
    xyz = text.survey.xyz
    out |= {
        "points": len(xyz),
        "breaklines": len(text.survey.breaklines),
        "error_count": text.error_count,
        "errors": [asdict(e) for e in text.errors[:_ERRORS_SHOWN]],
        "codes": [list(c) for c in text.codes],
    }
    if (np.abs(xyz) > LARGEST_COORDINATE_M).any():
        return {**out, "problem": "Some coordinates lie beyond 100 000 km: check the columns."}
    if len(xyz) < 3:
        return {**out, "problem": f"Only {len(xyz)} points could be read with these columns; a ground model needs 3."}
    out["box"] = np.concatenate([xyz.min(axis=0), xyz.max(axis=0)]).tolist()
    out["suggested_longest_edge_m"] = suggested_longest_edge_m(xyz)
    out["doubts"] = doubts(xyz)
    return out


def _titles(lines: list[str], layout: Layout) -> list[str]:
    if not layout.header:
        return []
    plain = Layout(layout.delimiter, False, layout.decimal_comma, layout.roles)
    return next((row for _, row in data_rows(lines, plain)), [])


def accepted(file_name: str, data: bytes, layout: Json | None, longest_edge_m: float) -> SurveyInput:
    """The readable points and the file itself as a survey to store.

    Raises
    ------
    DesignInputError
        No surface can be made of the points.
    """
    lines = lines_of(data)
    text = read_survey(lines, detect(lines, SURVEY_WORDS) if layout is None else _layout_of(layout))
    tin = build_tin(text.survey.xyz, text.survey.breaklines, longest_edge_m)
    if not len(tin.triangles):
        raise DesignInputError("longest_edge_m", "With this longest edge no triangle is left: use a larger one, or 0.")
    return SurveyInput.of(text.survey, file_name, data, text.error_count, longest_edge_m)
