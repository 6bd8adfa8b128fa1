"""Survey import: look first, accept later; nothing is stored before."""

from dataclasses import asdict

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tin import LARGEST_COORDINATE_M, build_tin
from delgrun.exchange.survey_text import NEEDED, SurveyText, read_survey
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
    out["suggested_longest_edge_m"] = _suggested_edge(xyz)
    out["doubts"] = _doubts(text)
    return out


def _titles(lines: list[str], layout: Layout) -> list[str]:
    if not layout.header:
        return []
    plain = Layout(layout.delimiter, False, layout.decimal_comma, layout.roles)
    return next((row for _, row in data_rows(lines, plain)), [])


def _suggested_edge(xyz: np.ndarray) -> float:  # type: ignore[type-arg]
    """Longest outer edge worth keeping: eight times the usual spacing of the points. [m]"""
    span = np.maximum(np.ptp(xyz[:, :2], axis=0), 1e-3)
    # Occupied area by a coarse grid, since a strip fills little of its box.
    cell = max(float(np.sqrt(span[0] * span[1] / len(xyz))) * 2, float(span.max()) / 2000)
    taken = len(np.unique(np.floor(xyz[:, :2] / cell), axis=0))
    spacing = float(np.sqrt(taken * cell * cell / len(xyz)))
    return float(5 * np.ceil(8 * spacing / 5))


def _doubts(text: SurveyText) -> list[str]:
    """What looks mistaken though it can be read."""
    xyz = text.survey.xyz
    out = []
    # A spike or two must not stand for the whole.
    low, middle, high = np.percentile(xyz, [2, 50, 98], axis=0)
    spread = high - low
    if spread[2] > max(spread[0], spread[1]):
        out.append("The levels differ by more than the plan does: is the level column an easting or northing?")
    elif spread[2] > 0.5 * min(spread[0], spread[1]) and abs(middle[2]) > 10 * max(spread[2], 1):
        out.append("The levels look like coordinates: check the columns for northing and level.")
    low, high = np.percentile(xyz[:, 2], [25, 75])
    reach = 6 * max(high - low, 1.0)
    far = int(((xyz[:, 2] < low - reach) | (xyz[:, 2] > high + reach)).sum())
    if far:
        out.append(f"{far} point{'s lie' if far > 1 else ' lies'} far above or below the rest.")
    return out


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
    return SurveyInput(
        survey=text.survey,
        file_name=file_name,
        file=data,
        left_out=text.error_count,
        longest_edge_m=longest_edge_m,
    )
