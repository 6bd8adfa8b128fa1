"""Every format that can be read. A new one is a file and an entry here.

A `Format` says by its `contents` what its files hold, of several kinds; a `Reader` has its own `look` and `read`.
"""

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from pathlib import PurePath
from typing import Any, BinaryIO, Literal

from delgrun.core.errors import DesignInputError
from delgrun.exchange import centreline_text, lazily, polylines, profiles, survey_parts, survey_text, utilities
from delgrun.exchange.contents import Contents

Makes = Literal["survey", "centreline", "polyline", "profile", "utility", "picture"]


@dataclass(frozen=True, kw_only=True)
class Reader:
    """One format.

    Parameters
    ----------
    makes : which input it brings
    suffixes : of file names, lower case; the first reader of an input also takes files without a known one
    says : what the file holds, for people
    look : a first look under options, or detected ones; nothing is kept of it
    read : the whole under options, perhaps with a `Reading`
    knows : whether a file begins as this format does, whatever it is called
    by : what its options say: which column holds what, or which part is read as what
    table : whether it reads a table of text, and so the same table in a workbook too
    """

    name: str
    makes: Makes
    suffixes: tuple[str, ...]
    says: str
    look: Callable[[BinaryIO, Any], Any]
    read: Callable[..., Any]
    knows: Callable[[bytes], bool] = lambda _: False
    by: Literal["columns", "parts"] = "columns"
    table: bool = False


@dataclass(frozen=True, kw_only=True)
class Format:
    """A format whose files hold several kinds of things.

    Parameters
    ----------
    module : of this package, whose `contents(file)` says what a file holds
    brings : what is taken up of it, and what that is, for people
    """

    name: str
    suffixes: tuple[str, ...]
    knows: Callable[[bytes], bool]
    module: str
    brings: Mapping[Makes, str]


def _begins(pattern: bytes) -> Callable[[bytes], bool]:
    """Whether a file's first bytes match; no library is needed to tell."""
    compiled = re.compile(pattern, re.IGNORECASE)
    return lambda head: compiled.match(head) is not None


_READERS: tuple[Reader, ...] = (
    Reader(
        name="text columns",
        makes="survey",
        suffixes=(".csv", ".txt", ".xyz", ".asc", ".pts", ".dat"),
        says="One point a line: easting, northing and level in any order, perhaps number, code and breakline.",
        look=survey_text.look,
        read=survey_text.read,
        table=True,
    ),
    Reader(
        name="ESRI ASCII grid",
        makes="survey",
        suffixes=(".asc", ".grd"),
        says="A level for each cell, rows from the north; the points are the middles of the cells.",
        look=lazily.look("grids"),
        read=lazily.read("grids"),
        knows=_begins(rb"\s*ncols\s+\d"),
        by="parts",
    ),
    Reader(
        name="GeoTIFF",
        makes="survey",
        suffixes=(".tif", ".tiff"),
        says="A level for each cell in the first band, on a projected grid.",
        look=lazily.look("grids"),
        read=lazily.read("grids"),
        knows=_begins(rb"II[*+]\0|MM\0[*+]"),
        by="parts",
    ),
    Reader(
        name="point cloud (LAS, LAZ)",
        makes="survey",
        suffixes=(".las", ".laz"),
        says="Points by class: the ground's, or others as chosen.",
        look=lazily.look("clouds"),
        read=lazily.read("clouds"),
        knows=_begins(rb"LASF"),
        by="parts",
    ),
    Reader(
        name="centreline as a text table",
        makes="centreline",
        suffixes=(".csv", ".txt"),
        says="One IP a line: easting, northing and radius (empty at the ends).",
        look=centreline_text.look,
        read=centreline_text.read,
        table=True,
    ),
    Reader(
        name="line as a text table",
        makes="polyline",
        suffixes=(".csv", ".txt"),
        says="One vertex a line: easting and northing.",
        look=polylines.text,
        read=polylines.text,
        table=True,
    ),
    Reader(
        name="utilities as a text table",
        makes="utility",
        suffixes=(".csv", ".txt"),
        says="One vertex a line: easting, northing and level, and the name of its utility.",
        look=utilities.text,
        read=utilities.text,
        table=True,
    ),
    Reader(
        name="profile as a text table",
        makes="profile",
        suffixes=(".csv", ".txt"),
        says="One row a point: chainage and level, perhaps the length of a vertical curve.",
        look=profiles.text,
        read=profiles.text,
        table=True,
    ),
    Reader(
        name="picture from the air",
        makes="picture",
        suffixes=(".tif", ".tiff", ".jpg", ".jpeg", ".png"),
        says="A GeoTIFF north up, or a JPEG, PNG or TIFF with its world file (.jgw, .pgw, .tfw, .wld).",
        look=lazily.read("pictures"),
        read=lazily.read("pictures"),
        knows=_begins(rb"II[*+]\0|MM\0[*+]|\xff\xd8\xff|\x89PNG"),
    ),
)


# Files that hold several kinds of things; what each says of itself, for everyone who takes some of it up.
_FILES: tuple[Format, ...] = (
    Format(
        name="DXF",
        suffixes=(".dxf",),
        knows=_begins(rb"AutoCAD Binary DXF|\s*0\s+SECTION|\s*999\s"),
        module="dxf",
        brings={
            "survey": "Points, lines and polylines (as breaklines) and 3D faces, layer by layer.",
            "polyline": "Polylines, lines, arcs and splines, by layer.",
            "utility": "Lines and polylines in space, by layer.",
            "profile": "Polylines in profile (chainage, level) or in space.",
        },
    ),
    Format(
        name="LandXML",
        suffixes=(".xml", ".landxml"),
        knows=_begins(rb"[^\0]{0,4000}<LandXML"),
        module="landxml",
        brings={
            "survey": "Points, breaklines and surfaces.",
            "centreline": "Lines, curves and clothoids of each alignment.",
            "polyline": "Vertices of irregular lines, alignments and plan features.",
            "profile": "Designed profiles with their curves, and profiles of the ground.",
        },
    ),
    Format(
        name="GeoJSON",
        suffixes=(".geojson", ".json"),
        knows=_begins(rb"\s*\{"),
        module="geojson",
        brings={
            "polyline": "Line strings on a projected grid.",
            "utility": "Line strings with levels on a projected grid.",
        },
    ),
)


def _whole(take: Callable[[Contents], Any]) -> tuple[Callable[..., Any], Callable[..., Any]]:
    """Look and read of what is so little, or wants no options, that it is read whole to be looked at."""
    return (lambda contents, *_: take(contents),) * 2


# Who takes up what of a file: what that is called, and its look and its read.
_TAKEN: dict[Makes, tuple[str, tuple[Callable[..., Any], Callable[..., Any]]]] = {
    "survey": ("", (survey_parts.look_of, survey_parts.read_of)),
    "centreline": ("alignments of ", _whole(lambda contents: contents.alignments())),
    "polyline": ("line of ", _whole(polylines.of)),
    "utility": ("utilities of ", _whole(utilities.of)),
    "profile": ("profile of ", _whole(profiles.of)),
}


def _taken_of(file: Format) -> Iterator[Reader]:
    """The readers of a format, one for each kind of thing that it brings."""
    for makes, says in file.brings.items():
        prefix, (look, read) = _TAKEN[makes]
        yield Reader(
            name=prefix + file.name,
            makes=makes,
            suffixes=file.suffixes,
            says=says,
            look=lazily.opened(file.module, look),
            read=lazily.opened(file.module, read),
            knows=file.knows,
            by="parts" if makes == "survey" else "columns",
        )


def _in_workbook(of: Reader) -> Reader:
    """The reader of a table, of the same in a sheet of a workbook."""
    return replace(
        of,
        name=f"{of.name}, in a workbook",
        suffixes=(".xlsx",),
        says=f"{of.says} The first sheet with numbers is read.",
        look=lazily.workbook_look(of.look),
        read=lazily.workbook_read(of.read),
        knows=_begins(rb"PK\x03\x04"),
    )


READERS: tuple[Reader, ...] = (
    *_READERS, *(r for file in _FILES for r in _taken_of(file)), *(_in_workbook(r) for r in _READERS if r.table),
)  # fmt: skip


# What a file of another kind begins with, and what to do with it.
_OTHERS = (
    (b"\x1f\x8b", "This is a packed file (gzip): unpack it first."),
    (b"%PDF", "This is a PDF: ask for the survey as text columns, DXF or LandXML."),
    (b"\x89PNG", "This is a picture: a survey comes as text columns, a grid, a cloud, DXF or LandXML."),
    (b"\xff\xd8\xff", "This is a picture: a survey comes as text columns, a grid, a cloud, DXF or LandXML."),
    (b"AC10", "This is a DWG drawing: save it as DXF."),
)


def reader_of(makes: Makes, file_name: str, head: bytes = b"") -> Reader:
    """The reader for a file that begins so; else for its name; where none knows it, the first for the input.

    Raises
    ------
    DesignInputError
        The file is of a kind that can't be read; it says what to do.
    """
    of = [r for r in READERS if r.makes == makes]
    for reader in of:
        if reader.knows(head):
            return reader
    for begins, says in _OTHERS:
        if head.startswith(begins):
            raise DesignInputError("file", says)
    suffix = PurePath(file_name).suffix.lower()
    return next((r for r in of if suffix in r.suffixes), of[0])
