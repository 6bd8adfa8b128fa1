"""Every format that can be read. A new one is a file with `look` and `read`, and a line in `READERS`."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import PurePath
from typing import Any, Literal

from delgrun.exchange import centreline_text, survey_text
from delgrun.exchange.text_columns import Layout

Makes = Literal["survey", "centreline"]


@dataclass(frozen=True, kw_only=True)
class Reader:
    """One format.

    Parameters
    ----------
    makes : which input it brings
    suffixes : of file names, lower case; the first reader of an input also takes files without a known one
    says : what the file holds, for people
    look : a first look under options, or detected ones; nothing is kept of it
    read : the whole under options
    """

    name: str
    makes: Makes
    suffixes: tuple[str, ...]
    says: str
    look: Callable[[bytes, Layout | None], Any]
    read: Callable[[bytes, Layout | None], Any]


READERS: tuple[Reader, ...] = (
    Reader(
        name="survey as text columns",
        makes="survey",
        suffixes=(".csv", ".txt", ".xyz", ".asc", ".pts", ".dat"),
        says="One point a line: easting, northing and level in any order, perhaps number, code and breakline.",
        look=survey_text.look,
        read=survey_text.read,
    ),
    Reader(
        name="centreline as a text table",
        makes="centreline",
        suffixes=(".csv", ".txt"),
        says="One IP a line: easting, northing and radius (empty at the ends).",
        look=centreline_text.look,
        read=centreline_text.read,
    ),
)


def reader_of(makes: Makes, file_name: str) -> Reader:
    """The reader for a file of this name; where none knows it, the first for the input."""
    suffix = PurePath(file_name).suffix.lower()
    of = [r for r in READERS if r.makes == makes]
    return next((r for r in of if suffix in r.suffixes), of[0])
