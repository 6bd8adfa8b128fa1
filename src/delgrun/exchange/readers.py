"""Every format that can be read. A new one is a file with `look` and `read`, and a line in `READERS`."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import PurePath
from typing import Any, BinaryIO, Literal

from delgrun.core.errors import DesignInputError
from delgrun.exchange import centreline_text, lazily, polylines, profiles, survey_text, utilities

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
        name="DXF",
        makes="survey",
        suffixes=(".dxf",),
        says="Points, lines and polylines (as breaklines) and 3D faces, layer by layer.",
        look=lazily.look("dxf"),
        read=lazily.read("dxf"),
        knows=_begins(rb"AutoCAD Binary DXF|\s*0\s+SECTION|\s*999\s"),
        by="parts",
    ),
    Reader(
        name="LandXML",
        makes="survey",
        suffixes=(".xml", ".landxml"),
        says="Points, breaklines and surfaces.",
        look=lazily.look("landxml"),
        read=lazily.read("landxml"),
        knows=_begins(rb"[^\0]{0,4000}<LandXML"),
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
        name="alignments of LandXML",
        makes="centreline",
        suffixes=(".xml", ".landxml"),
        says="Lines, curves and clothoids of each alignment.",
        look=lazily.look("landxml_alignments"),
        read=lazily.read("landxml_alignments"),
        knows=_begins(rb"[^\0]{0,4000}<LandXML"),
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
        name="line of GeoJSON",
        makes="polyline",
        suffixes=(".geojson", ".json"),
        says="Line strings on a projected grid.",
        look=polylines.geojson,
        read=polylines.geojson,
        knows=_begins(rb"\s*\{"),
    ),
    Reader(
        name="line of DXF",
        makes="polyline",
        suffixes=(".dxf",),
        says="Polylines, lines, arcs and splines, by layer.",
        look=polylines.dxf,
        read=polylines.dxf,
        knows=_begins(rb"AutoCAD Binary DXF|\s*0\s+SECTION|\s*999\s"),
    ),
    Reader(
        name="line of LandXML",
        makes="polyline",
        suffixes=(".xml", ".landxml"),
        says="Vertices of irregular lines, alignments and plan features.",
        look=polylines.landxml,
        read=polylines.landxml,
        knows=_begins(rb"[^\0]{0,4000}<LandXML"),
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
        name="utilities of GeoJSON",
        makes="utility",
        suffixes=(".geojson", ".json"),
        says="Line strings with levels on a projected grid.",
        look=utilities.geojson,
        read=utilities.geojson,
        knows=_begins(rb"\s*\{"),
    ),
    Reader(
        name="utilities of DXF",
        makes="utility",
        suffixes=(".dxf",),
        says="Lines and polylines in space, by layer.",
        look=utilities.dxf,
        read=utilities.dxf,
        knows=_begins(rb"AutoCAD Binary DXF|\s*0\s+SECTION|\s*999\s"),
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
        name="profile of DXF",
        makes="profile",
        suffixes=(".dxf",),
        says="Polylines in profile (chainage, level) or in space.",
        look=profiles.dxf,
        read=profiles.dxf,
        knows=_begins(rb"AutoCAD Binary DXF|\s*0\s+SECTION|\s*999\s"),
    ),
    Reader(
        name="profile of LandXML",
        makes="profile",
        suffixes=(".xml", ".landxml"),
        says="Designed profiles with their curves, and profiles of the ground.",
        look=profiles.landxml,
        read=profiles.landxml,
        knows=_begins(rb"[^\0]{0,4000}<LandXML"),
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


READERS: tuple[Reader, ...] = (*_READERS, *(_in_workbook(r) for r in _READERS if r.table))


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
