"""Centreline IPs with radii from a text table."""

from collections.abc import Sequence
from typing import Any, BinaryIO

from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from delgrun.exchange.alignments import Alignment
from delgrun.exchange.text_columns import CENTRELINE_WORDS, UNITS, Layout, data_rows, detect, lines_of, parse_number

_FIELDS = {role: f"{role}_m" for role in ("easting", "northing", "radius", "transition_in", "transition_out")}


def look(file: BinaryIO, layout: Layout | None) -> list[Alignment]:
    """A short table is read whole to look at it."""
    return read(file, layout)


def read(file: BinaryIO, layout: Layout | None, _: object = None) -> list[Alignment]:
    """The one line of a whole file; its layout is always detected. See `read_centreline`."""
    return [Alignment("table", 0.0, tuple(read_centreline(lines_of(file.read()))))]


def read_centreline(lines: Sequence[str]) -> list[CentrelineIp]:
    """IPs in the order of the file; an empty radius or transition counts as 0.

    Where one column gives transitions, it is for both.

    Raises
    ------
    DesignInputError
        A line that cannot be read: the table is short, so it is taken whole or not at all.
    """
    layout = detect(lines, CENTRELINE_WORDS)
    unit = UNITS[layout.unit]
    out = []
    for number, row in data_rows(lines, layout):
        values: dict[str, float] = {}
        for column, role in enumerate(layout.roles):
            if role not in _FIELDS:
                continue
            text = row[column] if column < len(row) else ""
            if role not in ("easting", "northing") and not text:
                continue
            try:
                values[role] = parse_number(text, layout.decimal_comma) * unit
            except ValueError as e:
                raise DesignInputError(
                    role, f"Line {number}: {role} “{text}” is not a number. Nothing was imported: mend it, try again."
                ) from e
        if not {"easting", "northing"} <= values.keys():
            raise DesignInputError("roles", f"Line {number} has no easting and northing.")
        if "transition_out" not in layout.roles and "transition_in" in values:
            values["transition_out"] = values["transition_in"]
        ip: dict[str, Any] = {_FIELDS[role]: value for role, value in values.items()}
        out.append(CentrelineIp(**ip))
    return out
