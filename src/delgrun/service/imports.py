"""Looking at a survey file: how it reads, and what is doubted; nothing is stored."""

from collections.abc import Callable
from dataclasses import asdict, replace
from typing import Any, BinaryIO

import numpy as np
import orjson

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.coordinates import Coordinates
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.drawn import centreline_samples
from delgrun.core.survey.doubts import beside, doubts, suggested_longest_edge_m
from delgrun.exchange import apart
from delgrun.exchange.plain import plain
from delgrun.exchange.readers import Reader, reader_of
from delgrun.exchange.survey_parts import Chosen
from delgrun.exchange.survey_text import NEEDED, SurveyLook, SurveyText
from delgrun.exchange.text_columns import Layout, data_rows, lines_of
from delgrun.service import coordinates as coords
from delgrun.service.wire import Json

ERRORS_SHOWN = 50
# Headings stand within the first of them.
_HEAD_BYTES = 20_000


def options_of(reader: Reader, layout: Json | None, parts: Json | None) -> Layout | Chosen | None:
    """What was chosen on screen: columns of a text, or parts of another file."""
    wrong = "parts" if reader.by == "columns" and parts else "layout" if reader.by == "parts" and layout else None
    if wrong:
        raise DesignInputError(wrong, f"This file is read as {reader.name}: choose its {reader.by}, not others.")
    if parts is not None:
        return Chosen({p["name"]: p["role"] for p in parts["roles"]}, parts["unit"])
    return None if layout is None else Layout(**{**layout, "roles": tuple(layout["roles"])})


def _alike(reader: Reader, seen: SurveyLook, kept: Json) -> Layout | Chosen | None:
    """How the last file was read, where this one is of the same make; None where it is of another."""
    if kept["reader"] != reader.name:
        return None
    if seen.layout is None:
        names = {p.name for p in seen.parts}
        roles = {p["name"]: p["role"] for p in kept["parts"]["roles"] if p["name"] in names}
        return Chosen(roles, kept["parts"]["unit"]) if roles else None
    layout = Layout(**{**kept["layout"], "roles": tuple(kept["layout"]["roles"])})
    same = (layout.delimiter, layout.header, len(layout.roles), kept["titles"])
    return layout if same == (seen.layout.delimiter, seen.layout.header, len(seen.layout.roles), seen.titles) else None


def read_as(reader: Reader, file: BinaryIO, layout: Json | None, parts: Json | None) -> str:
    """How a file was read, as it is kept for the next one, with its headings."""
    titles: list[str] = []
    if layout is not None:
        own = Layout(**{**layout, "roles": tuple(layout["roles"])})
        file.seek(0)
        head = file.read(2 * _HEAD_BYTES)
        rows = lines_of(head[: head.find(b"\n", _HEAD_BYTES) + 1 or len(head)])
        titles = plain(next((row for _, row in data_rows(rows, replace(own, header=False))), [])) if own.header else []
    return orjson.dumps({"reader": reader.name, "layout": layout, "parts": parts, "titles": titles}).decode()


def survey_reader(file_name: str, file: BinaryIO) -> Reader:
    """The reader of a survey file, which stands at its start again; raises DesignInputError."""
    head = file.read(4096)
    file.seek(0)
    return reader_of("survey", file_name, head)


def preview(
    file_name: str,
    file: BinaryIO,
    layout: Json | None,
    centreline: Centreline | None = None,
    parts: Json | None = None,
    remembered: str = "",
    coordinates: Coordinates | None = None,
    gone: Callable[[], bool] = apart.nobody_leaves,
) -> Json:
    """How a file reads under a layout, or under the detected one: columns, first rows, points, errors, doubts.

    Of a large file a part is looked at (`share`), and the number of points is what that lets expect.

    `centreline` is the project's, where it has one: points that lie nowhere near it are doubted. `remembered` is how
    the project's last file was read: one of the same make is read alike, unless something else was chosen. `gone` tells
    that nobody waits for the answer any more.
    """
    reader = survey_reader(file_name, file)
    options = options_of(reader, layout, parts)
    seen: SurveyLook = apart.look(reader, file, options, gone)
    as_before = False
    if options is None and remembered:
        alike = _alike(reader, seen, orjson.loads(remembered))
        if alike is not None:
            seen = apart.look(reader, file, alike, gone)
            as_before = True
    out: dict[str, Any] = {
        "reader": reader.name,
        "layout": None if seen.layout is None else {**asdict(seen.layout), "roles": list(seen.layout.roles)},
        "parts": [asdict(p) for p in seen.parts],
        "unit": seen.unit,
        "crs": seen.said.crs,
        "crs_name": seen.said.name,
        "vertical": seen.said.vertical,
        "as_before": as_before,
        "roles": ["ignore", *NEEDED, "number", "code", "breakline"],
        "titles": seen.titles,
        "rows": [{"line": number, "cells": cells} for number, cells in seen.rows],
        "line_count": seen.line_count,
        "share": seen.share,
        "problem": seen.problem,
        "points": 0,
        "breaklines": 0,
        "error_count": 0,
        "errors": [],
        "codes": [],
        "box": None,
        "suggested_longest_edge_m": 0.0,
        "doubts": [],
    }
    clash = coords.clash(coordinates or Coordinates(), seen.said)
    if clash:
        return {**out, "problem": clash}
    if seen.text is None:
        return out
    xyz = seen.text.survey.xyz
    out |= {
        "points": round(len(xyz) / seen.share),
        "breaklines": len(seen.text.survey.breaklines),
        "error_count": seen.text.error_count,
        "errors": [asdict(e) for e in seen.text.errors[:ERRORS_SHOWN]],
        "codes": codes_of(seen.text),
    }
    if len(xyz) < 3:
        why = f"Only {len(xyz)} points could be read with these columns; a ground model needs 3."
        if seen.text.error_count and all(e.field == "level" for e in seen.text.errors):
            why += " The figures of the level column are no levels: is it an easting or a northing?"
        return {**out, "problem": why}
    out["box"] = np.concatenate([xyz.min(axis=0), xyz.max(axis=0)]).tolist()
    out["suggested_longest_edge_m"] = suggested_longest_edge_m(xyz)
    try:
        found = doubts(xyz, seen.text.line, seen.text.survey.breaklines, seen.text.counted) + seen.doubts
    except DesignInputError as e:
        return {**out, "problem": e.message}
    found += _of_heading(seen)
    if centreline is not None:
        found += beside(xyz, np.column_stack(centreline_samples(centreline)[1:3]))
    if seen.text.texts_cut:
        found.append(f"{seen.text.texts_cut} numbers or codes are longer than 60 characters and were cut to that.")
    out["doubts"] = found
    return out


def codes_of(text: SurveyText) -> list[Json]:
    """The codes seen, the commonest first."""
    return [{"code": code, "count": count} for code, count in text.codes]


def _of_heading(seen: SurveyLook) -> list[str]:
    """What a heading leaves in doubt."""
    out = []
    if seen.unit == "foot":
        out.append(
            "Read as international feet (0.3048 m). Survey feet are longer by 2 mm in a kilometre: choose those above "
            "if the survey is in them."
        )
    plain = [t.strip().lower() for t in seen.titles]
    if "x" in plain and "y" in plain and plain.index("y") < plain.index("x"):
        out.append("The heading has Y before X. In some grids X is the northing: check both columns against a map.")
    return out
